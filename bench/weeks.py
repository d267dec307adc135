"""Weeks of four sizes with realistic structure, from a seed: uneven crafts, windows, chains, must-work,
tools."""

from __future__ import annotations

from datetime import date, time, timedelta
from random import Random
from zoneinfo import ZoneInfo

from nundine.core.roster import PatternShift, RosterLine, ShiftPattern, working_hours
from nundine.core.timeline import Interval, week_interval, week_monday
from nundine.core.week.problem import (
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
    WeekProblem,
)

SIZES = {"S": (12, 60), "M": (40, 250), "L": (120, 900), "XL": (400, 4000)}
ZONE = ZoneInfo("Europe/Zurich")
WEEK = "2026-W49"
CRAFTS = ("mech", "elec", "control", "hydro", "rig", "vehicle", "weld", "hand")
SHARES = (0.34, 0.18, 0.1, 0.1, 0.1, 0.08, 0.05, 0.05)
DAY = ShiftPattern("day", 7, tuple(PatternShift(d, time(7), time(15, 30), 30) for d in range(5)))
EARLY = ShiftPattern("early", 7, tuple(PatternShift(d, time(6), time(14), 15) for d in (0, 1, 2, 3, 5)))
LATE = ShiftPattern("late", 7, tuple(PatternShift(d, time(14), time(22), 15) for d in range(5)))
NIGHT = ShiftPattern("night", 7, tuple(PatternShift(d, time(21, 30), time(6), 15) for d in (0, 1, 2, 3, 6)))
PATTERNS = (DAY, DAY, DAY, EARLY, LATE, NIGHT)
HOURS = (0.5, 1.0, 1.0, 1.5, 2.0, 2.0, 3.0, 4.0, 5.0, 6.0, 8.0)


def sized_week(size: str, seed: int) -> WeekProblem:
    """A week of a size: 1.3 to 2.2 times more work than hours, nearly half of the jobs (0.44 to 0.48 over
    five seeds) bound to windows."""
    people, jobs = SIZES[size]
    r = Random(f"{size} {seed}")
    span, monday = week_interval(WEEK, ZONE), week_monday(WEEK)
    count = 3 if size == "S" else len(CRAFTS)
    crafts = tuple(Craft(c, r.choice((0.0, 0.1, 0.15))) for c in CRAFTS[:count])
    staff = tuple(_person(r, n, people, count, monday) for n in range(people))
    assets = tuple(_asset(r, n, span) for n in range(max(6, jobs // 6)))
    there = {c.id: 0.0 for c in crafts}
    for x in staff:
        there[x.main_craft] += sum(Interval(h.start, h.end).hours for h in x.hours)
    total = r.uniform(1.3, 2.2) * sum(there.values())
    made = [_job(r, n, crafts, there, assets, span) for n in range(jobs)]
    scale = total / sum(t.hours * t.people for j in made for t in j.tasks)
    return WeekProblem(
        WEEK,
        "Europe/Zurich",
        span.start,
        span.end,
        15,
        crafts=crafts,
        people=staff,
        assets=assets,
        tools=(Tool("crane", max(1, people // 40)), Tool("lift table", max(1, people // 25))),
        jobs=tuple(_scaled(j, scale) for j in made),
    )


def _person(r: Random, n: int, people: int, crafts: int, monday: date) -> Person:
    shares = SHARES[:crafts]
    at, main = (n + 0.5) / people * sum(shares), 0
    while at > shares[main]:
        at -= shares[main]
        main += 1
    own = [CraftLevel(CRAFTS[main], r.choice((1, 2, 2, 2, 3)))]
    own += [
        CraftLevel(c, r.choice((1, 2))) for c in CRAFTS[:crafts] if c != CRAFTS[main] and r.random() < 0.12
    ]
    hours = working_hours(
        [RosterLine(r.choice(PATTERNS), monday - timedelta(days=7))], [], [], monday, 7, ZONE
    )
    gone = r.choice([None] * 6 + [monday + timedelta(days=d) for d in range(5)])
    kept = tuple(PersonHours(h.start, h.end, h.overtime, h.day) for h in hours if h.day != gone)
    if r.random() < 0.1:
        start = week_interval(WEEK, ZONE).start + timedelta(days=5, hours=7)
        extra = PersonHours(start, start + timedelta(hours=6), True, start.date())
        kept = tuple(h for h in kept if h.end <= extra.start or h.start >= extra.end) + (extra,)
    held = (
        (Certificate("rope", r.choice((None, monday + timedelta(days=r.randrange(2, 20))))),)
        if r.random() < 0.3
        else ()
    )
    return Person(f"p{n:03}", tuple(own), held, r.choice(("north", "middle", "south")), None, kept)


def _asset(r: Random, n: int, span: Interval) -> Asset:
    kind = r.random()
    work: tuple[Interval, ...] | None = None
    run: tuple[Interval, ...] = ()
    if kind < 0.3:
        nights = [d for d in range(7) if r.random() < 0.6]
        starts = [span.start + timedelta(days=d, hours=r.choice((5.5, 12.0, 20.5))) for d in nights or [2]]
        work = tuple(Interval(s, s + timedelta(hours=r.choice((6, 8, 9)))) for s in starts)
    elif kind < 0.45:
        run = tuple(
            Interval(span.start + timedelta(days=d, hours=8), span.start + timedelta(days=d, hours=17))
            for d in range(7)
        )
    elif kind < 0.55:
        day = r.randrange(5)
        work = (
            Interval(
                span.start + timedelta(days=day, hours=6), span.start + timedelta(days=day + 2, hours=18)
            ),
        )
    return Asset(f"A{n:03}", r.choice(("north", "middle", "south")), work, run, r.random() < 0.25)


def _job(
    r: Random,
    n: int,
    crafts: tuple[Craft, ...],
    there: dict[str, float],
    assets: tuple[Asset, ...],
    span: Interval,
) -> Job:
    names = [c.id for c in crafts]
    weights = [there[c] * (1.6 if c in ("elec", "rig") else 1.0) + 1 for c in names]
    main = r.choices(names, weights)[0]
    tasks: list[Task] = []
    for k in range(r.choice((1, 1, 1, 2, 2, 3, 4))):
        craft = main if r.random() < 0.75 else r.choices(names, weights)[0]
        most = 1 if there[craft] < 100 else 2 if there[craft] < 200 else 3
        level = r.choice((1, 1, 1, 1, 2, 2, 2, 2, 2, 3)) if there[craft] > 150 else r.choice((1, 1, 2))
        needs = [
            Need(
                craft,
                level,
                min(most, r.choice((1, 1, 1, 1, 2, 2, 3))),
                "rope" if craft == "rig" and r.random() < 0.2 else None,
            )
        ]
        if r.random() < 0.12:
            other = r.choice([c for c in names if c != craft] or names)
            needs.append(Need(other, 1, 1))
        after = (After(tasks[-1].id, r.choice((0.0, 0.0, 0.0, 2.0))),) if tasks and r.random() < 0.9 else ()
        tools = ("crane",) if r.random() < 0.05 else ("lift table",) if r.random() < 0.05 else ()
        state = "stopped" if r.random() < 0.75 else "any" if r.random() < 0.9 else "running"
        split = r.random() < 0.12
        tasks.append(
            Task(
                str(10 * (k + 1)),
                r.choice(HOURS) * (2 if split else 1),
                state,
                after,
                split,
                2.0,
                tuple(needs),
                tools,
            )
        )
    asset = r.choice(assets)
    earliest = span.start + timedelta(hours=r.randrange(96)) if r.random() < 0.1 else None
    due = span.start + timedelta(days=r.randrange(-20, 21)) if r.random() < 0.7 else None
    priority = float(r.choice((10, 20, 30, 40, 50, 60, 70, 85)) + r.randrange(10))
    must = r.random() < 0.06
    return Job(
        f"WO-{n:04}",
        asset.id,
        priority,
        tuple(tasks),
        asset.area,
        must,
        r.random() < 0.05,
        earliest,
        due,
        None,
    )


def _scaled(job: Job, scale: float) -> Job:
    """The job with its hours scaled to a quarter of an hour, within a shift unless it can be split."""

    def hours(t: Task) -> float:
        scaled = max(0.5, round(4 * t.hours * min(max(scale, 0.5), 2.0)) / 4)
        return scaled if t.splittable else min(scaled, 7.5)

    tasks = tuple(
        Task(t.id, hours(t), t.asset_state, t.after, t.splittable, t.min_portion, t.needs, t.tools)
        for t in job.tasks
    )
    return Job(
        job.id,
        job.asset,
        job.priority,
        tasks,
        job.area,
        job.must,
        job.divisible,
        job.earliest,
        job.due,
        job.latest,
    )
