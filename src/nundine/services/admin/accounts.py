"""Accounts: made, given roles and areas, switched off; their passwords and sessions."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from nundine.services.access import RIGHTS
from nundine.services.admin import passwords
from nundine.services.errors import NotFound, Refused
from nundine.services.ledger.commands import note, write
from nundine.services.ledger.edits import Edit
from nundine.services.ledger.noun import Row
from nundine.services.ledger.nouns import NOUNS
from nundine.services.ledger.revisions import need_revision
from nundine.services.ledger.stored import changes_to
from nundine.settings import settings
from nundine.store.account import Account, Role, SignedIn
from nundine.store.base import db
from nundine.store.belonging import Site
from nundine.store.site import Area

Roles = dict[str, list[str] | None]
"""Areas by role; None = everywhere."""


@dataclass(frozen=True)
class AccountRow:
    """An account as the administrator sees it."""

    name: str
    full_name: str
    roles: list[dict[str, Any]]
    active: bool
    sites: list[str] | None
    areas: list[str]
    one_time: bool
    factor: bool
    sessions: int
    revision: int


def listed() -> list[AccountRow]:
    """All accounts by name, with their roles and how many sessions each has open."""
    live = SignedIn.select(SignedIn.account).where(SignedIn.expires > settings().now())
    open_ = Counter(a for (a,) in live.tuples())
    rows = {(a.name,): a for a in Account.select().order_by(Account.name)}
    held = NOUNS["account"].read(list(rows), ["roles"])
    return [
        AccountRow(
            a.name,
            a.full_name,
            [{"role": r, "areas": None if w is None else list(w)} for r, w in held[k]["roles"]],
            a.active,
            a.sites,
            list(a.areas or ()),
            a.one_time,
            a.factor is not None,
            open_[a.id],
            a.revision,
        )
        for k, a in rows.items()
    ]


def create(
    name: str, full_name: str, password: str, roles: str | Roles, by: Account | None = None
) -> Account:
    """A new account. Raises Refused for a bad password, an unknown role or area, or a name that is taken."""
    given: Roles = {roles: None} if isinstance(roles, str) else roles
    passwords.need_good(password, name, full_name)
    return _create(name, full_name, password, given, by, one_time=False)


def make(by: Account, name: str, full_name: str, roles: Roles) -> str:
    """A new account with a password for its first sign-in, which is told once. Raises Refused as `create`
    does."""
    password = passwords.made_up()
    _create(name, full_name, password, roles, by, one_time=True)
    return password


def _create(
    name: str, full_name: str, password: str, roles: Roles, by: Account | None, *, one_time: bool
) -> Account:
    key = name.strip().lower()
    if not key or len(key) > 60 or not all(c.isalnum() or c in "-._" for c in key):
        raise Refused(
            "name", "A name to sign in with has letters, digits, dots and dashes alone.", field="name"
        )
    if not full_name.strip():
        raise Refused("full name", "Say what the person is called.", field="full_name")
    with db.atomic():
        if Account.get_or_none(Account.name == key):
            raise Refused("name", f"The name {name} is taken.", field="name")
        row: Row = {
            "full_name": full_name.strip(),
            "active": True,
            "one_time": one_time,
            "areas": None,
            "sites": None,
            "roles": _checked(roles),
        }
        edit = Edit("account", f"Make the account {key}", changes_to("account", {(key,): row}))
        write(f"account {key}", by, edit, checked=True)
        Account.update(password_hash=passwords.HASHES.hash(password)).where(Account.name == key).execute()
        return Account.get(Account.name == key)


def _checked(roles: Roles) -> tuple[tuple[str, tuple[str, ...] | None], ...]:
    """Roles with their areas as they are kept. Raises Refused for what is not there."""
    known, areas = {r.name for r in Role.select()}, {a.key for a in Area.select(Area.key)}
    if not roles:
        raise Refused("role", "An account has at least one role.", field="roles")
    for role, limit in roles.items():
        if role not in known:
            raise Refused(
                "role", f"{role!r} is no role; roles are {', '.join(sorted(known))}.", field="roles"
            )
        strangers = sorted(set(limit or ()) - areas)
        if strangers:
            raise Refused("area", f"There is no area {strangers[0]}.", field="areas")
    return tuple((r, None if roles[r] is None else tuple(sorted(set(roles[r] or ())))) for r in sorted(roles))


def _known_sites(keys: list[str]) -> list[str]:
    """Keys of sites that somebody is to see alone. Raises Refused for none, and for those that are not
    there."""
    strangers = sorted(set(keys) - {s.key for s in Site.select(Site.key)})
    if strangers or not keys:
        text = f"There is no site {strangers[0]}." if strangers else "An account sees at least one site."
        raise Refused("site", text, field="sites")
    return sorted(set(keys))


def change(by: Account | None, name: str, revision: int | None, **fields: Any) -> None:
    """Change full name, roles, areas looked after, or whether an account may sign in.

    Raises
    ------
    Refused
        For an unknown role or area, and for what would leave nobody to look after accounts.
    NotFound
        For an unknown account.
    Stale
        If somebody changed the account after the revision that was seen.
    """
    wanted = {k: v for k, v in fields.items() if v is not None}
    if "areas" in wanted:
        strangers = sorted(set(wanted["areas"]) - {a.key for a in Area.select(Area.key)})
        if strangers:
            raise Refused("area", f"There is no area {strangers[0]}.", field="areas")
        wanted["areas"] = sorted(set(wanted["areas"]))
    if "roles" in wanted:
        wanted["roles"] = _checked(wanted["roles"])
    if "sites" in wanted:
        wanted["sites"] = _known_sites(wanted["sites"])
    if wanted.pop("all_sites", False):
        wanted["sites"] = None
    with db.atomic():
        found = find(name, lock=True)
        if revision is not None:
            need_revision("account", [name], revision)
        losing = wanted.get("active") is False or (
            "roles" in wanted and "administrator" not in dict(wanted["roles"])
        )
        sites = wanted.get("sites", found.sites)
        held = wanted["roles"] if "roles" in wanted else _roles_held(name)
        if sites and "administrator" in dict(held):
            raise Refused(
                "sites", "An administrator looks after all sites. Take that role off first.", field="sites"
            )
        if losing and by is not None and found.id == by.id:
            raise Refused(
                "own", "You can not take this from yourself; another administrator can.", field="roles"
            )
        changes = changes_to("account", {(name,): wanted})
        if changes:
            write(
                f"account {name}",
                by,
                Edit("account", f"Change the account of {found.full_name}", changes),
                checked=True,
            )
        if wanted.get("active") is False:
            SignedIn.delete().where(SignedIn.account == found).execute()


def _roles_held(name: str) -> tuple[tuple[str, tuple[str, ...] | None], ...]:
    held: tuple[tuple[str, tuple[str, ...] | None], ...]
    held = NOUNS["account"].read([(name,)], ["roles"])[(name,)]["roles"]
    return held


def find(name: str, lock: bool = False) -> Account:
    """Raises NotFound."""
    query = Account.select().where(Account.name == name)
    found = (query.for_update() if lock else query).first()
    if found is None:
        raise NotFound("account", f"There is no account {name}.")
    return found


def new_password(by: Account, name: str) -> str:
    """A password to be used once, in place of a lost one; all sessions of the account end."""
    password = passwords.made_up()
    with db.atomic():
        found = find(name, lock=True)
        changes = changes_to("account", {(name,): {"one_time": True}})
        edit = Edit("password", f"Give {found.full_name} a password for one sign-in", changes)
        write(f"account {name}", by, edit, checked=True)
        Account.update(password_hash=passwords.HASHES.hash(password)).where(Account.id == found.id).execute()
        SignedIn.delete().where(SignedIn.account == found).execute()
    return password


def own_password(account: Account, old: str, new: str) -> None:
    """Change one's own password; other sessions of the account end. Raises Refused for a wrong old one or a
    bad new one."""
    if not passwords.HASHES.verify(old, account.password_hash):
        raise Refused("password", "The password that you have now is not this one.", field="old")
    passwords.need_good(new, account.name, account.full_name)
    if new == old:
        raise Refused("password", "The new password is the old one. Choose another.", field="password")
    with db.atomic():
        changes = changes_to("account", {(account.name,): {"one_time": False}})
        edit = Edit("password", f"{account.full_name} changed the password", changes)
        write(f"account {account.name}", account, edit, checked=True)
        Account.update(password_hash=passwords.HASHES.hash(new)).where(Account.id == account.id).execute()


@dataclass(frozen=True)
class SessionRow:
    """A session of one's own."""

    id: int
    began: datetime | None
    address: str
    expires: datetime
    this: bool


def sessions(account: Account, token_hash: str) -> list[SessionRow]:
    """Where one is signed in, the newest first."""
    rows = SignedIn.select().where((SignedIn.account == account) & (SignedIn.expires > settings().now()))
    return [
        SessionRow(s.id, s.began, s.address, s.expires, s.token_hash == token_hash)
        for s in rows.order_by(SignedIn.id.desc())
    ]


def end_sessions(name: str, by: Account, but: str = "") -> int:
    """End the sessions of an account, but for one by the hash of its token. Gives how many there were."""
    found = find(name)
    gone = SignedIn.delete().where((SignedIn.account == found) & (SignedIn.token_hash != but)).execute()
    note(f"account {name}", by, "sessions", f"End {gone} sessions of {found.full_name}")
    return int(gone)


@dataclass(frozen=True)
class RoleRow:
    """A role with its rights."""

    name: str
    rights: list[str]


@dataclass(frozen=True)
class AllRoles:
    """All roles in their order, and what each right lets somebody do."""

    roles: list[RoleRow]
    rights: dict[str, str]


def roles() -> AllRoles:
    rows = Role.select().order_by(Role.place)
    return AllRoles([RoleRow(r.name, list(r.rights)) for r in rows], dict(RIGHTS))
