"""A mapping from a foreign table to work orders and tasks: what people see, answer, change and keep under a
name."""

from __future__ import annotations

from collections.abc import Iterable
from collections.abc import Mapping as Words
from dataclasses import asdict, dataclass, field, fields
from typing import Any, Literal

from nundine.formats.foreign.cells import blank, date_styles, decimal_marks, differ, plain
from nundine.formats.foreign.fields import DATES, guess_columns
from nundine.formats.foreign.table import ForeignTable

Style = Literal["dmy", "mdy", "ymd"]
"""The order of day, month and year in written dates."""

WORDS: dict[str, dict[str, str]] = {
    "kind": {
        "statutory": (
            "statutory, inspection, legal, prufung, pruefung, gesetzlich, controle "
            "reglementaire, reglementaire"
        ),
        "safety": "safety, sicherheit, arbeitssicherheit, securite",
        "breakdown": "breakdown, emergency, urgent, storung, stoerung, notfall, panne, depannage",
        "corrective": (
            "corrective, repair, cm, fault, defect, reparatur, instandsetzung, mangel, "
            "correctif, reparation, curatif"
        ),
        "preventive": (
            "preventive, pm, maintenance, service, scheduled, wartung, instandhaltung, "
            "inspektion, vorbeugend, preventif, entretien"
        ),
        "improvement": "improvement, modification, upgrade, verbesserung, umbau, amelioration",
        "project": "project, projekt, projet, capital",
    },
    "state": {
        "draft": "draft, new, requested, entwurf, neu, erfasst, brouillon, nouveau",
        "planned": "planned, in planning, geplant, in planung, planifie",
        "approved": (
            "approved, released, ready, open, scheduled, freigegeben, offen, bereit, "
            "approuve, valide, ouvert, pret"
        ),
        "under way": "under way, in progress, started, begonnen, in arbeit, laufend, en cours, commence",
        "done": "done, finished, complete, completed, fertig, erledigt, abgeschlossen, termine, fait",
        "closed": "closed, historic, archived, geschlossen, archiviert, clos, cloture",
        "on hold": "on hold, waiting, suspended, wartet, zuruckgestellt, pausiert, en attente, suspendu",
        "cancelled": "cancelled, canceled, void, storniert, abgebrochen, annule",
    },
    "asset_state": {
        "stopped": "stopped, shutdown, down, yes, stop, y, 0, stillstand, steht, ja, aus, arret, oui",
        "running": "running, in operation, up, on, 1, lauft, laeuft, betrieb, in betrieb, marche, en marche",
        "any": "any, no, n, either, egal, nein, beliebig, non, indifferent",
    },
    "permit": {
        "not needed": "not needed, none, no, n, nicht notig, keine, nein, non, aucun",
        "waiting": "waiting, pending, requested, open, offen, beantragt, yes, ja, en attente, demande, oui",
        "granted": "granted, ok, approved, issued, erteilt, accorde",
    },
    "must": {"yes": "yes, y, true, 1, x, ja, j, oui, o, must, pflicht", "no": "no, n, false, 0, nein, non"},
}
MEANINGS = {
    name: {plain(w): ours for ours, ws in group.items() for w in (ours, *ws.split(","))}
    for name, group in WORDS.items()
}


@dataclass(frozen=True)
class ForeignMapping:
    """How a table is read. None stands for a question that is still open.

    Parameters
    ----------
    columns
        Column of the file by field.
    dates
        Order of day, month and year in written dates: ymd, dmy, mdy.
    decimals
        The sign before decimals.
    unit
        What bare figures of hours are: h or min.
    hours_are
        "elapsed" from start to end of a task, or "work" of all its people together.
    chain
        Whether tasks of a WO follow each other in their order, where no column says.
    values
        Ours by their word, for craft, kind, state, asset, asset_state, permit and must.
    defaults
        What holds where a column or a cell is missing: kind, craft, hours, the area of new assets.
    make
        Kinds of which unknown words are made on the way in: asset, area, craft.
    """

    name: str = ""
    columns: dict[str, str] = field(default_factory=dict)
    dates: Style | None = None
    decimals: Literal[",", "."] | None = None
    unit: Literal["h", "min"] = "h"
    hours_are: Literal["elapsed", "work"] = "elapsed"
    chain: bool = True
    values: dict[str, dict[str, str]] = field(default_factory=dict)
    defaults: dict[str, str] = field(default_factory=lambda: {"kind": "corrective"})
    make: list[str] = field(default_factory=list)

    def document(self) -> dict[str, Any]:
        return asdict(self)

    @classmethod
    def of(cls, document: dict[str, Any]) -> ForeignMapping:
        """Raises ValueError for what is no mapping."""
        known = {f.name for f in fields(cls)}
        if not isinstance(document, dict) or set(document) - known:
            raise ValueError(f"a mapping has {', '.join(sorted(known))}")
        return cls(**document)


@dataclass(frozen=True)
class Question:
    """Something that can be read in two ways: what, the choices, and the cell that shows it."""

    what: Literal["dates", "decimals"]
    text: str
    choices: tuple[tuple[str, str], ...]


STYLE_NAMES = {"dmy": "day, month, year", "mdy": "month, day, year", "ymd": "year, month, day"}


def meaning(
    values: Words[str, Words[str, str]], known: Words[str, Words[str, str]], what: str, cell: Any
) -> str | None:
    """Ours for a word of theirs: as the mapping says, else a key or name that we know, else a usual word;
    None = unknown."""
    said = values.get(what, {}).get(str(cell).strip())
    if said is not None:
        return said
    word = plain(cell)
    return known.get(what, {}).get(word) or MEANINGS.get(what, {}).get(word)


def guess(table: ForeignTable, known: Words[str, Words[str, str]]) -> ForeignMapping:
    """A first mapping: columns by their names and values; formats where all cells agree on one."""
    columns = guess_columns(table, {**MEANINGS, **known})
    name = plain(columns.get("hours", "")).split()
    work = "people" in columns and any(
        w in name for w in ("labor", "labour", "work", "arbeit", "aufwand", "man")
    )
    styles, marks = date_styles(_dates(table, columns)), decimal_marks(_figures(table, columns))
    return ForeignMapping(
        columns=columns,
        dates=_only(styles, STYLE_NAMES),
        decimals=_only(marks, (".", ",")),
        unit="min" if any(w in name for w in ("min", "minutes", "minuten", "mins")) else "h",
        hours_are="work" if work else "elapsed",
    )


def _only(found: set[str], of: Iterable[Any]) -> Any:
    """The one of them that was found; None where several were, or none."""
    return next(one for one in of if one in found) if len(found) == 1 else None


def _column(table: ForeignTable, columns: dict[str, str], name: str) -> list[Any]:
    if columns.get(name) not in table.columns:
        return []
    n = table.columns.index(columns[name])
    return [r[n] for _, r in table.rows if not blank(r[n])]


def _dates(table: ForeignTable, columns: dict[str, str]) -> list[Any]:
    return [c for f in DATES for c in _column(table, columns, f)]


def _figures(table: ForeignTable, columns: dict[str, str]) -> list[Any]:
    return _column(table, columns, "hours") + _column(table, columns, "people")


def questions(table: ForeignTable, mapping: ForeignMapping) -> list[Question]:
    """What has to be answered before anything can be understood without guessing."""
    out = []
    if mapping.dates is None:
        written = _dates(table, mapping.columns)
        styles = date_styles(written)
        shown = differ(written, styles)
        if shown is not None:
            out.append(
                Question(
                    "dates",
                    f"What is first in dates like {shown}?",
                    tuple((s, STYLE_NAMES[s]) for s in ("dmy", "mdy", "ymd") if s in styles),
                )
            )
    if mapping.decimals is None:
        figures = _figures(table, mapping.columns)
        marks = decimal_marks(figures)
        both = next((c for c in figures if isinstance(c, str) and any(x in c for x in ".,")), None)
        if len(marks) == 2 and both is not None:
            out.append(
                Question(
                    "decimals",
                    f"Which sign parts decimals in figures like {both}?",
                    ((",", "comma"), (".", "point")),
                )
            )
    return out
