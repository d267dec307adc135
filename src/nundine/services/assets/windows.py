"""Run and work windows by hand: drawn, changed, taken away, answered; and what a change of them would hit."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta
from typing import Any

from nundine.core.week.check import check
from nundine.core.windows import Window, contradict, line_above
from nundine.services.access import ANSWER, EDIT, may, where
from nundine.services.errors import NotAllowed, NotFound, Refused
from nundine.services.ledger.edits import Change, Edit
from nundine.services.ledger.stored import stored
from nundine.services.ledger.values import encode
from nundine.services.week.overview import Conflict, conflict_of
from nundine.services.week.state import WeekState
from nundine.store.account import Account
from nundine.store.asset import Asset, AssetWindow
from nundine.store.reading.assets import load_assets
from nundine.store.site import Area

SHORTEST, LONGEST = timedelta(minutes=15), timedelta(days=31)


def asset_of(key: str, account: Account) -> Asset:
    """The asset, if the account may speak for it: operations for its own areas."""
    found = Asset.select(Asset, Area).join(Area).where(Asset.key == key).first()
    if found is None:
        raise NotFound("asset", f"There is no asset {key}.")
    may_speak_for(account, found.area.key)
    return found  # type: ignore[no-any-return]


def may_speak_for(account: Account, area: str | None) -> None:
    """Raises NotAllowed for operations outside the areas of the account."""
    limits = where(account, ANSWER)
    if limits is not None and area not in limits:
        own = ", ".join(sorted(limits))
        mine = (
            f"You answer for {own}" if own else "No area was given to you yet (Accounts, by an administrator)"
        )
        raise NotAllowed("area", f"{mine}; this lies in {area or 'no area'}.")


def _id(asset: str, kind: str, start: datetime) -> list[Any]:
    return [asset, kind, start.astimezone(UTC).isoformat()]


def _stored(id_: list[Any]) -> dict[str, Any]:
    found = stored("window", id_)
    if found is None:
        raise Refused("window", f"There is no such window of {id_[0]} any more.")
    return found


def _spoken(asset: Asset, kind: str, start: datetime) -> str:
    return f"{kind} window of {asset.name} on {start:%a} {start.day} {start:%b} {start:%H:%M}"


def _checked(
    state: WeekState, asset: Asset, kind: str, start: datetime, end: datetime, besides: list[Any] | None
) -> None:
    """Raises Refused for a window that lies wrong, is covered by another of its kind, or would change
    nothing."""
    if not SHORTEST <= end - start <= LONGEST:
        raise Refused("length", "A window lasts at least 15 minutes and at most 31 days.", field="end")
    if not (start < state.problem.end and end > state.problem.start):
        raise Refused("week", f"The window does not lie in week {state.week.name}.", field="start")
    if kind == "work" and not _limited(asset):
        raise Refused(
            "not limited",
            f"{asset.name} may be touched at any time, so a work window changes nothing. Draw when "
            "it must run.",
            field="kind",
        )
    _refuse_overlapping(state, asset, kind, start, end, besides)


def _refuse_overlapping(
    state: WeekState, asset: Asset, kind: str, start: datetime, end: datetime, besides: list[Any] | None
) -> None:
    """Raises Refused, naming it, for a window that contradicts another of its line of assets, but for the one
    it replaces."""
    tree = {a["id"]: a for a in Asset.select().dicts()}
    overlapping = AssetWindow.select().where(
        AssetWindow.asset.in_(_line(tree, asset.id)) & (AssetWindow.start < end) & (AssetWindow.end > start)
    )
    new = Window(asset.key, kind, start, end)
    for w in overlapping.order_by(AssetWindow.start):
        key = tree[w.asset_id]["key"]
        replaced = besides is not None and _id(key, w.kind, w.start) == besides
        if replaced or not contradict(new, Window(key, w.kind, w.start, w.end)):
            continue
        first, last = w.start.astimezone(state.zone), w.end.astimezone(state.zone)
        its = f"{tree[w.asset_id]['name']} ({key})" if w.asset_id != asset.id else asset.name
        what = "is free for work" if w.kind == "work" else "must run"
        said = f", and operations {w.answer} it" if w.answer else ""
        when = f"{first:%a} {first.day} {first:%b %H:%M} to {last:%a %H:%M}"
        raise Refused(
            "overlaps",
            f"{its} {what} from {when}{said}. Change that window, or choose hours beside it.",
            field="start",
        )


def _limited(asset: Asset) -> bool:
    """Whether the asset, one above it or one that is part of it, may be touched in work windows only."""
    tree = {a["id"]: a for a in Asset.select().dicts()}
    return any(tree[n]["limited"] for n in _line(tree, asset.id))


def _line(tree: dict[int, dict[str, Any]], asset: int) -> set[int]:
    """An asset, those above it, and all that is part of it."""
    parents = {n: a["parent"] for n, a in tree.items()}
    return set(line_above(asset, parents)) | {n for n in tree if asset in line_above(n, parents)}


def _fresh(account: Account, end: datetime) -> dict[str, Any]:
    """A window without an answer; what operations draws itself is agreed."""
    agreed = not may(account, EDIT)
    return {
        "end": encode(end),
        "answer": "agreed" if agreed else None,
        "answer_by": account.full_name if agreed else None,
        "remark": None,
    }


def draw(state: WeekState, account: Account, asset: str, kind: str, start: datetime, end: datetime) -> Edit:
    found, start = asset_of(asset, account), start.astimezone(state.zone)
    _checked(state, found, kind, start, end, None)
    return Edit(
        "window",
        f"Draw a {_spoken(found, kind, start)}",
        [Change("window", _id(asset, kind, start), None, _fresh(account, end))],
    )


def change(
    state: WeekState, account: Account, asset: str, kind: str, was: datetime, start: datetime, end: datetime
) -> Edit:
    """Other hours for a window; what operations said of the old ones falls away."""
    found, old = asset_of(asset, account), _id(asset, kind, was)
    before, start = _stored(old), start.astimezone(state.zone)
    _checked(state, found, kind, start, end, old)
    new = _id(asset, kind, start)
    after = _fresh(account, end)
    changes = (
        [Change("window", old, before, after)]
        if new == old
        else [Change("window", old, before, None), Change("window", new, None, after)]
    )
    return Edit("window", f"Change a {_spoken(found, kind, start)}", changes)


def take_away(state: WeekState, account: Account, asset: str, kind: str, start: datetime) -> Edit:
    found, id_ = asset_of(asset, account), _id(asset, kind, start)
    return Edit(
        "window",
        f"Take away a {_spoken(found, kind, start.astimezone(state.zone))}",
        [Change("window", id_, _stored(id_), None)],
    )


def answer(account: Account, asset: str, kind: str, start: datetime, said: str | None, remark: str) -> Edit:
    """Record what operations said of a run or work window."""
    asset_of(asset, account)
    id_ = _id(asset, kind, start)
    before = _stored(id_)
    after = {
        **before,
        "answer": said,
        "answer_by": account.full_name if said else None,
        "remark": remark or None,
    }
    label = (
        f"Operations {said} a {kind} window of {asset}"
        if said
        else f"Take back the answer on a {kind} window of {asset}"
    )
    return Edit("answer", label, [Change("window", id_, before, after)])


@dataclass(frozen=True)
class WindowHits:
    """Rules that placements would break, and those that they would break no more."""

    hit: list[Conflict]
    mended: list[Conflict]


def hits(state: WeekState, edit: Edit) -> WindowHits:
    """Rules that placements would break, and those that they would break no more, if the windows were changed
    so."""
    gone = {_span(c.key, c.before) for c in edit.changes if c.before}
    new = {_span(c.key, c.after) for c in edit.changes if c.after}
    assets = load_assets(state.week.name, state.zone, gone, new)
    would = check(
        replace(state.problem, assets=assets).with_placements(state.placements), state.placements
    ).conflicts
    now = {(b.code, b.keys) for b in state.checked.conflicts}
    then = {(b.code, b.keys) for b in would}
    names = state.names
    return WindowHits(
        [conflict_of(b, names) for b in would if (b.code, b.keys) not in now],
        [conflict_of(b, names) for b in state.checked.conflicts if (b.code, b.keys) not in then],
    )


def _span(id_: list[Any], row: dict[str, Any]) -> tuple[str, str, datetime, datetime]:
    return (id_[0], id_[1], datetime.fromisoformat(id_[2]), datetime.fromisoformat(row["end"]))
