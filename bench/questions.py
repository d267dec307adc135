"""`./nundine bench questions`: every list is asked for every sort, group and filter of each of its columns,
for a page in the middle, for words and for two columns at once, beside 50,000 WOs and 5,000 assets.

Baseline: the same server's health check. What takes long is asked again; the best of a few counts.
"""

from __future__ import annotations

import json
from collections.abc import Iterator
from typing import Any
from urllib.parse import quote

from rich.console import Console
from rich.table import Table

from bench.lists import ASSETS, ORDERS, ask, grown
from bench.site import WEEK, Site, demo_site, milliseconds

TARGET = 200.0
"""Milliseconds for which any of them may take."""
AGAIN = 3
WORDS = ("rope lubrication", "a")
VALUES = {
    "text": ["rope"],
    "number": ["1", "5"],
    "hours": ["1", "5"],
    "money": ["1", "500"],
    "day": ["today-30", "today+14"],
    "moment": ["today-30", "today+14"],
}
"""What columns are asked for that do not offer choices."""


def questions(columns: list[dict[str, Any]]) -> Iterator[tuple[str, dict[str, Any]]]:
    """Which part of a list is asked, and what."""
    yield "rows", {}
    for text in WORDS:
        yield "rows", {"find": text}
    before = None
    for column in columns:
        name = column["name"]
        if column["can_sort"]:
            for down in (False, True):
                yield "rows", {"sort": [{"column": name, "down": down}]}
            yield "middle", {"sort": [{"column": name, "down": False}]}
            if before is not None:
                pair = [{"column": name, "down": False}, {"column": before, "down": True}]
                yield "rows", {"sort": pair}
            before = name
        if column["can_group"]:
            yield "groups", {"group": name}
            yield "rows", {"group": name}
        for how in column["hows"]:
            yield "rows", {"filters": [{"column": name, "how": how, "values": values(column, how)}]}


def read(site: Site, address: str) -> Any:
    return json.load(site.open("GET", f"/api/lists/{address}"))


def values(column: dict[str, Any], how: str) -> list[str]:
    if "empty" in how:
        return []
    known = [c["value"] for c in column["choices"][:1]] or VALUES.get(column["kind"], ["a"])
    return known if how == "between" else known[:1]


def main() -> None:
    asked, slow = 0, []
    with demo_site() as (site, health):
        grown()
        site.get("")
        for name in [one["name"] for one in read(site, "names")]:
            total = json.loads(ask(site, "rows", {}, name))["counted"]["total"]
            for part, question in questions(read(site, f"{quote(name)}?week={WEEK}")["columns"]):
                first = total // 2 if part == "middle" else 0
                took = fastest(site, name, part.replace("middle", "rows"), question, first)
                asked += 1
                slow.append((took, name, part, json.dumps(question)))
    slow.sort(reverse=True)
    over = sum(took > TARGET for took, *_ in slow)
    title = f"{asked} questions beside {ORDERS} WOs and {ASSETS} assets: {over} over {TARGET:.0f} ms"
    table = Table("list", "part", "question", "best", "x baseline", title=title)
    table.add_row("health check (baseline)", "", "", f"{health:.1f} ms", "1.0")
    for took, name, part, question in slow[:15]:
        table.add_row(name, part, question, f"{took:.0f} ms", f"{took / health:.1f}")
    Console(width=160).print(table)


def fastest(site: Site, name: str, part: str, question: dict[str, Any], first: int) -> float:
    """Milliseconds until it is answered; the best of a few where the first answer took long."""
    work = lambda: ask(site, part, question, name, first)  # noqa: E731
    (took,) = milliseconds(work, 1)
    return took if took < 0.8 * TARGET else min(milliseconds(work, AGAIN))
