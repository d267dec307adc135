"""`./nundine bench lists`: questions to a list of 50,000 WOs and 5,000 assets, and a file of all of it.

Baseline: the same server's health check. Beside rows on the server, the time until a browser shows the list,
and how many of 60 frames a second it draws while it scrolls.
"""

from __future__ import annotations

import json
import statistics
import time
from collections.abc import Callable
from functools import partial
from typing import Any
from urllib.parse import quote

from playwright.sync_api import sync_playwright
from rich.console import Console
from rich.table import Table

from bench.site import PASSWORDS, WEEK, Site, demo_site, milliseconds
from nundine.services.exchange.stored_rows import changes_of, standing
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Edit
from nundine.store.base import db

ORDERS, ASSETS = 50_000, 5_000
QUESTIONS: dict[str, tuple[str, dict[str, Any]]] = {
    "the first page": ("rows", {}),
    "words in all columns": ("rows", {"find": "gondola brake"}),
    "one column contains": (
        "rows",
        {"filters": [{"column": "title", "how": "contains", "values": ["rope"]}]},
    ),
    "ready and not in the week": (
        "rows",
        {
            "filters": [
                {"column": "ready", "how": "is", "values": ["yes"]},
                {"column": "placed", "how": "empty", "values": []},
            ]
        },
    ),
    "a craft, overdue": (
        "rows",
        {
            "filters": [
                {"column": "craft", "how": "is", "values": ["elec"]},
                {"column": "due", "how": "between", "values": ["", "today-1"]},
            ]
        },
    ),
    "sorted by asset and hours": (
        "rows",
        {"sort": [{"column": "asset", "down": False}, {"column": "hours", "down": True}]},
    ),
    "grouped by asset": ("groups", {"group": "asset"}),
    "grouped by kind": ("groups", {"group": "kind"}),
}
OTHER_LISTS = (
    "work orders",
    "all tasks",
    "tasks",
    "kits",
    "to buy",
    "falls due",
    "services",
    "assets",
    "requests",
)
"""Lists that hang on work or assets: their first pages."""
PAGES = ("planning-desk", "review", "closing", "crew", "plan.json")
"""What else is read of a week beside so much work."""
FRAMES = """
async () => {
  const grid = document.querySelector("[role=grid]");
  let frames = 0, on = true;
  const count = () => { frames += 1; if (on) requestAnimationFrame(count); };
  requestAnimationFrame(count);
  const began = performance.now();
  while (performance.now() - began < 3000) {
    grid.scrollTop += 120;
    await new Promise((wake) => requestAnimationFrame(wake));
  }
  on = false;
  return frames / ((performance.now() - began) / 1000);
}
"""


def grown() -> None:
    """Copies of the demo's assets and open work until there are so many."""
    with db.connection_context(), db.atomic():
        orders = [o for o in standing("work_orders") if o["state"] == "approved"]
        assets = [a for a in standing("assets") if a["parent"]]
        tasks: dict[str, list[dict[str, Any]]] = {}
        for t in standing("tasks"):
            tasks.setdefault(t["number"], []).append(t)
        new: dict[str, list[dict[str, Any]]] = {"assets": [], "work_orders": [], "tasks": []}
        for n in range(ASSETS):
            one = assets[n % len(assets)]
            new["assets"].append({**one, "asset": f"{one['asset']}-x{n}", "name": f"{one['name']} {n}"})
        for n in range(ORDERS - len(orders)):
            o, number = orders[n % len(orders)], f"XL-{n:06}"
            new["work_orders"].append({**o, "number": number, "asset": new["assets"][n % ASSETS]["asset"]})
            new["tasks"] += [{**t, "number": number} for t in tasks[o["number"]]]
        write("files", None, Edit("import", "A larger site", changes_of(new)), checked=True)


def ask(site: Site, part: str, question: dict[str, Any], name: str = "backlog", first: int = 0) -> bytes:
    address = f"/api/lists/{quote(name)}/{part}?week={WEEK}&q={quote(json.dumps(question))}"
    address += f"&first={first}" if first else ""
    return site.open("GET", address).read()


def read(site: Site, page: str) -> bytes:
    return site.open("GET", f"/api/weeks/{WEEK}/{page}").read()


def palette(site: Site, text: str) -> bytes:
    return site.open("GET", f"/api/lists/found?week={WEEK}&text={quote(text)}").read()


def file_of_all(site: Site) -> tuple[float, int]:
    """Seconds until the whole list is written as XLSX, and its bytes."""
    began = time.perf_counter()
    form = {
        "week": WEEK,
        "question": {},
        "columns": ["number", "title", "asset", "area", "kind", "hours", "due"],
        "format": "xlsx",
    }
    run = json.load(site.open("POST", "/api/lists/backlog/files", form))
    while run["state"] in ("waiting", "running"):
        time.sleep(0.2)
        run = json.load(site.open("GET", f"/api/runs/{run['id']}"))
    if run["state"] != "done":
        raise RuntimeError(f"the file ended as {run['state']}: {run['error']}")
    return time.perf_counter() - began, len(site.open("GET", f"/api/runs/{run['id']}/file").read())


def in_a_browser(address: str) -> tuple[float, float]:
    """Milliseconds until the list of a step shows rows, and frames a second while it scrolls."""
    with sync_playwright() as play:
        browser = play.chromium.launch(
            executable_path="/usr/bin/chromium", args=["--no-sandbox", "--disable-gpu"]
        )
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(address)
        page.get_by_label("Name").fill("sven")
        page.get_by_label("Password", exact=True).fill(PASSWORDS["sven"])
        page.keyboard.press("Enter")
        page.wait_for_url("**/week/**")
        page.goto(f"{address}/week/{WEEK}/publish")
        page.get_by_role("link", name="Gather").wait_for()
        page.wait_for_load_state("networkidle")
        began = time.perf_counter()
        page.keyboard.press("1")
        page.locator("[role=grid] [data-row='0'] [role=gridcell]").first.wait_for()
        took = 1000 * (time.perf_counter() - began)
        frames = float(page.evaluate(FRAMES))
        browser.close()
    return took, frames


def main() -> None:
    table = Table("what", "median", "95th", "target", "x baseline", title=f"A list of {ORDERS} WOs")
    with demo_site() as (site, health):
        table.add_row("health check (baseline)", f"{health:.1f} ms", "", "", "1.0")
        grown()
        site.get("")

        def row(name: str, target: str, work: Callable[[], object]) -> None:
            work()
            times = sorted(milliseconds(work, 15))
            middle = statistics.median(times)
            table.add_row(name, f"{middle:.0f} ms", f"{times[-2]:.0f} ms", target, f"{middle / health:.1f}")

        for name, (part, question) in QUESTIONS.items():
            row(name, "< 200 ms", partial(ask, site, part, question))
        for name in OTHER_LISTS:
            row(f"first page of {name!r}", "< 200 ms", partial(ask, site, "rows", {}, name))
        for name in PAGES:
            row(name, "", partial(read, site, name))
        for text in ("rope lubrication", "XL-0412"):
            row(f"the palette: {text}", "< 150 ms", partial(palette, site, text))
        took, frames = in_a_browser(site.address)
        table.add_row("the list in a browser", f"{took:.0f} ms", "", "< 1000 ms", f"{took / health:.1f}")
        table.add_row("scrolling", f"{frames:.0f} frames a second", "", "60", "")
        seconds, size = file_of_all(site)
        table.add_row("a file of all", f"{seconds:.1f} s, {size // 1024} KB", "", "< 20 s", "")
        Console(width=118).print(table)
