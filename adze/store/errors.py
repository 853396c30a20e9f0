"""The database's complaints as our own."""

from collections.abc import Iterator
from contextlib import contextmanager

import psycopg
import psycopg_pool


class StoreError(Exception):
    """Something the store cannot do; the message is for the person."""


class NameTaken(StoreError):
    """A name that must stand once stands already."""


class RefusedByStore(StoreError):
    """A value outside what the store keeps."""


class Missing(StoreError):
    """What is asked for is not there, or not this account's."""


class NotAllowed(StoreError):
    """What one may look at but not do."""


class StoreAway(StoreError):
    """The database does not answer just now."""

    def __init__(self) -> None:
        super().__init__("It will be back; nothing that was saved is lost. Try again in a few seconds.")


class StoreFull(StoreError):
    """The database has no room for more."""

    def __init__(self) -> None:
        super().__init__("Nothing of it was saved, and nothing else is lost. Whoever runs this Adze must make room.")


_TAKEN = {
    "account_login_key": "That sign-in name is taken; choose another.",
    "passkey_credential_id_key": "That passkey is kept already.",
    "farm_name_key": "You have a farm of that name already; choose another.",
}
_REFUSED = {
    "account_login_shape": "A sign-in name has 3 to 80 characters.",
    "account_name_length": "A name has 1 to 80 characters.",
    "farm_name_length": "A farm's name has 1 to 80 characters.",
    "farm_currency_length": "Money has at most 6 letters or signs, such as EUR or £.",
    "plan_name_length": "A plan's name has 1 to 80 characters.",
    "reading_kv_range": "kV: a reading lies between 0 and 20.",
    "reading_amps_range": "Amps: a reading lies between 0 and 500.",
    "reading_at_range": "Distance: must be 0 or more.",
    "reading_season_known": "Season: dry, usual or wet.",
    "reading_note_length": "Note: at most 300 characters.",
    "earth_test_kv_range": "kV: a reading lies between 0 and 20.",
    "earth_test_peg_range": "Peg: 0.3 to 200 m from the last rod.",
    "earth_test_season_known": "Season: dry, usual or wet.",
    "earth_test_note_length": "Note: at most 300 characters.",
    "stray_reading_volts_range": "Volts: a reading lies between 0 and 1,000.",
    "stray_reading_season_known": "Season: dry, usual or wet.",
    "stray_reading_note_length": "Note: at most 300 characters.",
}


@contextmanager
def own_errors() -> Iterator[None]:
    """Turn a violated constraint into a StoreError by its name, and what no column can hold into Refused."""
    try:
        yield
    except (psycopg.errors.DiskFull, psycopg.errors.OutOfMemory) as error:
        raise StoreFull from error
    except (psycopg.OperationalError, psycopg_pool.PoolTimeout, psycopg_pool.PoolClosed) as error:
        raise StoreAway from error
    except psycopg.errors.IntegrityError as error:
        name = error.diag.constraint_name or ""
        if name in _TAKEN:
            raise NameTaken(_TAKEN[name]) from error
        if name in _REFUSED:
            raise RefusedByStore(_REFUSED[name]) from error
        raise
    except psycopg.DataError as error:
        raise RefusedByStore(
            "A text or a figure in it cannot be kept: take out odd characters and try again."
        ) from error
