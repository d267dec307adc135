"""`./nundine bench foundations`: edits and reports on the demo site and on one ten times as large, and what
they ask of the database.

Baseline: the same server's health check. Queries are counted by the database itself.
"""

from __future__ import annotations

import statistics
import threading
import urllib.request
from collections.abc import Callable
from datetime import timedelta
from itertools import count
from typing import Any

from rich.console import Console
from rich.table import Table

from bench.site import WEEK, Site, demo_site, milliseconds
from nundine.services.exchange.stored_rows import changes_of, standing
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Edit
from nundine.services.week.state import load_state
from nundine.store.base import db

ORDERS, PEOPLE, BROWSERS = 4000, 400, 60
AT_ONCE = 100
"""Tasks that are reported together."""


def grown(orders_wanted: int, people_wanted: int) -> None:
    """Copies of the demo's open work and people, each with tasks and rosters of their own, until there are so
    many."""
    with db.connection_context(), db.atomic():
        orders = [o for o in standing("work_orders") if o["state"] == "approved"]
        tasks: dict[str, list[dict[str, Any]]] = {}
        for t in standing("tasks"):
            tasks.setdefault(t["number"], []).append(t)
        new: dict[str, list[dict[str, Any]]] = {"people": [], "rosters": [], "work_orders": [], "tasks": []}
        for n in range(orders_wanted - len(orders)):
            o, number = orders[n % len(orders)], f"XL-{n:05}"
            new["work_orders"].append(
                {**o, "number": number, "raised": o["raised"] - timedelta(days=n % 300)}
            )
            new["tasks"] += [{**t, "number": number} for t in tasks[o["number"]]]
        people, rosters = standing("people"), standing("rosters")
        for n in range(people_wanted - len(people)):
            who, key = people[n % len(people)], f"x{n:04}"
            new["people"].append({**who, "person": key, "name": f"{who['name']} {n}"})
            new["rosters"] += [{**r, "person": key} for r in rosters if r["person"] == who["person"]]
        write("files", None, Edit("import", "A larger site", changes_of(new)), checked=True)


def queries() -> int:
    """Statements that the database has answered."""
    with db.connection_context():
        return int(db.execute_sql("SHOW GLOBAL STATUS LIKE 'Questions'").fetchone()[1])


def mover(site: Site) -> Callable[[], object]:
    """Puts one job after another into the week, on a day."""
    with db.connection_context():
        state = load_state(WEEK)
        placed = {p.job for p in state.placements}
        numbers = iter([j.id for j in state.problem.jobs if j.id not in placed])
    turn = count()

    def edit() -> object:
        n = next(turn)
        day = f"2026-12-0{1 + n % 4}"
        return site.post(
            "/edits", {"edit": {"kind": "put", "jobs": [next(numbers)], "day": day}, "seen": 10**6}
        )

    return edit


def first_tasks(site: Site, but: set[str] = frozenset()) -> list[list[str]]:
    """The first task of each placed job, but for some jobs."""
    crew = site.get("/crew")
    items = [w for p in crew["people"] for d in p["days"] for w in d["work"]] + crew["open_seats"]
    first: dict[str, str] = {}
    for w in sorted(items, key=lambda w: (len(w["task"]), w["task"])):
        first.setdefault(w["job"], w["task"])
    return [[job, task] for job, task in first.items() if job not in but]


def reporter(site: Site, tasks: list[list[str]]) -> Callable[[], object]:
    """Reports one task after another as begun."""
    left = iter(tasks)

    def report() -> object:
        form = {"tasks": [next(left)], "to": "under way", "along": True, "seen": 10**6}
        return site.post("/progress", form)

    return report


def polls_of(site: Site, browsers: int, seconds: float = 5.0) -> float:
    """Statements a second while so many browsers listen."""
    listeners = [site, Site(site.address, "mila")]
    opened = []
    for n in range(browsers):
        of = f"{site.address}/api/events?week={WEEK}"
        request = urllib.request.Request(of, headers={"cookie": listeners[n % 2].cookie})
        opened.append(urllib.request.urlopen(request, timeout=20))
    threading.Event().wait(2.0)
    before = queries()
    threading.Event().wait(seconds)
    asked = queries() - before
    for one in opened:
        one.close()
    return asked / seconds


def main() -> None:
    table = Table("what", "median", "95th", "target", "x baseline", title="Foundations")
    with demo_site() as (site, health):

        def row(name: str, times: list[float], target: str) -> None:
            ordered = sorted(times)
            worst = ordered[min(len(ordered) - 1, int(0.95 * len(ordered)))]
            middle = statistics.median(times)
            table.add_row(name, f"{middle:.0f} ms", f"{worst:.0f} ms", target, f"{middle / health:.1f}")

        table.add_row("health check (baseline)", f"{health:.1f} ms", "", "", "1.0")
        site.get("")
        put = mover(site)
        milliseconds(put, 3)
        row("an edit of the demo week", milliseconds(put, 40), "< 60 ms (46)")
        tasks = first_tasks(site)
        reported = {job for job, _ in tasks}
        report = reporter(site, tasks)
        milliseconds(report, 2)
        row("a report of progress, demo", milliseconds(report, 10), "")
        for browsers in (1, BROWSERS):
            asked = polls_of(site, browsers)
            table.add_row(
                f"{browsers} open browsers", f"{asked:.1f} statements a second", "", "one poller", ""
            )
        grown(ORDERS, PEOPLE)
        site.get("")
        put = mover(site)
        milliseconds(put, 5)
        row(f"an edit with {ORDERS} open WOs and {PEOPLE} people", milliseconds(put, 40), "< 100 ms")
        for _ in range(90):
            put()
        tasks = first_tasks(site, reported)
        report = reporter(site, tasks)
        milliseconds(report, 2)
        row(f"a report of progress with {ORDERS} open WOs", milliseconds(report, 20), "< 150 ms (1600)")
        form = {"tasks": tasks[-AT_ONCE:], "to": "under way", "along": True, "seen": 10**6}
        before = queries()
        own = queries() - before  # what it takes to ask
        before = queries()
        threading.Event().wait(5.0)
        a_second = (queries() - before - own) / 5.0  # of those who look for news and for work
        before = queries()
        times = milliseconds(lambda: site.post("/progress", form), 1)
        asked = queries() - before - own - a_second * times[0] / 1000
        table.add_row(
            f"{AT_ONCE} tasks reported at once",
            f"{times[0]:.0f} ms",
            f"{asked:.0f} queries",
            "< 40 (747)",
            "",
        )
        Console(width=118).print(table)
