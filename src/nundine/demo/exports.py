"""Exports of three invented systems, one for each valley, each with its maker's habits; for the week of the
demo and the one after.

North: CSV with semicolons in Windows-1252, a row for each task, decimal commas, dotted dates, a total at the
bottom. Middle: a workbook with titles on top, a row for each WO, hours as 1:30, some dates as text with the
month first. Lake: CSV with commas, the WO on its first row only, minutes, one row twice.
"""

from __future__ import annotations

import csv
import io
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from pathlib import Path
from random import Random

from openpyxl import Workbook

from nundine.core.timeline import week_beside, week_monday
from nundine.demo import places

KINDS = {
    "north": {
        "corrective": "Reparatur",
        "preventive": "Wartung",
        "statutory": "Prüfung",
        "safety": "Sicherheit",
    },
    "middle": {"corrective": "Repair", "preventive": "PM", "statutory": "Inspection", "safety": "Safety"},
    "lake": {
        "corrective": "correctif",
        "preventive": "préventif",
        "statutory": "contrôle réglementaire",
        "safety": "sécurité",
    },
}
TITLES = (
    (
        "Bearing runs hot",
        "corrective",
        (("Measure and open", "mech", 1.0, 1), ("Exchange bearing", "mech", 3.5, 2)),
    ),
    ("Cabinet heater out of order", "corrective", (("Exchange heater", "elec", 1.5, 1),)),
    ("Grease all sheaves", "preventive", (("Grease", "mech", 2.5, 1), ("Wipe and check", "hand", 1.5, 1))),
    ("Guard rail loose", "safety", (("Weld and paint", "weld", 2.0, 1),)),
    (
        "Yearly brake inspection",
        "statutory",
        (("Strip brake", "mech", 2.0, 2), ("Measure and report", "mech", 1.5, 1)),
    ),
    (
        "Hydraulic unit sweats oil",
        "corrective",
        (("Exchange seals", "hyd", 3.0, 1), ("Bleed", "hyd", 0.75, 1)),
    ),
    (
        "Position sensor drifts again",
        "corrective",
        (("Find fault", "ctrl", 1.25, 1), ("Replace", "ctrl", 1.0, 1)),
    ),
    ("Emergency lighting test", "statutory", (("Test all fittings", "elec", 2.0, 1),)),
    ("Snow pole nets torn", "safety", (("Mend nets", "hand", 3.0, 2),)),
    (
        "Oil sample and filter",
        "preventive",
        (("Sample", "mech", 0.5, 1), ("Exchange filter", "mech", 1.0, 1)),
    ),
)
CRAFT_WORDS = {
    "north": {
        "mech": "Mechanik",
        "elec": "Elektro",
        "hand": "Hilfskraft",
        "weld": "Schweissen",
        "hyd": "Hydraulik",
        "ctrl": "Steuerung",
    },
    "middle": {
        "mech": "Ropeway mechanic",
        "elec": "Electrician",
        "hand": "General hand",
        "weld": "Welder",
        "hyd": "Hydraulic fitter",
        "ctrl": "Controls technician",
    },
    "lake": {"mech": "MECH", "elec": "ELEC", "hand": "HAND", "weld": "WELD", "hyd": "HYD", "ctrl": "CTRL"},
}


@dataclass(frozen=True)
class _Order:
    number: str
    title: str
    kind: str
    asset: str
    name: str
    raised: date
    due: date | None
    steps: tuple[tuple[str, str, float, int], ...]


def _orders(area: str, week: str, later: bool) -> list[_Order]:
    """Two dozen WOs of an area; a week later some are gone, some changed, some new."""
    r, monday = Random(f"export {area}"), week_monday(week) - timedelta(days=7 if later else 0)
    assets = [a for a in places.assets() if a["area"] == area]
    prefix = {"north": "N-60{:03}", "middle": "7004{:03}", "lake": "OT/26/{:03}"}[area]
    made = []
    for n in range(30):
        title, kind, steps = TITLES[r.randrange(len(TITLES))]
        asset = r.choice(assets)
        due = monday + timedelta(days=r.randrange(3, 30)) if r.random() < 0.7 else None
        made.append(
            _Order(
                prefix.format(n),
                title,
                kind,
                asset["asset"],
                asset["name"],
                monday - timedelta(days=r.randrange(5, 120)),
                due,
                steps,
            )
        )
    if not later:
        return made[:24]
    kept = [o for n, o in enumerate(made) if n not in (2, 5)]
    out = []
    for n, o in enumerate(kept):
        what, craft, hours, people = o.steps[0]
        if n % 7 == 3:
            o = replace(o, steps=((what, craft, hours + 1.0, people), *o.steps[1:]))
        if n % 9 == 4:
            o = replace(o, due=(o.due or monday) + timedelta(days=7))
        out.append(o)
    return out


def _number(value: float) -> str:
    return f"{value:.2f}".replace(".", ",")


NORTH_COLUMNS = (
    "Auftrag",
    "Kurztext",
    "Anlage",
    "Auftragsart",
    "Erstellt",
    "Fällig am",
    "Vorgang",
    "Vorgangstext",
    "Gewerk",
    "Std.",
    "Anz.",
)
"""Columns of the export of the north's order system."""


def north(week: str, later: bool = False) -> bytes:
    out = io.StringIO(newline="")
    w = csv.writer(out, delimiter=";", lineterminator="\r\n")
    w.writerow(NORTH_COLUMNS)
    total = 0.0
    for o in _orders("north", week, later):
        for n, (what, craft, hours, people) in enumerate(o.steps, 1):
            due = f"{o.due:%d.%m.%Y}" if o.due else ""
            w.writerow(
                [
                    o.number,
                    o.title,
                    o.asset,
                    KINDS["north"][o.kind],
                    f"{o.raised:%d.%m.%Y}",
                    due,
                    f"{10 * n:04}",
                    what,
                    CRAFT_WORDS["north"][craft],
                    _number(hours),
                    people,
                ]
            )
            total += hours
        if o.number.endswith("7"):
            w.writerow([""] * 11)
    w.writerow([])
    w.writerow(["Summe", "", "", "", "", "", "", "", "", _number(total), ""])
    return out.getvalue().encode("cp1252")


def middle(week: str, later: bool = False) -> bytes:
    book = Workbook()
    sheet = book.active
    assert sheet is not None
    sheet.title = "Open work"
    sheet.append(["Open work of the middle station"])
    sheet.append(["printed", datetime(2026, 1, 5, 7, 30)])
    sheet.append([])
    sheet.append(
        [
            "Created",
            "Job No",
            "Equipment",
            "Job description",
            "Type",
            "Trade",
            "Crew size",
            "Duration",
            "Required by",
        ]
    )
    rows = _orders("middle", week, later)
    for o in rows:
        hours = sum(s[2] for s in o.steps)
        craft, people = o.steps[-1][1], max(s[3] for s in o.steps)
        due = (
            None
            if o.due is None
            else f"{o.due:%m/%d/%Y}"
            if o.due.day <= 12
            else datetime(o.due.year, o.due.month, o.due.day)
        )
        raised = datetime(o.raised.year, o.raised.month, o.raised.day)
        length = f"{int(hours)}:{round(60 * (hours % 1)):02}"
        sheet.append(
            [
                raised,
                int(o.number),
                o.name,
                o.title,
                KINDS["middle"][o.kind],
                CRAFT_WORDS["middle"][craft],
                people,
                length,
                due,
            ]
        )
    sheet.append(
        [
            None,
            None,
            None,
            "Total",
            None,
            None,
            None,
            f"{sum(int(sum(s[2] for s in o.steps)) for o in rows)}:00",
            None,
        ]
    )
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def lake(week: str, later: bool = False) -> bytes:
    out = io.StringIO(newline="")
    w = csv.writer(out)
    w.writerow(
        [
            "ordre",
            "lieu",
            "nature",
            "objet",
            "signalé le",
            "échéance",
            "tâche",
            "travail à faire",
            "métier",
            "minutes",
            "nb pers",
        ]
    )
    for k, o in enumerate(_orders("lake", week, later)):
        for n, (what, craft, hours, people) in enumerate(o.steps, 1):
            due = f"{o.due.day}-{o.due:%b-%Y}" if o.due else ""
            first = (
                [o.number, o.asset.lower(), KINDS["lake"][o.kind], o.title, f"{o.raised:%Y%m%d}", due]
                if n == 1
                else [""] * 6
            )
            row = [*first, n, what, CRAFT_WORDS["lake"][craft], round(60 * hours), people]
            w.writerow(row)
            if k == 6 and n == 1:
                w.writerow([o.number, *row[1:]])
    return ("\ufeff" + out.getvalue()).encode()


FILES = {"north-open-work.csv": north, "middle-open-work.xlsx": middle, "lake-open-work.csv": lake}


def files(week: str, later: bool = False) -> dict[str, bytes]:
    """The three files by name."""
    return {name: make(week, later) for name, make in FILES.items()}


def write(folder: Path, week: str) -> None:
    """The files of a week and of the one after, for people to try; nothing if the folder is there."""
    if folder.exists():
        return
    folder.mkdir()
    for later, of in ((False, week), (True, week_beside(week, 1))):
        for name, data in files(of, later).items():
            (folder / f"{of}-{name}").write_bytes(data)
