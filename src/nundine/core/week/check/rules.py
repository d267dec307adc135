"""Rules between jobs: fixed placements kept, one job at a time, tools, held-back hours."""

from __future__ import annotations

from collections import defaultdict

from nundine.core.week.check.layout import Broken, Key, Placed, Plan
from nundine.core.week.problem import Placement


def fixed_kept(plan: Plan, placements: tuple[Placement, ...]) -> list[Broken]:
    """Fixed placements stand as they were given; what was left open may be decided."""
    by_key = {p.key: p for p in placements}
    found = []
    for key, want in plan.fixed.items():
        got = by_key.get(key)
        if got is want:
            continue
        if got is None:
            found.append(Broken("fixed", {"how": "gone", "job": key[0], "task": key[1]}, ()))
            continue
        kept = (
            want.start is None or (got.start == want.start and got.end == want.end)
        ) and got.day == want.day
        kept = kept and len(got.people) == len(want.people)
        kept = kept and all(
            w.id is None or w.id == g.id for w, g in zip(want.people, got.people, strict=False)
        )
        if not kept:
            found.append(Broken("fixed", {"how": "changed", "job": key[0], "task": key[1]}, ()))
    return found


def one_job_at_a_time(plan: Plan) -> list[Broken]:
    """On such an asset the spans of two jobs never overlap."""
    jobs: dict[str, dict[str, list[Placed]]] = defaultdict(lambda: defaultdict(list))
    for x in plan.placed:
        if (
            x.job.asset
            and x.task.asset_state != "any"
            and x.slots is not None
            and plan.p.asset_by_id[x.job.asset].one_job_at_a_time
        ):
            jobs[x.job.asset][x.job.id].append(x)
    found = []
    for asset, of_job in jobs.items():
        spans = [
            (min(x.slots.start for x in xs if x.slots), max(x.slots.stop for x in xs if x.slots), xs)
            for xs in of_job.values()
        ]
        for i, (a_start, a_end, a) in enumerate(spans):
            for b_start, b_end, b in spans[i + 1 :]:
                if a_start < b_end and b_start < a_end:
                    facts = {"how": "at once", "jobs": [a[0].job.id, b[0].job.id], "asset": asset}
                    keys, day = tuple(x.key for x in a + b), max(a[0].one.day, b[0].one.day)
                    found.append(Broken("one job", facts, keys, None, day))
    return found


def tools(plan: Plan) -> list[Broken]:
    """Never more in use at once than there are."""
    found: dict[tuple[str, tuple[Key, ...]], Broken] = {}
    for tool in plan.p.tools:
        users = [x for x in plan.placed if tool.id in x.task.tools and x.slots is not None]
        for moment in sorted({x.slots.start for x in users if x.slots is not None}):
            keys = tuple(x.key for x in users if x.slots is not None and moment in x.slots)
            if len(keys) > tool.count:
                jobs = sorted({k[0] for k in keys})
                facts = {
                    "how": "at once",
                    "uses": len(keys),
                    "jobs": jobs,
                    "tool": tool.id,
                    "count": tool.count,
                }
                found.setdefault((tool.id, keys), Broken("tool", facts, keys))
    return list(found.values())


def held_back(plan: Plan) -> list[Broken]:
    """Regular hours used of people of a craft stay within what the week does not hold back."""
    total: dict[str, int] = defaultdict(int)
    for x in plan.p.people:
        cal = plan.week.calendars[x.id]
        total[x.main_craft] += (cal.there & ~cal.overtime).bit_count()
    used: dict[str, int] = defaultdict(int)
    keys: dict[str, set[Key]] = defaultdict(set)
    for placed in plan.placed:
        for person, cal in placed.seated:
            regular = cal.there & ~cal.overtime & placed.mask
            if regular:
                used[person.id] |= regular
                keys[person.main_craft].add(placed.key)
    spent: dict[str, int] = defaultdict(int)
    for person_id, slots in used.items():
        spent[plan.p.person_by_id[person_id].main_craft] += slots.bit_count()
    found = []
    for craft in plan.p.crafts:
        limit = (1 - craft.held_back) * total[craft.id]
        if spent[craft.id] > limit + 1e-9:
            over = plan.week.hours(1) * (spent[craft.id] - limit)
            only = keys[craft.id] - set(plan.fixed) or keys[craft.id]
            facts = {"craft": craft.id, "used": round(over, 2)}
            found.append(Broken("held back", facts, tuple(sorted(only))))
    return found
