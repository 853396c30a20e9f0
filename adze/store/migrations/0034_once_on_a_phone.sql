-- Parts used and photos taken without signal are sent until an answer comes: each counts once.
-- depends: 0033_trace_switches

ALTER TABLE shed_use
    ADD COLUMN once text,
    ADD CONSTRAINT shed_use_once_length CHECK (length(once) <= 60),
    ADD CONSTRAINT shed_use_once UNIQUE (plan_id, once);

ALTER TABLE photo
    ADD COLUMN once text,
    ADD CONSTRAINT photo_token_length CHECK (length(once) <= 60),
    ADD CONSTRAINT photo_token_once UNIQUE (plan_id, once);
