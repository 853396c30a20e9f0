-- What a device sends until an answer comes counts once: by the key it gives to what it sends.
-- depends: 0035_defect_once

ALTER TABLE reading RENAME COLUMN once TO idempotency_key;
ALTER TABLE revision RENAME COLUMN once TO idempotency_key;
ALTER TABLE step RENAME COLUMN once TO idempotency_key;
ALTER TABLE task_event RENAME COLUMN once TO idempotency_key;
ALTER TABLE trace_event RENAME COLUMN once TO idempotency_key;
ALTER TABLE shed_use RENAME COLUMN once TO idempotency_key;
ALTER TABLE photo RENAME COLUMN once TO idempotency_key;
ALTER TABLE defect RENAME COLUMN once TO idempotency_key;
