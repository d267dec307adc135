"""`./nundine bench parts`: where a part is, 600 movements posted at once, when the parts of 5,000 WOs with
four needs each are there, and how long one change of that takes.

Baseline: the same server's health check.
"""

from __future__ import annotations

import statistics
import time
from functools import partial
from typing import Any

from rich.console import Console
from rich.table import Table

from bench.site import Site, demo_site, milliseconds
from nundine.services import derived_parts
from nundine.services.exchange.stored_rows import changes_of, standing
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Edit
from nundine.store.base import db

ORDERS, NEEDS, MOVES = 5_000, 4, 600


def grown() -> list[str]:
    """WOs with four needs each, of all parts in turn; gives the parts."""
    with db.connection_context(), db.atomic():
        one = next(o for o in standing("work_orders") if o["state"] == "approved")
        task = next(t for t in standing("tasks") if t["number"] == one["number"])
        keys = [p["part"] for p in standing("parts")]
        orders, tasks = [], []
        for n in range(ORDERS):
            number = f"X-{n:05}"
            parts = tuple((keys[(n * 7 + k * 131) % len(keys)], "", 1.0, None, True) for k in range(NEEDS))
            orders.append({**one, "number": number, "plan": None, "shutdown": None, "shares": ()})
            tasks.append({**task, "number": number, "task": "10", "after": (), "parts": parts})
        new: dict[str, list[dict[str, Any]]] = {"work_orders": orders, "tasks": tasks}
        write("files", None, Edit("import", "Many needs", changes_of(new)), checked=True)
    return keys


def main() -> None:
    with demo_site() as (site, health):
        table = Table("what", "median ms", "times the health check")

        def line(what: str, times: list[float]) -> None:
            middle = statistics.median(times)
            table.add_row(what, f"{middle:.0f}", f"{middle / health:.0f}")

        part = "/api/parts/one/BE-1001"
        line("where a part is", milliseconds(partial(_read, site, part), 20))
        moves = [
            {"kind": "receipt", "part": key, "storeroom": "main", "quantity": 1} for key in _tracked()[:MOVES]
        ]
        post = partial(site.open, "POST", "/api/parts/movements", {"lines": moves})
        line(f"{len(moves)} movements posted at once", milliseconds(post, 1))
        keys = grown()
        line(f"ready dates of {ORDERS} WOs with {NEEDS} needs each", [_all(set(keys))])
        one = {"lines": [{"kind": "receipt", "part": "BE-1001", "storeroom": "main", "quantity": 1}]}
        line(
            "the same after one receipt",
            milliseconds(partial(site.open, "POST", "/api/parts/movements", one), 5),
        )
        line("where a part is, with them", milliseconds(partial(_read, site, part), 20))
        Console().print(table)


def _tracked() -> list[str]:
    with db.connection_context():
        return [p["part"] for p in standing("parts") if p["tracked"]]


def _all(parts: set[str]) -> float:
    """Milliseconds to compute all anew."""
    with db.connection_context(), db.atomic():
        began = time.perf_counter()
        derived_parts.refresh(parts)
        return (time.perf_counter() - began) * 1000


def _read(site: Site, path: str) -> bytes:
    return bytes(site.open("GET", path).read())
