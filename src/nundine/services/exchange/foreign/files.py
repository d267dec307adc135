"""A file on its way in: kept, opened, understood through a mapping, shown as it will be understood."""

from __future__ import annotations

import json
from collections import Counter
from itertools import islice
from typing import Any
from zoneinfo import ZoneInfo

from nundine.formats.bad import BadFile
from nundine.formats.confined import confined
from nundine.formats.foreign.cells import blank, plain
from nundine.formats.foreign.cells_of_rows import NAMED
from nundine.formats.foreign.fields import FIELD_BY_NAME, FIELDS
from nundine.formats.foreign.making import MAKEABLE
from nundine.formats.foreign.mapping import WORDS, ForeignMapping, guess, questions
from nundine.formats.foreign.table import ForeignTable, foreign_tables
from nundine.formats.foreign.understand import Understood, understand
from nundine.services.cache import remember_value
from nundine.services.errors import NotFound, Refused
from nundine.services.exchange.foreign.answers import (
    Answer,
    FieldName,
    FileColumn,
    ForeignPreview,
    NewRecord,
    Opened,
    OpenQuestion,
    ProblemRow,
    UnderstoodOrder,
    UnderstoodTask,
    UnknownWord,
)
from nundine.services.exchange.foreign.in_words import SHOWN, needs_text, shown
from nundine.services.ledger.marks import mark_of, recent
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.asset import Asset
from nundine.store.foreign import Bringing, SavedMapping
from nundine.store.site import Area, Craft, site

FIRST, MOST_WORDS = 12, 100
"""WOs of a preview, and words without a meaning."""


def upload(file: str, data: bytes, account: Account) -> Bringing:
    """Keep a file for a while. Raises Refused for what holds no table."""
    try:
        confined(foreign_tables, file, data)
    except BadFile as bad:
        raise Refused("file", str(bad), field="file") from bad
    return Bringing.create(account=account, file=file[:200], content=data, at=settings().now())


def found(id_: int, account: Account) -> Bringing:
    """A file of this account's own. Raises NotFound."""
    one = Bringing.get_or_none((Bringing.id == id_) & (Bringing.account == account))
    if one is None:
        raise NotFound("file", "This file is not here any more. Choose it again.")
    return one


def table_of(one: Bringing) -> ForeignTable:
    """The table with most rows of the file."""

    def make() -> ForeignTable:
        return max(confined(foreign_tables, one.file, bytes(one.content)), key=lambda t: len(t.rows))

    made: ForeignTable = remember_value(("foreign", one.id, one.at.isoformat()), make)
    return made


def known_words() -> dict[str, dict[str, str]]:
    """Our key by each plain key and name of assets, crafts and areas; a name that two have in common means
    neither."""
    out: dict[str, dict[str, str]] = {}
    for name, rows in (
        ("asset", Asset.select(Asset.key, Asset.name)),
        ("craft", Craft.select(Craft.key, Craft.name)),
        ("area", Area.select(Area.key, Area.name)),
    ):
        named = Counter(plain(r.name) for r in rows)
        words = {plain(r.name): r.key for r in rows if named[plain(r.name)] == 1}
        out[name] = {**words, **{plain(r.key): r.key for r in rows}}
    return out


def opened(one: Bringing, mapping: ForeignMapping | None = None) -> Opened:
    """The table as it is in the file, with a mapping that is given, the saved one that has the same columns,
    or a guess."""
    table = table_of(one)
    saved = next(
        (
            m
            for m in SavedMapping.select().order_by(SavedMapping.at.desc())
            if set(m.columns) == set(table.columns)
        ),
        None,
    )
    if mapping is None:
        mapping = ForeignMapping.of(saved.body) if saved else guess(table, known_words())
    samples = {
        c: list(islice((str(r[n]).removesuffix(" 00:00:00") for _, r in table.rows if not blank(r[n])), 4))
        for n, c in enumerate(table.columns)
    }
    return Opened(
        id=one.id,
        file=one.file,
        title=table.title,
        read_as=table.read_as,
        rows=len(table.rows),
        columns=[FileColumn(c, samples[c]) for c in table.columns],
        fields=[FieldName(f.name, f.label) for f in FIELDS],
        mapping=mapping,
        saved=saved.name if saved else None,
        meanings={
            **{k: list(v) for k, v in WORDS.items()},
            "craft": [c.key for c in Craft.select(Craft.key).order_by(Craft.id)],
            "area": [a.key for a in Area.select(Area.key).order_by(Area.id)],
            "asset": [a.key for a in Asset.select(Asset.key).order_by(Asset.key)],
        },
    )


def mapping_of(document: dict[str, Any]) -> ForeignMapping:
    try:
        return ForeignMapping.of(document)
    except (TypeError, ValueError) as bad:
        raise Refused("mapping", f"This is no mapping: {bad}.", field="mapping") from bad


def read(one: Bringing, mapping: ForeignMapping) -> Understood:
    """All rows through a mapping; kept while the mapping and what it may refer to stay the same."""
    here = site()
    key = (
        "understood",
        one.id,
        one.at.isoformat(),
        *map(mark_of, recent()),
        json.dumps(mapping.document(), sort_keys=True),
    )
    made: Understood = remember_value(
        key, lambda: understand(table_of(one), mapping, known_words(), ZoneInfo(here.timezone))
    )
    return made


def preview(one: Bringing, mapping: ForeignMapping) -> ForeignPreview:
    """The first rows as they will be understood; questions still open; words without a meaning; rows with
    problems."""
    table, said, zone = table_of(one), read(one, mapping), ZoneInfo(site().timezone)
    words = Counter((p.field, p.word) for p in said.problems if p.word is not None and p.field in NAMED)
    asked = questions(table, mapping)
    wrong = [p for p in said.problems if p.word is None or p.field not in NAMED][:SHOWN]
    return ForeignPreview(
        questions=[OpenQuestion(q.what, q.text, [Answer(v, w) for v, w in q.choices]) for q in asked],
        words=[
            UnknownWord(f, FIELD_BY_NAME[f].label, w, n) for (f, w), n in words.most_common(MOST_WORDS) if w
        ],
        problems=[ProblemRow(p.row, p.column, p.text, p.number) for p in wrong],
        bad_rows=len(said.problems),
        notes=list(said.notes),
        orders=len(said.orders),
        tasks=sum(len(t) for t in said.tasks.values()),
        rows=[_understood(said, number, zone) for number in list(said.orders)[:FIRST]],
        made=new_records(said),
    )


def new_records(said: Understood) -> list[NewRecord]:
    """What will be made, areas and crafts first."""
    return [
        NewRecord(kind, r.key, r.name, r.area) for kind in MAKEABLE for r in said.made.records[kind].values()
    ]


def _understood(said: Understood, number: str, zone: ZoneInfo) -> UnderstoodOrder:
    tasks = [
        UnderstoodTask(t, v["title"], v["hours"], needs_text(v["needs"]), ", ".join(b for b, _ in v["after"]))
        for t, v in said.tasks.get(number, {}).items()
    ]
    fields = {k: shown(v, zone) for k, v in said.orders[number].items()}
    return UnderstoodOrder(number, said.rows[number], fields, tasks)
