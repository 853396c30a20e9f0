-- A search goes by kV alone where the tester shows no amps; a switch that is worked,
-- strands that are read one by one and fence on no plan are steps.
-- depends: 0032_push

ALTER TABLE trace_search ADD COLUMN shows_amps boolean NOT NULL DEFAULT true;

ALTER TABLE trace_event
    DROP CONSTRAINT trace_event_what,
    ADD CONSTRAINT trace_event_what CHECK (what IN
        ('checked', 'unit', 'lead', 'read', 'rods', 'look', 'skip', 'switch', 'strands', 'spur', 'found', 'sweep'));
