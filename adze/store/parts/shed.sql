-- name: list_items
-- What a farm has in its shed.
SELECT part, quantity, note FROM shed_item WHERE farm_id = %(farm_id)s ORDER BY part;

-- name: set_item
-- So much of a part, whatever was there before.
INSERT INTO shed_item (farm_id, part, quantity, note)
VALUES (%(farm_id)s, %(part)s, %(quantity)s, %(note)s)
ON CONFLICT (farm_id, part) DO UPDATE SET quantity = excluded.quantity, note = excluded.note;

-- name: add_to_item
-- So much more of a part: what comes back from a fence.
INSERT INTO shed_item (farm_id, part, quantity)
VALUES (%(farm_id)s, %(part)s, %(quantity)s)
ON CONFLICT (farm_id, part) DO UPDATE SET quantity = shed_item.quantity + excluded.quantity;

-- name: remove_item
-- None of a part is left.
DELETE FROM shed_item WHERE farm_id = %(farm_id)s AND part = %(part)s;

-- name: list_reserved
-- What the plans of a farm that stand take from its shed.
SELECT p.id AS plan_id, p.name AS plan_name, t.value ->> 'part' AS part,
       (t.value ->> 'quantity')::double precision AS quantity
FROM plan p
JOIN revision r ON r.plan_id = p.id AND r.number = p.current
CROSS JOIN LATERAL jsonb_array_elements(r.document -> 'from_shed') t
WHERE p.farm_id = %(farm_id)s AND p.removed_at IS NULL AND jsonb_typeof(r.document -> 'from_shed') = 'array'
ORDER BY p.id;

-- name: take_item
-- So much of a part leaves the shed, where there is so much; what is left of it.
UPDATE shed_item SET quantity = quantity - %(quantity)s
WHERE farm_id = %(farm_id)s AND part = %(part)s AND quantity >= %(quantity)s
RETURNING part, quantity, note;

-- name: add_use
-- What a mend took from the shed.
INSERT INTO shed_use (plan_id, part, quantity, what_for, by_account, idempotency_key)
VALUES (%(plan_id)s, %(part)s, %(quantity)s, %(what_for)s, %(by_account)s, nullif(%(idempotency_key)s, ''));

-- name: count_uses_by_key
-- How many uses came with a token: none or one.
SELECT count(*) AS uses FROM shed_use WHERE plan_id = %(plan_id)s AND idempotency_key = %(idempotency_key)s;

-- name: list_uses
-- What mends of a plan took from the shed, newest first.
SELECT u.part, u.quantity, u.what_for, coalesce(a.name, 'somebody who left') AS by_name, u.at
FROM shed_use u
LEFT JOIN account a ON a.id = u.by_account
WHERE u.plan_id = %(plan_id)s
ORDER BY u.id DESC
LIMIT %(most)s;
