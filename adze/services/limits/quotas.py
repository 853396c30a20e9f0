"""How much an account may keep: said on its pages before it is met, refused in words when it is."""

from dataclasses import dataclass

from adze.store.accounts import quotas
from adze.store.accounts.quotas import Usage
from adze.store.connection import BeginTransaction, Connection
from adze.store.errors import StoreError

MOST_PLANS = 2_000
MOST_BYTES = 2_000_000_000
_NEAR = 0.8
CHECK_EVERY = 20  # versions of a plan: summing them all at each save would cost more than saving


class OverQuota(StoreError):
    """An account keeps as much as it may."""


def check_room_for_plan(connection: Connection, *, farm_id: int) -> None:
    """Refuse another plan where the farm's account holds as much as it may. Raises OverQuota, Missing."""
    used = quotas.get_usage(connection, account_id=quotas.get_farm_holder(connection, farm_id=farm_id))
    if used.plans >= MOST_PLANS:
        raise OverQuota(f"The farm's account holds {used.plans:,} plans, the most allowed. Delete some first.")
    _check_bytes(used)


def check_room(connection: Connection, *, plan_id: int) -> None:
    """Refuse more for a plan where its farm's account keeps as much as it may. Raises OverQuota, Missing."""
    _check_bytes(quotas.get_usage(connection, account_id=quotas.get_holder(connection, plan_id=plan_id)))


def _check_bytes(used: Usage) -> None:
    if used.bytes >= MOST_BYTES:
        raise OverQuota(
            f"The farm's account keeps {used.bytes / 1e9:.1f} GB, the most allowed. Delete pictures or plans first."
        )


@dataclass(frozen=True)
class UsageView:
    """What an account keeps against what it may, and whether it is near that."""

    plans: int
    megabytes: float
    is_near: bool
    most_plans: int = MOST_PLANS
    most_megabytes: float = MOST_BYTES / 1e6


def _is_near(used: Usage) -> bool:
    return used.plans >= _NEAR * MOST_PLANS or used.bytes >= _NEAR * MOST_BYTES


def usage_view(begin_transaction: BeginTransaction, account_id: int) -> UsageView:
    """What an account keeps against what it may."""
    with begin_transaction() as connection:
        used = quotas.get_usage(connection, account_id=account_id)
    return UsageView(used.plans, used.bytes / 1e6, _is_near(used))
