"""The role that the application signs in to its database as: it owns what is in it, and nothing else."""

from urllib.parse import quote, urlsplit, urlunsplit

import psycopg
from psycopg import sql

ROLE = "adze_app"
# What an earlier start made as the cluster's own role becomes the application's. Sequences go with their tables.
_HAND_OVER = """
SELECT format('ALTER TABLE %s OWNER TO adze_app', oid::regclass)
FROM pg_class
WHERE relnamespace = 'public'::regnamespace AND relkind IN ('r', 'p', 'v') AND relowner <> 'adze_app'::regrole
UNION ALL
SELECT format('ALTER ROUTINE %s OWNER TO adze_app', oid::regprocedure)
FROM pg_proc
WHERE pronamespace = 'public'::regnamespace AND proowner <> 'adze_app'::regrole
UNION ALL
SELECT format('ALTER TYPE %s OWNER TO adze_app', t.oid::regtype)
FROM pg_type t
LEFT JOIN pg_class c ON c.oid = t.typrelid
WHERE t.typnamespace = 'public'::regnamespace AND t.typowner <> 'adze_app'::regrole
  AND t.typelem = 0 AND (t.typtype = 'e' OR c.relkind = 'c')
"""


def ensure_role(url: str, password: str) -> str:
    """The URL of a database for the application's role, which is made, and given all that is in it.

    `url` is the database's for a superuser. The role is none: it may neither make databases nor roles.
    """
    parts = urlsplit(url)
    role, name = sql.Identifier(ROLE), sql.Identifier(parts.path.lstrip("/"))
    with psycopg.connect(url) as connection:
        if not connection.execute("SELECT 1 FROM pg_roles WHERE rolname = %s", (ROLE,)).fetchone():
            connection.execute(sql.SQL("CREATE ROLE {}").format(role))
        rights = "LOGIN NOSUPERUSER NOCREATEDB NOCREATEROLE NOREPLICATION PASSWORD {}"
        connection.execute(sql.SQL("ALTER ROLE {} " + rights).format(role, sql.Literal(password)))
        connection.execute(sql.SQL("ALTER DATABASE {} OWNER TO {}").format(name, role))
        connection.execute(sql.SQL("ALTER SCHEMA public OWNER TO {}").format(role))
        for (statement,) in connection.execute(_HAND_OVER).fetchall():
            connection.execute(statement)
    host = parts.netloc.rpartition("@")[2]
    return urlunsplit(parts._replace(netloc=f"{ROLE}:{quote(password, safe='')}@{host}"))
