-- name: add_passage
-- Something got through.
INSERT INTO passage (plan_id, kind, count, way, run, at_m, on_day, note, by_account)
VALUES (%(plan_id)s, %(kind)s, %(count)s, %(way)s, %(run)s, %(at_m)s, %(on_day)s, %(note)s, %(by_account)s);

-- name: list_passages
-- What got through, newest first.
SELECT p.id, p.kind, p.count, p.way, p.run, p.at_m, p.on_day, p.note, coalesce(a.name, 'somebody who left') AS by_name
FROM passage p
LEFT JOIN account a ON a.id = p.by_account
WHERE p.plan_id = %(plan_id)s
ORDER BY p.on_day DESC, p.id DESC
LIMIT %(most)s;

-- name: get_passage
-- One of them.
SELECT p.id, p.kind, p.count, p.way, p.run, p.at_m, p.on_day, p.note, coalesce(a.name, 'somebody who left') AS by_name
FROM passage p
LEFT JOIN account a ON a.id = p.by_account
WHERE p.plan_id = %(plan_id)s AND p.id = %(id)s;
