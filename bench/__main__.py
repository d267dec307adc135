"""`./nundine bench`: how fast the demo site answers, each figure beside a baseline of the same run.

Baselines: for requests, the same server's health check; for plans, priority dispatch alone.
"""

from __future__ import annotations

import statistics
import sys
import threading
import time
from collections.abc import Callable
from datetime import timedelta

from playwright.sync_api import sync_playwright
from rich.console import Console
from rich.table import Table

from bench import (
    bounds,
    crowd,
    engine,
    exports,
    foundations,
    kills,
    lists,
    parts,
    planning,
    preventive,
    questions,
    workable,
)
from bench.site import PASSWORDS, WEEK, Site, demo_site, milliseconds
from nundine.core.week.building.build import Limits, Progress, build
from nundine.core.week.search import compiled
from nundine.services.exchange.stored_rows import changes_of, standing
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Edit
from nundine.services.week.state import load_state
from nundine.store.base import db


def build_and_accept(site: Site, seconds: float) -> None:
    made = site.post("/builds", {"seconds": seconds})
    while (found := site.get("/builds/latest"))["state"] in ("waiting", "running"):
        time.sleep(0.2)
    if found["state"] != "ready":
        raise RuntimeError(f"the build ended as {found['state']}: {found['error']}")
    site.post(f"/builds/{made['id']}/accept", {})


def mover(site: Site) -> Callable[[], object]:
    """Moves one placement after another a day on, of each job one: others of it may move along."""
    crew = site.get("/crew")
    work = [w for p in crew["people"] for d in p["days"] for w in d["work"] if w["seat"] == 0]
    items = list({w["job"]: w for w in work}.values())
    days = [d["day"] for d in crew["people"][0]["days"]]
    left = iter(items)

    def move() -> object:
        w = next(left)
        to = days[(days.index(w["day"]) + 1) % 7]
        return site.post(
            "/edits",
            {
                "edit": {"kind": "move", "keys": [[w["job"], w["task"], w["portion"]]], "day": to},
                "seen": 10**6,
            },
        )

    return move


def many_orders(count: int) -> None:
    """Copies of the demo's work orders with their tasks, until there are `count`."""
    with db.connection_context(), db.atomic():
        orders, tasks = standing("work_orders"), standing("tasks")
        by_order: dict[str, list[dict]] = {}
        for t in tasks:
            by_order.setdefault(t["number"], []).append(t)
        new_orders, new_tasks = [], []
        for n in range(count - len(orders)):
            o = orders[n % len(orders)]
            number = f"XL-{n:05}"
            new_orders.append(
                {**o, "number": number, "raised": o["raised"] - timedelta(days=n % 300), "state": "planned"}
            )
            new_tasks += [{**t, "number": number} for t in by_order[o["number"]]]
        write(
            "files",
            None,
            Edit("import", "More work", changes_of({"work_orders": new_orders, "tasks": new_tasks})),
        )


def main() -> None:
    table = Table("what", "median", "95th", "target", "x baseline", title="Nundine on the demo site")

    def row(name: str, times: list[float], target: str, baseline: float) -> None:
        ordered = sorted(times)
        worst = ordered[min(len(ordered) - 1, int(0.95 * len(ordered)))]
        table.add_row(
            name,
            f"{statistics.median(times):.0f} ms",
            f"{worst:.0f} ms",
            target,
            f"{statistics.median(times) / baseline:.1f}",
        )

    with demo_site() as (site, health):
        table.add_row("health check (baseline)", f"{health:.1f} ms", "", "", "1.0")
        _plans(table)
        site.get("")
        build_and_accept(site, 5)
        move = mover(site)
        milliseconds(move, 3)
        row("edit: move a job", milliseconds(move, 40), "< 100 ms", health)
        building = threading.Thread(target=lambda: build_and_accept(site, 8))
        building.start()
        time.sleep(1.0)
        row("the same while a build runs", milliseconds(move, 40), "< 100 ms", health)
        building.join()
        for path, name in (
            ("", "week"),
            ("/crew", "crew"),
            ("/agree", "agree"),
            ("/tanks/mech/2026-11-30", "a tank"),
        ):
            row(f"read: {name}", milliseconds(lambda p=path: site.get(p), 10), "", health)
        row("Balance usable after navigation", _balance(site.address), "< 1500 ms", health)
        many_orders(50_000)
        site.get("/backlog")
        for query, name in (
            ("", "first page"),
            ("?sort=due&down=false", "sort"),
            ("?ready=true&craft=elec", "filter"),
            ("?search=brake+gondola", "search"),
        ):
            row(
                f"50,000 WOs: {name}",
                milliseconds(lambda q=query: site.get(f"/backlog{q}"), 8),
                "< 200 ms",
                health,
            )
        Console(width=110).print(table)


def _balance(address: str) -> list[float]:
    """From the address typed until the tanks can be used, in a fresh page of a browser that knows the
    files."""
    with sync_playwright() as play:
        browser = play.chromium.launch(
            executable_path="/usr/bin/chromium",
            args=["--no-sandbox", "--disable-gpu", "--disable-background-networking"],
        )
        page = browser.new_page(viewport={"width": 1280, "height": 800}, base_url=address)
        page.goto("/")
        page.get_by_label("Name").fill("sven")
        page.get_by_label("Password").fill(PASSWORDS["sven"])
        page.get_by_role("button", name="Sign in").click()
        page.get_by_role("navigation", name="Steps of the week").wait_for()

        def go() -> None:
            page.goto(f"/week/{WEEK}/balance")
            page.get_by_role("complementary").get_by_role("button", name="Take out").wait_for()

        times = milliseconds(go, 8)
        browser.close()
    return times


def _plans(table: Table) -> None:
    compiled.load()
    with db.connection_context():
        problem = load_state(WEEK).problem
    told: list[Progress] = []
    began = time.perf_counter()
    first = build(
        problem.with_placements(problem.fixed), limits=Limits(iterations=0), tell=told.append, helps=False
    )
    at = 1000 * told[0].seconds
    table.add_row(
        "first complete plan (priority dispatch)",
        f"{at:.0f} ms",
        "",
        "< 1000 ms",
        f"value {first.value:,.0f}",
    )
    best = build(problem, limits=Limits(seconds=20), helps=False, known_bound=first.bound)
    table.add_row(
        "after 20 s",
        f"{time.perf_counter() - began:.0f} s",
        "",
        "",
        f"value x {best.value / first.value:.4f}, {1 - best.gap:.3f} of the bound",
    )


BENCHES: dict[str, Callable[[list[str]], int | None]] = {
    "bounds": bounds.main,
    "crowd": crowd.main,
    "engine": engine.main,
    "exports": lambda _: exports.main(),
    "foundations": lambda _: foundations.main(),
    "kills": kills.main,
    "lists": lambda _: lists.main(),
    "parts": lambda _: parts.main(),
    "planning": lambda _: planning.main(),
    "preventive": lambda _: preventive.main(),
    "questions": lambda _: questions.main(),
    "workable": workable.main,
}

if __name__ == "__main__":
    match sys.argv[1:]:
        case []:
            main()
        case [name, *arguments] if name in BENCHES:
            sys.exit(BENCHES[name](arguments))
        case [name, *_]:
            sys.exit(f"There is no bench {name!r}. There are: {', '.join(BENCHES)}.")
