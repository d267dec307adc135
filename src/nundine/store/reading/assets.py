"""Assets with the windows that take effect in a week."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Set
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from nundine.core.timeline import Interval, merge, week_interval
from nundine.core.week import problem as core
from nundine.core.windows import line_above
from nundine.store.asset import Asset, AssetWindow
from nundine.store.reading.rows import keys_of
from nundine.store.site import Area

WindowSpan = tuple[str, str, datetime, datetime]
"""Asset, kind, start, end."""


def load_assets(
    week: str, zone: ZoneInfo, without: Set[WindowSpan] = frozenset(), plus: Set[WindowSpan] = frozenset()
) -> tuple[core.Asset, ...]:
    """Assets with the windows that take effect in the week: an asset's own and those of the assets above it.

    `without` and `plus` tell how it would be with some windows taken away and others drawn.
    """
    span = week_interval(week, zone)
    until = span.end + timedelta(days=1)
    rows = {a["id"]: a for a in Asset.select().dicts()}
    areas, ids = keys_of(Area), {a["key"]: n for n, a in rows.items()}
    parents = {n: a["parent"] for n, a in rows.items()}
    windows: dict[tuple[int, str], list[Interval]] = defaultdict(list)
    gone = {(ids[asset], kind, start) for asset, kind, start, _ in without}
    stored = AssetWindow.select().where((AssetWindow.start < until) & (AssetWindow.end > span.start)).dicts()
    drawn = [
        {"asset": ids[asset], "kind": kind, "start": start, "end": end} for asset, kind, start, end in plus
    ]
    for w in [*(w for w in stored if (w["asset"], w["kind"], w["start"]) not in gone), *drawn]:
        windows[(w["asset"], w["kind"])].append(
            Interval(w["start"].astimezone(zone), w["end"].astimezone(zone))
        )
    out = []
    for a in sorted(rows.values(), key=lambda a: str(a["key"])):
        above = line_above(a["id"], parents)
        limited = any(rows[i]["limited"] for i in above)
        work = merge(i for n in above for i in windows[(n, "work")])
        run = merge(i for n in above for i in windows[(n, "run")])
        out.append(
            core.Asset(a["key"], areas[a["area"]], work if limited else None, run, a["one_job_at_a_time"])
        )
    return tuple(out)
