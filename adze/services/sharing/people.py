"""Sharing a farm: who may do what, invited by a link that is used once, expires, and can be taken back."""

import secrets
from dataclasses import dataclass
from enum import IntEnum

from adze.services.limits.tokens import digest_of
from adze.store.connection import BeginTransaction
from adze.store.errors import Missing, NotAllowed
from adze.store.sharing import look_links, people
from adze.store.sharing.look_links import LinkRow, PlanName
from adze.store.sharing.people import Invitation, OpenInvitation, Person, SharedFarm

LONGEST_DAYS = 90


class PlanRole(IntEnum):
    """What somebody may do with a farm and its plans; each role may what those before it may."""

    READER = 1
    CREW = 2
    EDITOR = 3
    OWNER = 4


ROLE_WORDS = {
    PlanRole.READER: "looks at everything",
    PlanRole.CREW: "sees everything, and logs readings and earth tests",
    PlanRole.EDITOR: "changes plans",
    PlanRole.OWNER: "changes plans and who may see the farm",
}
MAY_WORDS = {1: "look", 2: "look and log", 3: "change plans", 4: "do everything"}
_MAY = {
    PlanRole.CREW: "log on it",
    PlanRole.EDITOR: "change it",
    PlanRole.OWNER: "say who is on the farm, rename it or take it off",
}


def require(role: int, wanted: PlanRole) -> None:
    """Refuse who may look but not do what is wanted. Raises NotAllowed."""
    if role < wanted:
        raise NotAllowed(f"You may look at this farm, but not {_MAY[wanted]}. Ask its owner.")


@dataclass(frozen=True)
class PeopleView:
    """The people of a farm, its open invitations, and the links that show one of its plans."""

    farm: SharedFarm
    people: tuple[Person, ...]
    invitations: tuple[OpenInvitation, ...]
    plans: tuple[PlanName, ...]
    links: tuple[LinkRow, ...]


def farm_for(begin_transaction: BeginTransaction, *, farm_id: int, account_id: int, role: PlanRole) -> SharedFarm:
    """A farm, for an account that has the role on it. Raises Missing, NotAllowed."""
    with begin_transaction() as connection:
        farm = people.get_shared_farm(connection, farm_id=farm_id, account_id=account_id)
    if farm is None:
        raise Missing("That farm is not among yours.")
    require(farm.role, role)
    return farm


def people_view(begin_transaction: BeginTransaction, farm: SharedFarm) -> PeopleView:
    """Everybody on a farm."""
    with begin_transaction() as connection:
        return PeopleView(
            farm,
            people.list_people(connection, farm_id=farm.id),
            people.list_invitations(connection, farm_id=farm.id),
            look_links.list_plan_names(connection, farm_id=farm.id),
            look_links.list_look_links(connection, farm_id=farm.id),
        )


def invite(begin_transaction: BeginTransaction, farm: SharedFarm, *, made_by: int, role: PlanRole, days: int) -> str:
    """A link's token, which is kept only as a hash: it is shown once. Raises ValueError."""
    if not 1 <= days <= LONGEST_DAYS:
        raise ValueError(f"Days: an invitation lasts 1 to {LONGEST_DAYS} days.")
    token = secrets.token_urlsafe(24)
    with begin_transaction() as connection:
        people.add_invitation(
            connection, token_hash=digest_of(token), farm_id=farm.id, role=role, made_by=made_by, days=days
        )
    return token


def invitation_of(begin_transaction: BeginTransaction, token: str) -> Invitation:
    """What a link stands for. Raises Missing with why it lets nobody in."""
    with begin_transaction() as connection:
        found = people.get_invitation(connection, token_hash=digest_of(token))
    if found is None:
        raise Missing("That invitation is wrong or was cancelled. Ask for another.")
    if found.is_used:
        raise Missing("That invitation has been used. Each lets in one person; ask for another.")
    if found.is_over:
        raise Missing("That invitation has expired. Ask for another.")
    return found


def join(begin_transaction: BeginTransaction, token: str, *, account_id: int) -> int:
    """Come in by a link; the farm's id. A higher role that one has already stays. Raises Missing."""
    found = invitation_of(begin_transaction, token)
    with begin_transaction() as connection:
        known = people.get_shared_farm(connection, farm_id=found.farm_id, account_id=account_id)
        if known and known.role >= found.role:
            return found.farm_id
        if not people.use_invitation(connection, invitation_id=found.id, account_id=account_id):
            raise Missing("That invitation has been used. Each lets in one person; ask for another.")
        people.set_role(connection, farm_id=found.farm_id, account_id=account_id, role=found.role)
    return found.farm_id


def _founder_stays(begin_transaction: BeginTransaction, farm: SharedFarm, account_id: int) -> None:
    with begin_transaction() as connection:
        rows = people.list_people(connection, farm_id=farm.id)
    person = next((row for row in rows if row.id == account_id), None)
    if person is None:
        raise Missing("That person is not on this farm.")
    if person.is_founder:
        raise ValueError(f"{person.name} holds this farm and stays its owner.")


def change_role(begin_transaction: BeginTransaction, farm: SharedFarm, *, account_id: int, role: PlanRole) -> None:
    """Another role for somebody. Raises Missing, ValueError for the founder."""
    _founder_stays(begin_transaction, farm, account_id)
    with begin_transaction() as connection:
        people.set_role(connection, farm_id=farm.id, account_id=account_id, role=role)


def take_off(begin_transaction: BeginTransaction, farm: SharedFarm, *, account_id: int) -> None:
    """Take somebody off a farm, at once. Raises Missing, ValueError for the founder."""
    _founder_stays(begin_transaction, farm, account_id)
    with begin_transaction() as connection:
        people.remove_member(connection, farm_id=farm.id, account_id=account_id)


def withdraw(begin_transaction: BeginTransaction, farm: SharedFarm, *, invitation_id: int) -> None:
    """Take a link back."""
    with begin_transaction() as connection:
        people.withdraw_invitation(connection, invitation_id=invitation_id, farm_id=farm.id)
