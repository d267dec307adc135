"""Commands: every write is one, with its inverse, in a stream; it is done whole and stands in the ledger, or
nothing is changed."""

from __future__ import annotations

from typing import Any

from nundine.services import derived, derived_dues, derived_parts, derived_stock
from nundine.services.errors import Refused
from nundine.services.ledger.edits import Change, Edit, by_noun, placement_key
from nundine.services.ledger.entries import key_text
from nundine.services.ledger.noun import Key
from nundine.services.ledger.nouns import ELSEWHERE, LISTED, NOUNS, PLACEMENT
from nundine.services.ledger.refusals import refuse_changed, refuse_touched, refuse_unlawful
from nundine.services.ledger.values import encode
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.base import db
from nundine.store.belonging import SharedRecord
from nundine.store.bulk import insert_rows
from nundine.store.ledger import LedgerChange, LedgerEntry, stream_of_week
from nundine.store.placement import write_placements
from nundine.store.site import Craft, Tool
from nundine.store.week import Event, Week

FROM_ANOTHER_WEEK = "from another week"
"""The kind of a command that another week's command made here; it is undone there."""
MOST_NAMED = 200
"""Records that an event names; who hears of more looks at all of them again."""


def run(
    week: Week,
    account: Account | None,
    edit: Edit,
    seen: int | None,
    *,
    undoes: int | None = None,
    redoes: int | None = None,
) -> LedgerEntry:
    """Write an edit of a week in one transaction, or refuse it whole.

    Parameters
    ----------
    seen
        The number of the week's newest edit that its sender had seen; None where nothing can have
        come between.

    Raises
    ------
    Stale
        If others changed what it touches after `seen`, or what is stored is no more as the edit found it.
    """
    with db.atomic():
        locked = Week.select().where(Week.id == week.id).for_update().get()
        if locked.status == "closed" and edit.kind != "reopen":
            raise Refused("closed", f"Week {locked.name} is closed and can only be read.")
        touches = edit.all_touches()
        if seen is not None and seen < locked.edits:
            refuse_touched(locked, touches, seen)
        here = [c for c in edit.changes if c.noun != ELSEWHERE]
        refuse_changed(locked, here)
        seq = locked.edits + 1
        entry = _enter(stream_of_week(locked.name), seq, account, edit, locked, undoes, redoes)
        Week.update(edits=seq).where(Week.id == locked.id).execute()
        by = account.full_name if account else "Nundine"
        tell(locked.name, "edit", {"edits": seq, "label": edit.label, "by": by, "jobs": _jobs(touches)})
        _run_elsewhere(account, edit)
    return entry


def write(
    stream: str,
    account: Account | None,
    edit: Edit,
    *,
    work: bool = False,
    checked: bool = False,
    undoes: int | None = None,
) -> LedgerEntry:
    """Write an edit of records that belong to no week, in the stream of a record or of what brought it in.

    The caller has locked what it read, and is in a transaction. With `work` all work counts as changed;
    `checked` says that what the edit found was read in this very transaction; `undoes` names the deed of the
    stream that it takes back.

    Raises
    ------
    Stale
        If what is stored is no more as the edit found it.
    """
    if not db.in_transaction():
        raise RuntimeError(
            "what an edit found must be locked until it is written, and there is no transaction"
        )
    if not checked:
        refuse_changed(None, edit.changes)
    return _enter(stream, None, account, edit, None, undoes, None, work)


def _enter(
    stream: str,
    seq: int | None,
    account: Account | None,
    edit: Edit,
    week: Week | None,
    undoes: int | None,
    redoes: int | None,
    all_work: bool = False,
) -> LedgerEntry:
    """Change what is stored and say so in the ledger."""
    refuse_unlawful(edit)
    changes = [*edit.changes, *_stored(week, edit.changes)]
    people, work = _matters(changes)
    work = work or all_work
    revisions = _counted_up(changes)
    entry = LedgerEntry.create(
        **_of(stream),
        stream=stream,
        seq=seq,
        account=account,
        at=settings().now(),
        kind=edit.kind,
        label=edit.label[:300],
        touches=sorted(edit.all_touches()) if week else [],
        undoes=undoes,
        redoes=redoes,
        people=people,
        work=work,
    )
    rows = [
        {
            **_of(stream),
            "entry": entry.id,
            "noun": c.noun,
            "key": key_text(c.key),
            "before": c.before,
            "after": c.after,
            "derived": c.derived,
            "revision": revisions.get((c.noun, tuple(c.key))),
        }
        for c in changes
    ]
    insert_rows(LedgerChange, rows)
    if week is None and (people or work or any(NOUNS[c.noun].live for c in changes if c.noun in NOUNS)):
        named = [[c.noun, c.key] for c in changes[:MOST_NAMED]]
        tell("", "records", {"records": named, "all": len(changes) > MOST_NAMED})
    if any(_is_shared(c) for c in changes):
        say_shared_changed(account)
    return entry


SHARED: dict[str, type[SharedRecord]] = {"craft": Craft, "tool": Tool}
"""Nouns whose records may belong to all sites."""


def _is_shared(change: Change) -> bool:
    table = SHARED.get(change.noun)
    if table is None:
        return False
    found = table.select(table.id).where((table.key == change.key[0]) & table.site.is_null())
    return bool(found.exists())


def say_shared_changed(account: Account | None) -> None:
    """Tell all sites that crafts or tools which they share are not as they were: who keeps some in memory
    reads them anew."""
    LedgerEntry.create(
        site=None, stream="shared", account=account, at=settings().now(), kind="set-up", touches=[],
        label="Crafts or tools that all sites share were changed", people=True, work=True,
    )  # fmt: skip
    everything = {"records": [], "all": True}
    Event.create(site=None, week="", kind="records", body=everything, at=settings().now())


def _of(stream: str) -> dict[str, None]:
    """Deeds on accounts belong to no site."""
    return {"site": None} if stream.startswith("account ") else {}


def note(stream: str, account: Account | None, kind: str, label: str) -> None:
    """Say in the ledger what happened without a change of a record, as a sign-in."""
    LedgerEntry.create(
        **_of(stream),
        stream=stream,
        account=account,
        at=settings().now(),
        kind=kind,
        label=label[:300],
        touches=[],
    )


def _run_elsewhere(account: Account | None, edit: Edit) -> None:
    """What a command changes in other weeks is a command of those, in the same transaction: all of it is
    done, or nothing."""
    of_week: dict[str, list[Change]] = {}
    for c in edit.changes:
        if c.noun == ELSEWHERE:
            of_week.setdefault(c.key[0], []).append(Change(PLACEMENT, c.key[1:], c.before, c.after))
    for name, changes in sorted(of_week.items()):
        run(Week.get(Week.name == name), account, Edit(FROM_ANOTHER_WEEK, edit.label, changes), None)


def _jobs(touches: set[str]) -> list[str]:
    return sorted(t[4:] for t in touches if t.startswith("job "))[:200]


def tell(week: str, kind: str, body: dict[str, Any]) -> None:
    """An event for all who have the week open; for everybody where no week is named."""
    Event.create(week=week, kind=kind, body=body, at=settings().now())


def _stored(week: Week | None, changes: list[Change]) -> list[Change]:
    """Write the changes, and what follows from them by rules; gives the latter."""
    grouped = by_noun(changes)
    if week is not None:
        moved = grouped.get(PLACEMENT, [])
        write_placements(week, {placement_key(c.key): c.after for c in moved})
    for noun in reversed(LISTED):
        noun.remove([tuple(c.key) for c in grouped.get(noun.name, ()) if c.after is None])
    for noun in LISTED:
        group = grouped.get(noun.name, ())
        noun.write({tuple(c.key): noun.decoded(c.after) for c in group if c.after is not None})
    followed = [
        Change("work order", [number], *states, derived=True)
        for number, states in (*_followed(grouped), *_permits_followed(grouped))
    ]
    if followed:
        order = NOUNS["work order"]
        order.write({tuple(c.key): order.decoded(c.after or {}) for c in followed})
    _derive(grouped)
    followed += _parts_followed(grouped, followed)
    orders = [*grouped.get("work order", ()), *followed]
    requests = _requests_followed(orders)
    services = _services_followed(orders, [*grouped.get("request", ()), *requests])
    plans = {c.key[0] for n in PREVENTIVE for c in grouped.get(n, ())} | {c.key[0] for c in services}
    plans |= _plans_by_grounds(grouped)
    if plans:
        derived_dues.next_dues(plans)
    return [*followed, *requests, *services]


def _sides(change: Change) -> list[dict[str, Any]]:
    """What a record was, what it is, and what stands where neither names its part."""
    stands = NOUNS[change.noun].read([tuple(change.key)]) if change.before and change.after else {}
    return [side for side in (change.before, change.after, *stands.values()) if side]


def _parts_followed(grouped: dict[str, list[Change]], followed: list[Change]) -> list[Change]:
    """Stock, and when the parts of WOs are there, computed anew where movements, parts, or what WOs need of
    them changed; the latter written."""
    moved = {side["part"] for c in grouped.get("movement", ()) for side in _sides(c) if "part" in side}
    if moved:
        derived_stock.refresh(moved)
    orders = {c.key[0] for c in grouped.get("task", ()) if _says_parts(c)}
    states = (*grouped.get("work order", ()), *followed)
    orders |= {c.key[0] for c in states if c.before and "state" in (c.after or {})}
    before = derived_parts.parts_of(orders) if orders else set[str]()
    parts = moved | before | derived_parts.of_orders(orders) | {c.key[0] for c in grouped.get("part", ())}
    found = derived_parts.refresh(parts) if parts else {}
    if orders and parts:
        found |= derived_parts.ready(derived_parts.rows_of(orders))
    out = []
    for number, sides in sorted(found.items()):
        was, now = ({name: encode(value) for name, value in side.items()} for side in sides)
        out.append(Change("work order", [number], was, now, derived=True))
    if out:
        order = NOUNS["work order"]
        order.write({tuple(c.key): order.decoded(c.after or {}) for c in out})
    return out


def _says_parts(change: Change) -> bool:
    """Whether a task says something else of its parts than before."""
    if change.before and change.after:
        return "parts" in change.after
    return bool((change.after or change.before or {}).get("parts"))


PREVENTIVE = ("preventive plan", "service", "occurrence")
"""Nouns whose key begins with the number of a preventive plan."""


def _plans_by_grounds(grouped: dict[str, list[Change]]) -> set[str]:
    """Preventive plans that hang on meters or shutdowns which changed."""
    meters = {c.key[0] for n in ("meter", "reading") for c in grouped.get(n, ())}
    sides = [side for n in ("meter", "shutdown") for c in grouped.get(n, ()) for side in (c.before, c.after)]
    units = {side["unit"] for side in sides if side and "unit" in side}
    series = {side["series"] for side in sides if side and side.get("series")}
    dated = {c.key[0] for c in grouped.get("shutdown", ())}
    if not meters and not dated:
        return set()
    return derived_dues.of_grounds(meters, units, dated, series)


def _services_followed(orders: list[Change], requests: list[Change]) -> list[Change]:
    """Occurrences that are done, left out or raised again with their WOs or requests, and the last times of
    their services, written."""
    moved = {c.key[0] for c in orders if c.before and "state" in (c.after or {})}
    decided = {c.key[0] for c in requests if c.before and (c.after or {}).keys() & {"state", "order"}}
    out: list[Change] = []
    for f in derived_dues.followed(moved, decided):
        one, plan, asset = f.one, f.one.plan.number, f.one.asset.key
        if (f.order, f.state, f.done) == (one.order_id, one.state, one.done):
            continue
        was: dict[str, Any] = {"state": one.state, "done": str(one.done) if one.done else None}
        now: dict[str, Any] = {"state": f.state, "done": str(f.done) if f.done else None}
        if f.order != one.order_id:
            was["order"], now["order"] = one.order.number if one.order else None, f.number
        out.append(Change("occurrence", [plan, asset, str(one.due)], was, now, derived=True))
        is_over = (f.state, f.done) != (one.state, one.done)
        lasts = derived_dues.lasts_after(one, f.state, f.done) if is_over else None
        if lasts is not None:
            of_before, of_after = ({"lasts": side} for side in lasts)
            out.append(Change("service", [plan, asset], of_before, of_after, derived=True))
    for noun in ("service", "occurrence"):
        group = {tuple(c.key): NOUNS[noun].decoded(c.after or {}) for c in out if c.noun == noun}
        NOUNS[noun].write(group)
    return out


def _requests_followed(orders: list[Change]) -> list[Change]:
    """Requests whose state follows from that of their WOs, written."""
    moved = {c.key[0] for c in orders if c.before and "state" in (c.after or {})}
    states = derived.states_of_requests(moved)
    followed = [
        Change("request", [number], {"state": old}, {"state": new}, derived=True)
        for number, (old, new) in states.items()
        if old != new
    ]
    if followed:
        request = NOUNS["request"]
        request.write({tuple(c.key): request.decoded(c.after or {}) for c in followed})
    return followed


States = tuple[dict[str, Any], dict[str, Any]]


def _followed(grouped: dict[str, list[Change]]) -> list[tuple[str, States]]:
    """WOs whose state follows from what was reported of their tasks: the state before, and after."""
    reported = {c.key[0] for c in grouped.get("task", ()) if c.before and "state" in (c.after or {})}
    said = {c.key[0] for c in grouped.get("work order", ()) if "state" in (c.after or {})}
    found = derived.states_of_orders(reported - said)
    return [(number, ({"state": old}, {"state": new})) for number, (old, new) in found.items() if old != new]


def _permits_followed(grouped: dict[str, list[Change]]) -> list[tuple[str, States]]:
    """WOs that wait for their permits, or do no more: how far they were said to be before, and after."""
    touched = {c.key[0] for c in grouped.get("permit", ())}
    touched |= {
        c.key[0] for c in grouped.get("work order", ()) if (c.after or {}).keys() & {"permits", "permit"}
    }
    found = derived.states_of_permits(touched)
    return [(n, ({"permit": old}, {"permit": new})) for n, (old, new) in found.items() if old != new]


def _derive(grouped: dict[str, list[Change]]) -> None:
    """Compute anew the columns of WOs that follow from what was changed."""
    numbers = {c.key[0] for name in ("work order", "task") for c in grouped.get(name, ())}
    weighed = {c.key[0] for c in grouped.get("asset", ()) if c.before and "criticality" in (c.after or {})}
    if weighed:
        numbers |= derived.of_assets(weighed)
    sides = [side for c in grouped.get("person", ()) for side in (c.before, c.after) if side]
    crafts = {craft for side in sides for craft, _ in side.get("crafts", ())}
    if crafts:
        numbers |= derived.needing(crafts)
    if numbers:
        derived.refresh(numbers)


def _matters(changes: list[Change]) -> tuple[bool, bool]:
    """Whether people, and whether work, are no longer as the engine knows them."""
    people = work = False
    for c in changes:
        noun = NOUNS.get(c.noun)
        if noun is not None and noun.matters(c.before, c.after):
            people, work = people or noun.people, work or noun.work
    return people, work


def _counted_up(changes: list[Change]) -> dict[tuple[str, Key], int]:
    """The revisions of the records that changed, each once more than before; of those that belong to others,
    their owner's."""
    owners: dict[str, set[Key]] = {}
    for c in changes:
        noun = NOUNS.get(c.noun)
        if noun is not None:
            whole = (noun.owner, tuple(c.key[:1])) if noun.owner else (noun.name, tuple(c.key))
            owners.setdefault(whole[0], set()).add(whole[1])
    counted = {name: NOUNS[name].count_up(keys) for name, keys in owners.items()}
    out: dict[tuple[str, Key], int] = {}
    for c in changes:
        noun = NOUNS.get(c.noun)
        if noun is not None:
            name, key = (noun.owner, tuple(c.key[:1])) if noun.owner else (noun.name, tuple(c.key))
            if key in counted[name]:
                out[(c.noun, tuple(c.key))] = counted[name][key]
    return out
