"""Hours in which assets must run, or may be worked on."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from zoneinfo import ZoneInfo

from nundine.core.windows import Window, contradictions
from nundine.services.exchange.cells import moment, one_of
from nundine.services.exchange.kinds.kind import (
    ASSET,
    Column,
    Fault,
    Given,
    Kind,
    Standing,
    ends_after_start,
)
from nundine.store.site import site


def _check_all(
    rows: Sequence[Given], given: Mapping[str, Sequence[Given]], before: Standing
) -> Iterator[tuple[Given, Fault]]:
    """What must run can not be free for work at the same time; what stands unchanged is not looked at
    again."""
    zone, stand = ZoneInfo(site().timezone), before["windows"]
    parent = {a["asset"]: a["parent"] for a in before["assets"].values()}
    parent |= {g.values["asset"]: g.values["parent"] for g in given.get("assets", ()) if g.whole}
    fresh = {Window(**g.values): g for g in rows if stand.get(KIND.key_of(g.values)) != g.values}
    after = {**stand, **{KIND.key_of(g.values): g.values for g in rows}}
    for pair in contradictions([Window(**w) for w in after.values()], parent):
        for one, other in (pair, pair[::-1]):
            if one in fresh:
                where = f" in row {fresh[other].row}" if other in fresh else ""
                what = f"the {other.kind} window of {other.asset}{where}"
                first, last = other.start.astimezone(zone), other.end.astimezone(zone)
                reason = f"overlaps {what}, {first:%Y-%m-%d %H:%M} to {last:%Y-%m-%d %H:%M}"
                yield fresh[one], ("start", reason)
                break


KIND = Kind(
    "windows",
    ("asset", "kind", "start"),
    (
        Column("asset", ASSET, refers="assets", example="lift-3"),
        Column("kind", one_of("work", "run"), example="work"),
        Column("start", moment, example="2026-11-30 21:00"),
        Column("end", moment, example="2026-12-01 05:00"),
    ),
    "window",
    looks_at=("windows",),
    check=ends_after_start,
    check_all=_check_all,
)
