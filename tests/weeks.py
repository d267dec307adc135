"""Random weeks with every kind of structure, from a seed: for the tests and the bench."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, datetime, time, timedelta
from random import Random
from zoneinfo import ZoneInfo

from nundine.core.roster import PatternShift, RosterLine, ShiftPattern, working_hours
from nundine.core.timeline import Interval, week_interval, week_monday
from nundine.core.week.problem import (
    BY_TASK,
    PRICED,
    WHOLE,
    After,
    Asset,
    Certificate,
    Craft,
    CraftLevel,
    Job,
    Need,
    Person,
    PersonHours,
    Task,
    Tool,
    Travel,
    WeekProblem,
)

ZONE = ZoneInfo("Europe/Zurich")
AREAS = ("north", "south", "lake")
EARLY = ShiftPattern("early", 7, tuple(PatternShift(d, time(6), time(14, 30), 30) for d in range(5)))
LATE = ShiftPattern("late", 7, tuple(PatternShift(d, time(13, 30), time(22), 15) for d in range(1, 6)))
NIGHT = ShiftPattern("night", 7, tuple(PatternShift(d, time(21, 30), time(6), 15) for d in (0, 1, 2, 3, 6)))


def random_week(seed: int, people: int = 6, jobs: int = 20, week: str = "2026-W49") -> WeekProblem:
    """A week whose work is about twice its hours; a third of the jobs are bound to windows."""
    r = Random(seed)
    span, monday = week_interval(week, ZONE), week_monday(week)
    crafts = [
        Craft(c, r.choice((0.0, 0.1, 0.2))) for c in ("mech", "elec", "rig")[: max(1, min(3, people // 2))]
    ]
    names = [c.id for c in crafts]
    assets = [_asset(r, f"A{n}", span) for n in range(max(2, jobs // 6))]
    tools = [Tool("crane", r.choice((0, 1, 1, 2))), Tool("jack", 2)]
    return WeekProblem(
        week=week,
        timezone="Europe/Zurich",
        start=span.start,
        end=span.end,
        crafts=tuple(crafts),
        people=tuple(_person(r, n, names, monday) for n in range(people)),
        assets=tuple(assets),
        tools=tuple(tools),
        jobs=tuple(_job(r, n, names, assets, span) for n in range(jobs)),
    )


def _asset(r: Random, name: str, span: Interval) -> Asset:
    kind = r.random()
    work: tuple[Interval, ...] | None = None
    run: tuple[Interval, ...] = ()
    if kind < 0.35:
        work = tuple(
            Interval(s, s + timedelta(hours=r.choice((3, 6, 8.1))))
            for s in (
                span.start + timedelta(days=d, hours=r.choice((2, 6, 21.4)))
                for d in range(7)
                if r.random() < 0.6
            )
        )
    elif kind < 0.55:
        run = tuple(
            Interval(span.start + timedelta(days=d, hours=8), span.start + timedelta(days=d, hours=17))
            for d in range(7)
        )
    return Asset(name, r.choice(("north", "south")), work, run, r.random() < 0.4)


def _person(r: Random, n: int, names: list[str], monday: date) -> Person:
    crafts = [CraftLevel(names[n % len(names)], r.choice((1, 2, 2, 3)))]
    crafts += [CraftLevel(c, r.choice((1, 2))) for c in names if c != crafts[0].craft and r.random() < 0.25]
    pattern = r.choice((EARLY, EARLY, LATE, NIGHT))
    absences = []
    if r.random() < 0.25:
        start = datetime.combine(monday + timedelta(days=r.randrange(5)), time(r.choice((0, 9))), ZONE)
        absences = [Interval(start, start + timedelta(hours=24))]
    hours = working_hours([RosterLine(pattern, monday - timedelta(days=7))], absences, [], monday, 7, ZONE)
    held = (Certificate("rope", r.choice((None, monday + timedelta(days=3)))),) if r.random() < 0.5 else ()
    extra = ()
    if r.random() < 0.3:
        start = datetime.combine(monday + timedelta(days=5), time(7), ZONE)
        extra = (PersonHours(start, start + timedelta(hours=6), True, start.date()),)
    own = tuple(
        PersonHours(h.start, h.end, h.overtime, h.day)
        for h in hours
        if not (extra and h.start < extra[0].end and extra[0].start < h.end)
    )
    return Person(f"p{n:02}", tuple(crafts), held, r.choice(("north", "south")), None, own + extra)


def _job(r: Random, n: int, names: list[str], assets: list[Asset], span: Interval) -> Job:
    tasks: list[Task] = []
    for k in range(r.choice((1, 1, 2, 3))):
        needs = [
            Need(
                r.choice(names),
                r.choice((1, 1, 2, 2, 3)),
                r.choice((1, 1, 1, 2)),
                "rope" if r.random() < 0.1 else None,
            )
        ]
        if r.random() < 0.2:
            needs.append(Need(r.choice(names), 1, 1))
        after = (After(tasks[-1].id, r.choice((0.0, 0.0, 1.0))),) if tasks and r.random() < 0.8 else ()
        hours = r.choice((0.5, 1.0, 1.1, 2.0, 3.0, 4.0, 6.0, 9.0, 14.0))
        tools = ("crane",) if r.random() < 0.08 else ("jack",) if r.random() < 0.1 else ()
        state = r.choice(("stopped", "stopped", "any", "running"))
        tasks.append(
            Task(
                str(10 * (k + 1)),
                hours,
                state,
                after,
                r.random() < 0.3 or hours > 9,
                1.5,
                tuple(needs),
                tools,
            )
        )
    asset = r.choice(assets)
    earliest = span.start + timedelta(hours=r.randrange(100)) if r.random() < 0.2 else None
    due = span.start + timedelta(days=r.randrange(-20, 12)) if r.random() < 0.6 else None
    latest = span.end - timedelta(hours=r.randrange(60)) if r.random() < 0.15 else None
    return Job(
        f"WO-{n:04}",
        asset.id,
        float(r.randrange(5, 100)),
        tuple(tasks),
        asset.area,
        r.random() < 0.12,
        r.random() < 0.15,
        earliest,
        due,
        latest,
    )


def workable_week(seed: int, people: int = 6, jobs: int = 20) -> WeekProblem:
    """A random week with ways between its areas, assets that stay out of service, people lent, and prices of
    loose ends."""
    r, p = Random(f"workable {seed}"), random_week(seed, people, jobs)
    out = p.start - timedelta(hours=30)
    orders = tuple(
        replace(
            j,
            out_of_service=WHOLE if r.random() < 0.8 else BY_TASK,
            out_since=out if r.random() < 0.05 else None,
            area=None if r.random() < 0.1 else j.area,
        )
        for j in p.jobs
    )
    assets = tuple(replace(a, area=r.choice(AREAS)) for a in p.assets)
    staff = tuple(
        replace(
            x,
            area=None if r.random() < 0.1 else r.choice(AREAS),
            hours=tuple(replace(h, area=r.choice(AREAS)) if r.random() < 0.1 else h for h in x.hours),
        )
        for x in p.people
    )
    ways = (Travel("north", "south", r.choice((0, 10, 25, 45))), Travel("south", "lake", r.choice((5, 30))))
    prices = replace(PRICED, handover=r.choice((0.0, 60.0, 200.0)), area_change=r.choice((0.0, 40.0)))
    return replace(p, jobs=orders, assets=assets, people=staff, travel=ways, weights=prices)
