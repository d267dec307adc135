"""`./nundine bench exports`: an export of 5,000 WOs with their tasks: opened, compared, brought in by the
worker, and again a week later.

The baseline is the server's health check in the same run.
"""

from __future__ import annotations

import csv
import io
import json
import time
import urllib.request
import uuid
from datetime import date, timedelta
from random import Random

from rich.console import Console
from rich.table import Table

from bench.site import Site, demo_site
from nundine.demo import exports, places

COUNT = 5000
GERMAN = {v: k for k, v in exports.CRAFT_WORDS["north"].items()}


def export(later: bool) -> bytes:
    """A row for each task; a week later a tenth has changed, some are new, some are gone."""
    r, out = Random(7), io.StringIO(newline="")
    assets = [a["asset"] for a in places.assets()]
    w = csv.writer(out, delimiter=";")
    w.writerow(exports.NORTH_COLUMNS)
    for n in range(COUNT + (200 if later else 0)):
        title, kind, steps = exports.TITLES[r.randrange(len(exports.TITLES))]
        asset, due = r.choice(assets), date(2026, 12, 13) + timedelta(days=r.randrange(18))
        if later and n % 50 == 3:
            continue
        for k, (what, craft, hours, people) in enumerate(steps, 1):
            more = 1.0 if later and n % 10 == 4 else 0.0
            row = [
                f"B-{n:05}",
                title,
                asset,
                exports.KINDS["north"][kind],
                "02.11.2026",
                f"{due:%d.%m.%Y}",
                10 * k,
                what,
            ]
            w.writerow(
                [*row, exports.CRAFT_WORDS["north"][craft], f"{hours + more:.2f}".replace(".", ","), people]
            )
    return out.getvalue().encode("cp1252")


def main() -> None:
    table = Table(
        "what", "seconds", "target", "x baseline", title=f"An export of {COUNT:,} WOs with their tasks"
    )
    with demo_site() as (site, baseline):
        health = baseline / 1000

        def row(name: str, seconds: float, target: str) -> None:
            table.add_row(name, f"{seconds:.2f}", target, f"{seconds / health:.0f}")

        for later in (False, True):
            began = time.perf_counter()
            opened = _upload(site, export(later))
            mapping = {**opened["mapping"], "name": "Bench", "values": {"craft": GERMAN}}
            row(
                f"{'a week later: ' if later else ''}opened, columns guessed", time.perf_counter() - began, ""
            )
            began = time.perf_counter()
            made = json.load(
                site.open("POST", f"/api/foreign/{opened['id']}/difference", {"mapping": mapping})
            )
            row(
                f"{'a week later: ' if later else ''}compared",
                time.perf_counter() - began,
                "< 10 s" if later else "",
            )
            began = time.perf_counter()
            site.open("POST", f"/api/foreign/{opened['id']}/bring-in", {"mapping": mapping})
            while (found := json.load(site.open("GET", f"/api/foreign/{opened['id']}")))["state"] in (
                "waiting",
                "working",
            ):
                time.sleep(0.1)
            if found["state"] != "done":
                raise RuntimeError(str(found))
            row(
                f"{'a week later: ' if later else ''}brought in ({made['new_count']} new, "
                f"{made['changed_count']} changed)",
                time.perf_counter() - began,
                "< 20 s",
            )
    Console(width=110).print(table)


def _upload(site: Site, data: bytes) -> dict:  # type: ignore[type-arg]
    mark = uuid.uuid4().hex
    body = (
        (f'--{mark}\r\nContent-Disposition: form-data; name="file"; filename="bench.csv"\r\n\r\n').encode()
        + data
        + f"\r\n--{mark}--\r\n".encode()
    )
    headers = {
        "x-nundine": "1",
        "content-type": f"multipart/form-data; boundary={mark}",
        "cookie": site.cookie,
    }
    request = urllib.request.Request(site.address + "/api/foreign", body, headers)
    return dict(json.load(urllib.request.urlopen(request, timeout=60)))
