"""What those are told who bring an export of another system in: the file as it was read, what it means here,
what differs, how far it is."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from nundine.formats.foreign.mapping import ForeignMapping

FileState = Literal["new", "waiting", "working", "done", "failed", "stopped"]


@dataclass(frozen=True)
class FileColumn:
    """A column of the file, with the first of its cells."""

    name: str
    samples: list[str]


@dataclass(frozen=True)
class FieldName:
    """A field of ours that a column may mean."""

    name: str
    label: str


@dataclass(frozen=True)
class Opened:
    """A file as it was read, with the mapping that is used or guessed; `saved` names one that is kept."""

    id: int
    file: str
    title: str
    read_as: str
    rows: int
    columns: list[FileColumn]
    fields: list[FieldName]
    mapping: ForeignMapping
    saved: str | None
    meanings: dict[str, list[str]]


@dataclass(frozen=True)
class Answer:
    """One of the answers to a question."""

    value: str
    label: str


@dataclass(frozen=True)
class OpenQuestion:
    """What the file leaves open: the order of its dates, or which sign leads decimals."""

    what: Literal["dates", "decimals"]
    text: str
    choices: list[Answer]


@dataclass(frozen=True)
class UnknownWord:
    """A word of a column that has no meaning here yet, and in how many rows it stands."""

    field: str
    label: str
    word: str
    rows: int


@dataclass(frozen=True)
class ProblemRow:
    """What is wrong in a row (0: with the column as a whole)."""

    row: int
    column: str
    text: str
    number: str | None


@dataclass(frozen=True)
class UnderstoodTask:
    """A task as it will come in; `hours` elapsed."""

    task: str
    title: str
    hours: float
    needs: str
    after: str


@dataclass(frozen=True)
class UnderstoodOrder:
    """A WO as it will come in, its fields in words."""

    number: str
    row: int
    fields: dict[str, str]
    tasks: list[UnderstoodTask]


@dataclass(frozen=True)
class NewRecord:
    """Something that will be made, for nobody here knows it yet: `kind` asset, area or craft."""

    kind: str
    key: str
    name: str
    area: str | None


@dataclass(frozen=True)
class ForeignPreview:
    """The first rows as they will be understood, and what stands in the way."""

    questions: list[OpenQuestion]
    words: list[UnknownWord]
    problems: list[ProblemRow]
    bad_rows: int
    notes: list[str]
    orders: int
    tasks: int
    rows: list[UnderstoodOrder]
    made: list[NewRecord]


@dataclass(frozen=True)
class TitledOrder:
    """A WO, and the week that it is placed in."""

    number: str
    title: str
    week: str | None = None


@dataclass(frozen=True)
class ChangeLine:
    """A field that differs, in words; `by_hand`: it was changed here since the last export."""

    field: str
    what: str
    before: str
    after: str
    by_hand: bool


@dataclass(frozen=True)
class ChangedOrder:
    """A WO with what of it differs."""

    number: str
    title: str
    week: str | None
    lines: list[ChangeLine]


@dataclass(frozen=True)
class FieldCount:
    """In how many WOs a field differs."""

    name: str
    label: str
    count: int


@dataclass(frozen=True)
class ForeignDifference:
    """An export against what is here; of each kind the first ones and how many there are."""

    new: list[TitledOrder]
    new_count: int
    changed: list[ChangedOrder]
    changed_count: int
    unchanged: int
    kept: int
    both: int
    fields: list[FieldCount]
    vanished: list[TitledOrder]
    vanished_count: int
    made: list[NewRecord]


@dataclass(frozen=True)
class BroughtIn:
    """WOs that came in, by what became of them; `marked`: placed ones that changed. `made`: assets, areas and
    crafts made with them."""

    new: int
    changed: int
    unchanged: int
    kept: int
    vanished: int
    vanished_as: str
    marked: int
    made: int = 0


@dataclass(frozen=True)
class FileStanding:
    """How far a file is on its way in, 0 to 1."""

    id: int
    file: str
    state: FileState
    progress: float
    result: BroughtIn | None
    error: str | None
