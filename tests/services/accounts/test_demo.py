"""The demo: what is computed of its farms is shipped, and an account has all of them or is not made."""

import dataclasses

import pytest

from adze.demo import load
from adze.demo.farms import DEMO_FARMS
from adze.services.accounts.accounts import Caller
from adze.store.connection import Store


def figures(value: object) -> list[object]:
    """Every value in nested dataclasses and tuples, in order."""
    if dataclasses.is_dataclass(value):
        return [x for field in dataclasses.fields(value) for x in figures(getattr(value, field.name))]
    if isinstance(value, tuple | list):
        return [x for part in value for x in figures(part)]
    return [value]


@pytest.mark.parametrize("number", range(len(DEMO_FARMS)))
def test_what_is_shipped_is_what_the_program_computes(number: int) -> None:
    shipped, computed = figures(load.known()[number]), figures(load.computed(DEMO_FARMS[number]))
    assert len(shipped) == len(computed)
    for one, other in zip(shipped, computed, strict=True):
        assert one == (pytest.approx(other, rel=1e-6) if isinstance(other, float) else other)


def test_an_account_that_cannot_have_all_its_farms_is_not_made(store: Store, monkeypatch: pytest.MonkeyPatch) -> None:
    def count() -> int:
        with store.begin_transaction() as connection:
            row = connection.execute("SELECT count(*) FROM account WHERE is_demo").fetchone()
        return int(row[0]) if row else 0

    def fail(*_: object, **__: object) -> None:
        raise TimeoutError

    before = count()
    monkeypatch.setattr(load, "add_reading", fail)
    with pytest.raises(TimeoutError):
        load.open_demo(store.begin_transaction, Caller("", ""))
    assert count() == before
