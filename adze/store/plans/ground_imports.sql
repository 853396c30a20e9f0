-- name: forget_imports
-- Drop what earlier files of a plan brought.
DELETE FROM ground_import WHERE plan_id = %(plan_id)s;

-- name: add_import
-- Keep what a file brought until it is taken.
INSERT INTO ground_import (plan_id, name, brought, made_by)
VALUES (%(plan_id)s, %(name)s, %(brought)s, %(made_by)s)
RETURNING id;

-- name: get_import
-- What a file brought, by its plan.
SELECT id, name, brought FROM ground_import WHERE id = %(import_id)s AND plan_id = %(plan_id)s;
