"""Writing changes of records, and what follows from them by rules, in the same transaction."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from nundine.core.lifecycle import state_from_done
from nundine.services import derived, derived_buying, derived_dues, derived_parts, derived_stock
from nundine.services.ledger.edits import Change, by_noun, placement_key
from nundine.services.ledger.nouns import LISTED, NOUNS, PLACEMENT
from nundine.services.ledger.values import encode
from nundine.store.placement import write_placements
from nundine.store.week import Week


def store(week: Week | None, changes: list[Change]) -> list[Change]:
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
    bought = _buying_followed(grouped)
    followed += _parts_followed(grouped, followed)
    orders = [*grouped.get("work order", ()), *followed]
    requests = _requests_followed(orders)
    services = _services_followed(orders, [*grouped.get("request", ()), *requests])
    plans = {c.key[0] for n in PREVENTIVE for c in grouped.get(n, ())} | {c.key[0] for c in services}
    plans |= _plans_by_grounds(grouped)
    if plans:
        derived_dues.next_dues(plans)
    return [*followed, *requests, *services, *bought]


def _buying_followed(grouped: dict[str, list[Change]]) -> list[Change]:
    """Requests to buy that are closed or open again, and orders that are delivered or are not, with their
    lines; written."""
    lines = grouped.get("purchase line", ())
    purchases = {c.key[0] for c in (*lines, *grouped.get("purchase", ()))}
    asked = {c.key[0] for name in ("buy request", "buy line") for c in grouped.get(name, ())}
    asked |= {side["request"] for c in lines for side in (c.before, c.after) if side and side.get("request")}
    if not purchases and not asked:
        return []
    asked |= derived_buying.requests_in(purchases)
    out = []
    for name, found in (
        ("buy request", derived_buying.states_of_requests(asked)),
        ("purchase", derived_buying.states_of_purchases(purchases)),
    ):
        NOUNS[name].write({(number,): {"state": new} for number, (_, new) in found.items()})
        out += [
            Change(name, [number], {"state": old}, {"state": new}, derived=True)
            for number, (old, new) in found.items()
        ]
    return out


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
    lines = grouped.get("purchase line", ())
    coming = {side["part"] for c in lines for side in _sides(c) if side.get("part")}
    coming |= derived_buying.parts_in({c.key[0] for c in grouped.get("purchase", ())})
    orders = {c.key[0] for c in grouped.get("task", ()) if _says_parts(c)}
    states = (*grouped.get("work order", ()), *followed)
    orders |= {c.key[0] for c in states if _moves(c, derived_parts.standing)}
    before = derived_parts.parts_of(orders) if orders else set[str]()
    parts = (
        moved
        | coming
        | before
        | derived_parts.of_orders(orders)
        | {c.key[0] for c in grouped.get("part", ())}
        | {other for c in grouped.get("part", ()) for side in _sides(c) for other in _others(side)}
    )
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


def _moves(order: Change, to: Callable[[str], object]) -> bool:
    """Whether a WO that was there is in another state, and one that comes to something else."""
    before, after = order.before or {}, order.after or {}
    return "state" in before and "state" in after and to(before["state"]) != to(after["state"])


def _others(part: dict[str, Any]) -> list[str]:
    """What does instead of a part, as a side of a change names it."""
    return [other for other, _ in part.get("alternates") or ()]


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
    moved = {c.key[0] for c in orders if _moves(c, state_from_done)}
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


def _weighs(order: Change) -> bool:
    """Whether a WO is new, or something changed by which its priority is computed."""
    weighing = {"kind", "raised", "correction", "asset"}
    return order.after is not None and (order.before is None or bool(weighing & order.after.keys()))


def _derive(grouped: dict[str, list[Change]]) -> None:
    """Compute anew the columns of WOs that follow from what was changed."""
    numbers = {c.key[0] for c in grouped.get("task", ())}
    numbers |= {c.key[0] for c in grouped.get("work order", ()) if _weighs(c)}
    weighed = {c.key[0] for c in grouped.get("asset", ()) if c.before and "criticality" in (c.after or {})}
    if weighed:
        numbers |= derived.of_assets(weighed)
    sides = [side for c in grouped.get("person", ()) for side in (c.before, c.after) if side]
    crafts = {craft for side in sides for craft, _ in side.get("crafts", ())}
    if crafts:
        numbers |= derived.needing(crafts)
    if numbers:
        derived.refresh(numbers)
