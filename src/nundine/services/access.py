"""Rights: who may do what, of which noun, where. Routes name the right alone; whatever a role may do stands
in its row."""

from __future__ import annotations

from collections.abc import Collection, Iterable
from dataclasses import dataclass

from nundine.services.errors import NotAllowed, NotFound
from nundine.store.account import Account, AccountRole, Role
from nundine.store.belonging import Site, here, key_here

READ, EDIT, PLAN, SWAP, SWAP_TODAY = "read", "edit", "plan", "swap", "swap today"
ANSWER, REPORT, IMPORT, MANAGE = "answer", "report", "import", "manage"
REOPEN, ADMINISTER, WHY, PERMIT, STOCK = "reopen", "administer", "why", "permit", "stock"
RIGHTS = {
    READ: "read weeks, work and people",
    EDIT: "edit weeks, build, publish and close them",
    PLAN: "make and change work orders",
    SWAP: "give seats and change places on any day",
    SWAP_TODAY: "give seats and change places in a running week, for today",
    ANSWER: "answer for operations, draw windows",
    REPORT: "report progress",
    IMPORT: "bring files in",
    MANAGE: "change the set-up",
    REOPEN: "open a closed week again",
    ADMINISTER: "look after accounts, read the audit",
    WHY: "know why somebody is away",
    PERMIT: "give and refuse permits",
    STOCK: "keep parts and what lies where",
}
"""Each right, and what it lets somebody do."""


@dataclass(frozen=True)
class Grant:
    """A role that an account has: its rights, everywhere (`areas` None) or in some areas alone."""

    role: str
    rights: frozenset[str]
    areas: frozenset[str] | None


def grants(account: Account) -> tuple[Grant, ...]:
    """The roles of an account in their order; looked up once for the object."""
    held: tuple[Grant, ...] | None = account.__dict__.get("_grants")
    if held is None:
        rows = AccountRole.select(AccountRole, Role).join(Role).where(AccountRole.account == account)
        held = grant(account, rows)
    return held


def grant(account: Account, rows: Iterable[AccountRole]) -> tuple[Grant, ...]:
    """Keep with an account the roles that were read of it, each with its row; gives them in their order."""
    # sorted here: by the database it would take a temporary file, which a full disk has no room for
    held = tuple(
        Grant(r.role.name, frozenset(r.role.rights), None if r.areas is None else frozenset(r.areas))
        for r in sorted(rows, key=lambda r: r.role.place)
    )
    account.__dict__["_grants"] = held
    return held


def look_up(account: Account) -> None:
    """All that is asked of the database before an account may do something, at once; it stands with the
    object, so that nothing is asked where there is no connection."""
    grants(account)
    account.__dict__["_sees_site"] = _sees_site(account)


def rights_of(account: Account) -> frozenset[str]:
    """All that an account may do somewhere."""
    return frozenset().union(*(g.rights for g in grants(account)))


def roles_of(account: Account) -> list[str]:
    """Names of the roles of an account, the one with which it begins first."""
    return [g.role for g in grants(account)]


def where(account: Account, right: str) -> frozenset[str] | None:
    """The areas in which an account has a right; None = everywhere."""
    having = [g.areas for g in grants(account) if right in g.rights]
    if any(areas is None for areas in having):
        return None
    return frozenset().union(*(areas for areas in having if areas is not None))


def may(account: Account, right: str, area: str | None = None) -> bool:
    """Whether an account has a right: in an area, or somewhere at all."""
    limits = where(account, right)
    if limits is None:
        return True
    return area in limits if area is not None else right in rights_of(account)


def sites_of(account: Account) -> list[Site]:
    """The sites that an account sees, in their order."""
    rows = Site.select().order_by(Site.id)
    return list(rows if account.sites is None else rows.where(Site.key.in_(account.sites or [""])))


def require_site(account: Account) -> None:
    """Raises NotFound where the account does not see the site that it is about, as where there is none."""
    known: bool | None = account.__dict__.get("_sees_site")
    if not (_sees_site(account) if known is None else known):
        raise NotFound("site", "There is no such site.")


def _sees_site(account: Account) -> bool:
    if here() is None:
        return True
    key = key_here()
    return key is not None and (account.sites is None or key in account.sites)


def may_know_why(account: Account) -> bool:
    """Whether the account may see why somebody is away; others see that they are."""
    return may(account, WHY)


def areas_of(account: Account) -> list[str]:
    """Areas that the account looks after, which its weeks show first; none = all."""
    return list(account.areas or ())


def require(account: Account, *rights: str) -> None:
    """Raises NotAllowed if the account has none of the rights, naming the roles that have one."""
    if not rights_of(account) & set(rights):
        able = [r.name for r in Role.select().order_by(Role.place) if set(r.rights) & set(rights)]
        mine = " and ".join(roles_of(account)) or "account without a role"
        raise NotAllowed("role", f"A {mine} may not do this; it takes one of: {', '.join(able)}.")


def require_in(account: Account, right: str, areas: Collection[str | None]) -> None:
    """Raises NotAllowed if the account does not have the right in one of these areas."""
    limits = where(account, right)
    if limits is None:
        return
    outside = sorted({a or "no area" for a in areas if a not in limits})
    if outside:
        mine = f"You may do this in {', '.join(sorted(limits))}" if limits else "No area was given to you yet"
        raise NotAllowed("area", f"{mine}; this lies in {', '.join(outside)}.")
