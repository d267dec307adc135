"""`./nundine bench planning`: a WO of 400 tasks, 500 WOs moved at once, and the palette's search over 50,000
WOs with their tasks.

Baseline: the same server's health check.
"""

from __future__ import annotations

import json
import statistics
from functools import partial
from typing import Any
from urllib.parse import quote

from rich.console import Console
from rich.table import Table

from bench.lists import grown, palette
from bench.site import Site, demo_site, milliseconds

TASKS, MOVED = 400, 500
SEARCHES = ("WO-2", "gondola brake", "five rules", "extinguisher", "R-10")


def long_order(site: Site) -> str:
    """A WO of many tasks in a row, each with a text and things to check."""
    tasks = [
        {
            "task": str(10 * n),
            "title": f"Step {n}",
            "hours": "1.5",
            "needs": "mech x2 level 2; elec",
            "after": str(10 * (n - 1)) if n > 1 else "",
            "text": "Grease until it comes out on both sides.",
            "checklist": "Seals tight; Oil level [mm 12..18]",
        }
        for n in range(1, TASKS + 1)
    ]
    order = {"title": "All sheaves", "asset": "N1", "kind": "project"}
    body = {"order": order, "tasks": tasks, "revision": None}
    return str(json.load(site.open("POST", "/api/orders", body))["number"])


def numbers(site: Site) -> list[str]:
    """Open WOs that are in no week."""
    asked = quote(json.dumps({"filters": [{"column": "state", "how": "is", "values": ["approved"]}]}))
    address = f"/api/lists/work%20orders/rows?q={asked}&size={MOVED}"
    out: list[str] = []
    while len(out) < MOVED:
        page = json.load(site.open("GET", f"{address}&first={len(out)}"))["rows"]
        out += [r["key"] for r in page]
    return out[:MOVED]


def main() -> None:
    with demo_site() as (site, health):
        table = Table("what", "median ms", "times the health check")

        def line(what: str, times: list[float]) -> None:
            middle = statistics.median(times)
            table.add_row(what, f"{middle:.0f}", f"{middle / health:.0f}")

        number = long_order(site)
        parts: dict[str, Any] = {
            f"a WO of {TASKS} tasks, its form": lambda: site.open("GET", f"/api/orders/{number}").read(),
            f"a WO of {TASKS} tasks, its panel": lambda: site.get(f"/jobs/{number}"),
            "what stands beside it": lambda: site.open("GET", f"/api/orders/{number}/beside").read(),
            "its costs": lambda: site.open("GET", f"/api/orders/{number}/costs").read(),
        }
        for what, ask in parts.items():
            line(what, milliseconds(ask, 7))
        grown()
        moved = numbers(site)
        for to in ("on hold", "approved"):
            move = partial(site.open, "POST", "/api/orders/moves", {"numbers": moved, "to": to})
            line(f"{MOVED} WOs are {to}", milliseconds(move, 1))
        for text in SEARCHES:
            line(f"search {text!r} in 50,000 WOs", milliseconds(partial(palette, site, text), 5))
        Console().print(table)
