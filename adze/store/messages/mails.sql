-- name: add_mail
-- A mail to be sent.
INSERT INTO mail (to_mail, subject, body) VALUES (%(to_mail)s, %(subject)s, %(body)s) RETURNING id;

-- name: get_mail
-- A mail that is not sent yet.
SELECT id, to_mail, subject, body, made_at FROM mail WHERE id = %(mail_id)s;

-- name: list_mails
-- The mails that are not sent, newest first.
SELECT id, to_mail, subject, body, made_at FROM mail ORDER BY id DESC LIMIT %(most)s;

-- name: remove_mail
-- A mail that is sent is kept no longer.
DELETE FROM mail WHERE id = %(mail_id)s;

-- name: forget_mails
-- Mails that nobody took within a day, and links that are over.
WITH gone AS (DELETE FROM mail_link WHERE ends_at < now())
DELETE FROM mail WHERE made_at < now() - interval '1 day';

-- name: add_link
-- What the link in a mail stands for; an earlier one of the kind stands for nothing any more.
WITH earlier AS (DELETE FROM mail_link WHERE account_id = %(account_id)s AND kind = %(kind)s)
INSERT INTO mail_link (token_hash, account_id, kind, mail, ends_at)
VALUES (%(token_hash)s, %(account_id)s, %(kind)s, %(mail)s, now() + %(hours)s * interval '1 hour');

-- name: get_link
-- What the link in a mail stands for, while it does.
SELECT l.account_id, l.mail, a.login, a.name
FROM mail_link l
JOIN account a ON a.id = l.account_id
WHERE l.token_hash = %(token_hash)s AND l.kind = %(kind)s AND l.ends_at > now();

-- name: use_link
-- A link is used once.
DELETE FROM mail_link WHERE token_hash = %(token_hash)s AND ends_at > now();

-- name: change_mail
-- The address of an account, confirmed.
UPDATE account SET mail = %(mail)s WHERE id = %(account_id)s;

-- name: get_address
-- The confirmed address of a sign-in name, if it has one.
SELECT id AS account_id, mail, login, name FROM account
WHERE login = %(login)s AND mail IS NOT NULL AND NOT is_demo AND NOT is_guest;

-- name: get_own_address
-- The confirmed address of an account.
SELECT id AS account_id, coalesce(mail, '') AS mail, login, name FROM account WHERE id = %(account_id)s;
