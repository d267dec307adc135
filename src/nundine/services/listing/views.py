"""Views of a list: one's own, those that others share, and the one with which a role begins."""

from __future__ import annotations

import secrets
from dataclasses import dataclass
from typing import Any

from nundine.services.access import ADMINISTER, may, roles_of
from nundine.services.errors import NotAllowed, NotFound, Refused
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Change, Edit
from nundine.services.ledger.revisions import need_revision
from nundine.services.ledger.stored import changes_to, removals
from nundine.services.listing.listing import kind_of
from nundine.store.account import Account, Role
from nundine.store.base import db
from nundine.store.view import View

MOST = 100
"""Views of one account and list."""
LONGEST = 8000
"""Characters of what a view keeps."""


@dataclass(frozen=True)
class ViewRow:
    """One view for somebody. `mine`: it may be changed by them; `begins`: they begin with it."""

    key: str
    list: str
    title: str
    owner: str
    mine: bool
    shared: bool
    role: str | None
    pinned: bool
    begins: bool
    revision: int
    body: dict[str, Any]


def views_of(account: Account, list_: str | None = None) -> list[ViewRow]:
    """Views that an account sees, of one list or of all: its own first, then those that are shared."""
    rows = View.select(View, Account).join(Account).where((View.owner == account) | View.shared)
    if list_ is not None:
        rows = rows.where(View.list == kind_of(list_).name)
    found = sorted(rows, key=lambda v: (v.owner_id != account.id, v.title.casefold(), v.key))
    first = (roles_of(account) or [""])[0]
    return [_row(v, account, first) for v in found]


def roles_to_begin(account: Account) -> list[str]:
    """Roles for which an account may choose the view with which they begin: all, or none."""
    if not may(account, ADMINISTER):
        return []
    return [name for (name,) in Role.select(Role.name).order_by(Role.place).tuples()]


def _row(v: View, account: Account, first_role: str) -> ViewRow:
    return ViewRow(
        v.key,
        v.list,
        v.title,
        v.owner.full_name,
        v.owner_id == account.id,
        v.shared,
        v.role,
        account.name in v.pinned_by,
        v.role is not None and v.role == first_role,
        v.revision,
        v.body,
    )


@dataclass(frozen=True)
class Wanted:
    """What is said of a view by whom it belongs to; only administrators name a `role`."""

    title: str
    shared: bool
    role: str | None
    body: dict[str, Any]


def make(account: Account, list_: str, wanted: Wanted) -> str:
    """A view of one's own; gives its key. Raises Refused, NotFound."""
    name = kind_of(list_).name
    title = _checked(account, wanted, None)
    with db.atomic():
        if View.select().where((View.owner == account) & (View.list == name)).count() >= MOST:
            raise Refused("many", f"You have {MOST} views of this list. Delete one first.")
        key = secrets.token_hex(6)
        row = {
            "list": name,
            "title": title,
            "owner": account.name,
            "shared": wanted.shared,
            "role": wanted.role,
            "pinned_by": [],
            "body": wanted.body,
        }
        changes = [*changes_to("view", {(key,): row}), *_only_one(name, wanted.role, key)]
        write(f"view {key}", account, Edit("view", f"Make the view {title}", changes), checked=True)
    return key


def change(account: Account, key: str, wanted: Wanted, revision: int | None) -> None:
    """Change a view that is one's own. Raises NotFound, NotAllowed, Refused, and Stale where it was
    changed since."""
    with db.atomic():
        view = _own(account, key)
        need_revision("view", [key], view.revision if revision is None else revision)
        title = _checked(account, wanted, view.role)
        row = {"title": title, "shared": wanted.shared, "role": wanted.role, "body": wanted.body}
        changes = [*changes_to("view", {(key,): row}), *_only_one(view.list, wanted.role, key)]
        if changes:
            write(f"view {key}", account, Edit("view", f"Change the view {title}", changes), checked=True)


def pin(account: Account, key: str, on: bool) -> None:
    """Have the count of a view in one's rail, or no more. Raises NotFound."""
    with db.atomic():
        view = _seen(account, key)
        by = [n for n in view.pinned_by if n != account.name] + ([account.name] if on else [])
        label = f"{'Pin' if on else 'Unpin'} the view {view.title}"
        changes = changes_to("view", {(key,): {"pinned_by": by}})
        if changes:
            write(f"view {key}", account, Edit("view", label, changes), checked=True)


def remove(account: Account, key: str) -> None:
    """Delete a view of one's own. Raises NotFound, NotAllowed."""
    with db.atomic():
        view = _own(account, key)
        changes: list[Change] = removals("view", [(key,)])
        write(f"view {key}", account, Edit("view", f"Delete the view {view.title}", changes), checked=True)


def _seen(account: Account, key: str) -> View:
    seen = (View.owner == account) | View.shared
    found: View | None = View.select().where((View.key == key) & seen).for_update().first()
    if found is None:
        raise NotFound("view", "This view is not there any more.")
    return found


def _own(account: Account, key: str) -> View:
    view = _seen(account, key)
    if view.owner_id != account.id and not may(account, ADMINISTER):
        raise NotAllowed("owner", "This view belongs to somebody else. Keep a copy of your own.")
    return view


def _checked(account: Account, wanted: Wanted, role_before: str | None) -> str:
    """The title as it is kept. Raises Refused and NotAllowed for what may not be said of a view."""
    title = wanted.title.strip()
    if not title or len(title) > 80:
        raise Refused("title", "Call the view by a name of at most 80 characters.", field="title")
    if len(str(wanted.body)) > LONGEST:
        raise Refused("body", "This view holds too much. Take some of its filters off.")
    if wanted.role is not None and wanted.role != role_before:
        if not may(account, ADMINISTER):
            raise NotAllowed("role", "Only an administrator says with which view a role begins.")
        if not Role.select().where(Role.name == wanted.role).exists():
            raise Refused("role", f"There is no role {wanted.role[:40]!r}.", field="role")
    if wanted.role is not None and not wanted.shared:
        raise Refused("shared", "A view with which a role begins is shared with all.", field="shared")
    return title


def _only_one(list_: str, role: str | None, key: str) -> list[Change]:
    """A role begins with one view of a list: the one before gives way."""
    if role is None:
        return []
    others = View.select(View.key).where((View.list == list_) & (View.role == role) & (View.key != key))
    return changes_to("view", {(k,): {"role": None} for (k,) in others.tuples()})
