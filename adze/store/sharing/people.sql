-- name: list_people
-- Who may do what with a farm, its own account first.
SELECT a.id, a.name, a.login, x.role, a.id = f.account_id AS is_founder
FROM access x
JOIN account a ON a.id = x.account_id
JOIN farm f ON f.id = x.farm_id
WHERE x.farm_id = %(farm_id)s
ORDER BY is_founder DESC, x.role DESC, a.name;

-- name: get_shared_farm
-- A farm that an account may do something with.
SELECT f.id, f.name, x.role
FROM farm f
JOIN access x ON x.farm_id = f.id AND x.account_id = %(account_id)s
WHERE f.id = %(farm_id)s AND f.removed_at IS NULL;

-- name: set_role
-- Let somebody in to a farm, or change their role.
INSERT INTO member (farm_id, account_id, role)
VALUES (%(farm_id)s, %(account_id)s, %(role)s)
ON CONFLICT (farm_id, account_id) DO UPDATE SET role = excluded.role;

-- name: remove_member
-- Somebody may do nothing with a farm any more.
DELETE FROM member WHERE farm_id = %(farm_id)s AND account_id = %(account_id)s;

-- name: add_invitation
-- A link that lets one person in.
INSERT INTO invitation (token_hash, farm_id, role, made_by, ends_at)
VALUES (%(token_hash)s, %(farm_id)s, %(role)s, %(made_by)s, now() + %(days)s * interval '1 day');

-- name: list_invitations
-- The links of a farm that nobody has used yet and that still let in.
SELECT id, role, ends_at
FROM invitation
WHERE farm_id = %(farm_id)s AND taken_at IS NULL AND ends_at > now()
ORDER BY id;

-- name: withdraw_invitation
-- A link that lets nobody in any more.
DELETE FROM invitation WHERE id = %(invitation_id)s AND farm_id = %(farm_id)s AND taken_at IS NULL;

-- name: get_invitation
-- What a link stands for, while the farm is there.
SELECT i.id, i.farm_id, f.name AS farm_name, f.account_id AS founder, i.role, a.name AS made_by_name,
       i.taken_at IS NOT NULL AS is_used, i.ends_at <= now() AS is_over
FROM invitation i
JOIN farm f ON f.id = i.farm_id AND f.removed_at IS NULL
JOIN account a ON a.id = i.made_by
WHERE i.token_hash = %(token_hash)s;

-- name: use_invitation
-- A link is used once.
UPDATE invitation SET taken_by = %(account_id)s, taken_at = now()
WHERE id = %(invitation_id)s AND taken_at IS NULL AND ends_at > now();
