"""What a foreign table may tell of work orders and tasks, and good guesses of which column tells it."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from difflib import SequenceMatcher
from typing import Any

from nundine.formats.bad import BadCell
from nundine.formats.foreign.cells import DATE, blank, hours, moment, plain
from nundine.formats.foreign.table import ForeignTable

DATES = ("raised", "earliest", "due", "latest", "parts_ready")
ORDER_FIELDS = (
    "title",
    "asset",
    "kind",
    "state",
    "raised",
    "earliest",
    "due",
    "latest",
    "must",
    "parts_ready",
    "permit",
    "description",
)
SAMPLE = 200


@dataclass(frozen=True)
class Field:
    """`words`: names that columns for it have, in several languages, plain (general trade words)."""

    name: str
    label: str
    words: tuple[str, ...]


def _field(name: str, label: str, words: str) -> Field:
    return Field(name, label, tuple(w.strip() for w in words.split(",")))


FIELDS: tuple[Field, ...] = (
    _field(
        "number",
        "WO number",
        "wo, wo no, wo number, work order, order, order no, order number, job, job no, job number, "
        "number, no, id, auftrag, auftragsnummer, auftragsnr, auftrag nr, ordre, numero, ordre de "
        "travail, bon",
    ),
    _field(
        "title",
        "title",
        "title, short text, summary, subject, job description, work description, what, "
        "bezeichnung, kurztext, titel, betreff, objet, libelle, intitule",
    ),
    _field(
        "asset",
        "asset",
        "asset, asset no, asset id, equipment, equipment no, machine, object, location, tag, "
        "place, anlage, anlagennummer, maschine, objekt, ort, equipement, installation, lieu",
    ),
    _field(
        "asset_name",
        "asset name",
        "asset name, asset description, equipment name, equipment description, machine name, object name, "
        "location name, anlagenbezeichnung, anlagenname, objektbezeichnung, designation equipement",
    ),
    _field(
        "area",
        "area",
        "area, site area, zone, district, region, section, department, plant section, bereich, abteilung, "
        "werk, secteur, atelier",
    ),
    _field(
        "kind",
        "kind of work",
        "kind, kind of work, type, work type, order type, category, class, art, auftragsart, typ, "
        "kategorie, nature, categorie, genre",
    ),
    _field("state", "state", "state, status, order status, stage, zustand, stand, etat, statut"),
    _field(
        "raised",
        "raised on",
        "raised, raised on, created, created on, reported, reported on, entered, opened, erstellt, "
        "erfasst, gemeldet, angelegt, cree, cree le, signale",
    ),
    _field(
        "due",
        "due",
        "due, due date, due by, needed by, required by, finish by, deadline, target, faellig, "
        "fallig, fallig am, bis, termin, endtermin, echeance, pour le, date limite",
    ),
    _field(
        "earliest",
        "earliest start",
        "earliest, earliest start, not before, start after, release, released, fruhestens, "
        "frueheste, ab, pas avant, debut au plus tot",
    ),
    _field("latest", "latest end", "latest, latest end, not after, spatestens, au plus tard"),
    _field("must", "must", "must, mandatory, compulsory, statutory, pflicht, muss, obligatoire"),
    _field(
        "parts_ready",
        "parts ready on",
        "parts, parts ready, parts by, parts date, material, material ready, material date, teile, "
        "teile da, material ab, materialtermin, pieces, pieces pretes",
    ),
    _field("permit", "permit", "permit, permit status, freigabe, erlaubnis, permis"),
    _field(
        "description",
        "description",
        "description, long text, details, notes, remark, remarks, comment, langtext, beschreibung, "
        "bemerkung, remarque, commentaire",
    ),
    _field(
        "task",
        "task number",
        "task, task no, step, step no, operation, operation no, op, line, activity, vorgang, "
        "vorgangsnr, position, pos, schritt, tache, etape, ligne",
    ),
    _field(
        "task_title",
        "task",
        "task title, task description, step text, operation text, activity text, task text, "
        "vorgangstext, arbeitsschritt, tatigkeit, libelle tache, travail a faire",
    ),
    _field(
        "hours",
        "hours",
        "hours, hrs, h, duration, est hours, estimated hours, planned hours, labor hours, labour "
        "hours, work hours, minutes, min, time, dauer, stunden, std, aufwand, arbeit, plan std, "
        "duree, heures, heures prevues, temps",
    ),
    _field(
        "people",
        "people",
        "people, persons, crew size, headcount, heads, qty, men, number of people, anzahl, anz, "
        "personen, leute, mann, nb pers, effectif, personnes",
    ),
    _field(
        "craft",
        "craft",
        "craft, trade, skill, work center, workcenter, crew, discipline, resource, gewerk, "
        "arbeitsplatz, berufsgruppe, qualifikation, metier, corps de metier, specialite",
    ),
    _field("level", "level", "level, grade, skill level, stufe, niveau"),
    _field(
        "after",
        "follows",
        "after, follows, predecessor, predecessors, previous, depends on, nach, vorganger, apres, "
        "precedent, predecesseur",
    ),
    _field(
        "asset_state",
        "asset state",
        "asset state, machine state, shutdown, stop needed, system condition, condition, "
        "stillstand, anlagenzustand, arret, etat machine",
    ),
)
FIELD_BY_NAME = {f.name: f for f in FIELDS}


def _likeness(column: str, field: Field) -> float:
    """How well a column's name suits a field, 0 to 1, whatever capitals, signs and cuts it was written
    with."""
    name = re.sub(r" (2|3)$", "", plain(_parted(column)))
    best = 0.0
    for word in field.words:
        if name == word:
            return 1.0
        if len(name) > 4 and name.replace(" ", "") == word.replace(" ", ""):
            return 0.97
        tokens, wanted = set(name.split()), set(word.split())
        if wanted <= tokens or (len(name) > 2 and tokens <= wanted):
            best = max(best, 0.75 + 0.05 * len(tokens & wanted) - 0.04 * len(tokens ^ wanted))
        elif _abbreviates(name, word):
            best = max(best, 0.62)
        elif len(name) > 4 and len(word) > 4:
            best = max(best, 0.8 * SequenceMatcher(None, name, word).ratio() - 0.05)
    return best


def _parted(column: str) -> str:
    """`WorkOrderNo` and `work_order_no` as words."""
    return re.sub(r"(?<=[a-z])(?=[A-Z])|_", " ", column)


def _abbreviates(short: str, word: str) -> bool:
    """Whether a name is a word cut short, each of its parts in order: `descr`, `eqp no`, `mch`, `dsc`."""
    parts, whole = short.split(), word.split()
    if len(short.replace(" ", "")) < 3 or len(parts) > len(whole):
        return False
    return all(_cut(a, b) for a, b in zip(parts, whole, strict=False)) and len(parts) == len(whole)


def _cut(short: str, word: str) -> bool:
    """The beginning of a word, or the beginning of its consonants."""
    if word.startswith(short):
        return len(short) >= 2 or short == word
    bones = word[0] + re.sub(r"[aeiou]", "", word[1:])
    return len(short) >= 3 and bones.startswith(short)


def _values(cells: Sequence[Any], field: str, known: Mapping[str, Mapping[str, str]]) -> float:
    """How well the values suit a field: from -1 (never) to 1 (only this one)."""
    filled = [c for c in cells if not blank(c)]
    if not filled:
        return 0.0

    def share(fits: Any) -> float:
        return sum(bool(fits(c)) for c in filled) / len(filled)

    if field in DATES:
        found = share(_is_date)
        return 0.4 if found > 0.9 else -1.0
    if field == "hours":
        return 0.2 if share(_is_hours) > 0.9 else -1.0
    if field in ("people", "level"):
        return 0.1 if share(lambda c: re.fullmatch(r"\d{1,2}([.,]0)?", str(c).strip())) > 0.9 else -1.0
    if field in known:
        return 0.9 * share(lambda c: plain(c) in known[field]) - (0.2 if field == "asset" else 0.0)
    if field == "number":
        return 0.2 if share(lambda c: any(x.isdigit() for x in str(c)) and len(str(c)) < 30) > 0.9 else -1.0
    if field == "task":
        return 0.1 if share(lambda c: len(str(c)) <= 8) > 0.9 else -1.0
    if field in ("title", "task_title", "description"):
        return 0.2 if share(lambda c: isinstance(c, str) and any(x.isalpha() for x in c)) > 0.8 else -1.0
    return 0.0


def _is_date(cell: Any) -> bool:
    if isinstance(cell, (date, datetime)):
        return True
    if isinstance(cell, (int, float)):
        return 20000 < cell < 80000
    if DATE.match(str(cell).strip()):
        return True
    try:
        moment(cell, "dmy", serial=False)
    except BadCell:
        return False
    return True


def _is_hours(cell: Any) -> bool:
    if isinstance(cell, (time, timedelta)):
        return True
    try:
        return 0 <= hours(cell, "h", ".") < 20000 and not _is_written_date(cell)
    except BadCell:
        return False


def _is_written_date(cell: Any) -> bool:
    return isinstance(cell, str) and bool(DATE.match(cell.strip()))


def guess_columns(table: ForeignTable, known: Mapping[str, Mapping[str, str]]) -> dict[str, str]:
    """The column of each field that seems to have one; each column once. `known`: words of crafts, assets,
    kinds and states."""
    cells = {c: [r[n] for _, r in table.rows[:SAMPLE]] for n, c in enumerate(table.columns)}
    scores = []
    for n, column in enumerate(table.columns):
        for field in FIELDS:
            like, fits = _likeness(column, field), _values(cells[column], field.name, known)
            total = like + fits
            if fits > -1 and like >= 0.55 or (fits >= 0.6 and like >= 0.2) or fits >= 0.85:
                scores.append((round(total, 4), -n, column, field.name))
    found: dict[str, str] = {}
    for _, _, column, name in sorted(scores, reverse=True):
        if name not in found and column not in found.values():
            found[name] = column
    return _settled(_by_shape(found, cells))


def _by_shape(found: dict[str, str], cells: Mapping[str, Sequence[Any]]) -> dict[str, str]:
    """What a list must have and no column is named for is looked for in the shape of the columns left: the
    only one of dates, the longest text, few short codes."""
    out = dict(found)

    def left() -> dict[str, list[Any]]:
        taken = set(out.values())
        return {c: [x for x in its if not blank(x)] for c, its in cells.items() if c not in taken}

    if not any(f in out for f in DATES):
        dates = [c for c, its in left().items() if its and all(map(_is_written, its))]
        if len(dates) == 1:
            out["raised"] = dates[0]
    if "title" not in out and "task_title" not in out:
        texts = {c: _length(its) for c, its in left().items() if _length(its) >= LEAST_TITLE}
        if texts:
            out["title"] = max(texts, key=lambda c: texts[c])
    if "asset" not in out:
        codes = [c for c, its in left().items() if _are_codes(its)]
        if len(codes) == 1:
            out["asset"] = codes[0]
    return out


LEAST_TITLE, LONGEST_CODE = 9.0, 16
"""Letters that a title has on average, and that a code has at most."""


def _is_written(cell: Any) -> bool:
    """A date that is no bare figure."""
    return isinstance(cell, date) or (isinstance(cell, str) and _is_date(cell))


def _length(cells: Sequence[Any]) -> float:
    """Average length of what is text; 0 where less than four fifths of the cells hold letters."""
    texts = [c for c in cells if isinstance(c, str) and any(x.isalpha() for x in c)]
    return sum(map(len, texts)) / len(texts) if texts and len(texts) > 0.8 * len(cells) else 0.0


def _are_codes(cells: Sequence[Any]) -> bool:
    """Short, with letters, and each many times."""
    words = [str(c).strip() for c in cells]
    return (
        len(words) > 3
        and all(len(w) <= LONGEST_CODE and any(x.isalpha() for x in w) for w in words)
        and len(set(words)) <= max(2, len(words) // 2)
    )


def _settled(found: dict[str, str]) -> dict[str, str]:
    """A table with a row for each WO has no task number, so its one text is the title."""
    if "task_title" in found and "title" not in found:
        found["title"] = found.pop("task_title")
    return {f.name: found[f.name] for f in FIELDS if f.name in found}
