"""`./nundine bench preventive`: a month's calendar, the forecast of 10,000 services over a year with its
levelling, and 1,000 raised at once.

Baseline: the same server's health check.
"""

from __future__ import annotations

import json
import statistics
from datetime import date, timedelta
from functools import partial
from typing import Any

from rich.console import Console
from rich.table import Table

from bench.site import TODAY, Site, demo_site, milliseconds
from nundine.services.exchange.stored_rows import changes_of, standing
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Edit
from nundine.store.base import db

SERVICES, RAISED, UNITS = 10_000, 1_000, 100
FORECAST = "/api/preventive/forecast?first={first}&days=364"
MONTH = "/api/preventive/forecast?first={first}&days=42"


def grown(today: date, plans: range) -> list[dict[str, str]]:
    """Plans of a hundred services each, on as many assets; gives those of the first plans."""
    with db.connection_context(), db.atomic():
        one = next(a for a in standing("assets") if a["parent"])
        job_plan = next(p["number"] for p in standing("job_plans") if p["state"] == "in force")
        plan = standing("preventive_plans")[0]
        new: dict[str, list[dict[str, Any]]] = {"assets": [], "preventive_plans": [], "services": []}
        assets = [{**one, "asset": f"x{n}", "name": f"Unit {n}"} for n in range(UNITS)]
        new["assets"] = assets if plans.start == 0 else []
        keys = tuple(sorted(a["asset"] for a in assets))
        for n in plans:
            number = f"PX-{n:04}"
            rungs = ("monthly: 1 month", "yearly: 1 year") if n % 3 == 0 else ("monthly: 1 month",)
            row = {**plan, "number": number, "assets": keys, "rungs": rungs, "job_plan": job_plan, "grid": ()}
            new["preventive_plans"].append({**row, "before": 10, "behind": 10, "season": ()})
            for m, asset in enumerate(keys):  # each was done last on another day
                done = str(today - timedelta(days=(n + m) % 97))
                lasts = tuple((r.partition(":")[0], done, done, done) for r in rungs)
                row = {"plan": number, "asset": asset, "held": False, "moved": None, "lasts": lasts}
                new["services"].append(row)
        write("files", None, Edit("import", "Many services", changes_of(new)), checked=True)
    picked = [(s["plan"], s["asset"]) for s in new["services"][:RAISED]]
    return [{"plan": plan_, "asset": asset} for plan_, asset in picked]


def main() -> None:
    with demo_site() as (site, health):
        table = Table("what", "median ms", "times the health check")

        def line(what: str, times: list[float]) -> None:
            middle = statistics.median(times)
            table.add_row(what, f"{middle:.0f}", f"{middle / health:.0f}")

        first = TODAY - timedelta(days=TODAY.weekday())
        ask = partial(_read, site, FORECAST.format(first=first))
        line("a year of the demo's services", milliseconds(ask, 3))
        picked = grown(TODAY, range(RAISED // UNITS))
        month = partial(_read, site, MONTH.format(first=first))
        told = json.loads(month())
        many = len(told["falls"]) + sum(len(x["days"]) for x in told["later"])
        line(f"a month's calendar of {many} occurrences", milliseconds(month, 3))
        grown(TODAY, range(RAISED // UNITS, SERVICES // UNITS))
        line(f"a year of {SERVICES} services", milliseconds(ask, 3))
        raising = partial(site.open, "POST", "/api/preventive/raising/picked", {"picked": picked})
        line(f"{RAISED} services raised at once", milliseconds(raising, 1))
        Console().print(table)


def _read(site: Site, path: str) -> bytes:
    return bytes(site.open("GET", path).read())
