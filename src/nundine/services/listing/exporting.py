"""A list as a file, exactly as it is seen: its filters, order and columns."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import datetime
from typing import Any

from nundine.formats.order_sheets import list_pdf
from nundine.formats.tables import write_csv, write_xlsx
from nundine.services.background.run_kinds import background
from nundine.services.background.runs import begin
from nundine.services.background.working import Working
from nundine.services.errors import Refused
from nundine.services.listing.around import around_for
from nundine.services.listing.asked import question_document, question_of
from nundine.services.listing.column import Column
from nundine.services.listing.listing import Around, Listing, kind_of, opened
from nundine.services.listing.question import Question
from nundine.services.listing.rows import ListRow, counted, every, page
from nundine.services.wording.phrases import day_words
from nundine.store.account import Account
from nundine.store.run import Run, RunFile
from nundine.store.site import site

KIND, BATCH = "list", 2000
FORMATS, MOST_ON_PAPER = ("csv", "xlsx", "pdf"), 2000


def ask(
    account: Account,
    list_: str,
    week: str | None,
    question: Question,
    columns: list[str],
    form: str,
    of: str = "",
) -> Run:
    """A run that writes the list to a file. Raises Refused, NotFound, NotAllowed for what can not be
    asked."""
    if form not in FORMATS:
        raise Refused("format", f"A list is written as {', '.join(FORMATS)}.", field="format")
    around = around_for(account, week, of)
    listing = opened(list_, around)
    chosen = [listing.column(c).name for c in columns]
    if not chosen:
        raise Refused("columns", "Choose at least one column.", field="columns")
    if form == "pdf" and (n := counted(listing, question, around).total) > MOST_ON_PAPER:
        text = f"{n} rows are too many for paper; filter them to {MOST_ON_PAPER} at most."
        raise Refused("many", text, field="format")
    page(listing, question, around, 0, 1)  # what can not be asked is refused here, not in the worker
    asked = {
        "list": list_,
        "week": around.week,
        "of": of,
        "question": question_document(question),
        "columns": chosen,
        "format": form,
    }
    label = f"{kind_of(list_).label} as {form.upper()}"
    return begin(KIND, f"account {account.name}", label, account, asked)


@background(KIND, busy="A list of yours is being written already.", stops=True)
def run_asked(working: Working) -> dict[str, Any]:
    """What the worker does: the file is kept with the run."""
    asked, account = working.asked, working.account
    if account is None:
        raise Refused("account", "Whoever asked for this list is not there any more.")
    around = around_for(account, asked["week"], asked.get("of", ""))
    listing = opened(asked["list"], around)
    columns = [listing.column(c) for c in asked["columns"]]
    title = kind_of(asked["list"]).label
    body, count = written(
        listing, question_of(asked["question"]), around, columns, asked["format"], working.step, title
    )
    name = f"{asked['list'].replace(' ', '-')}-{around.today.isoformat()}.{asked['format']}"
    RunFile.create(run=working.id, name=name, out=True, content=body)
    return {"rows": count}


def written(
    listing: Listing,
    question: Question,
    around: Around,
    columns: list[Column],
    form: str,
    step: Any,
    title: str = "",
) -> tuple[bytes, int]:
    """The file, and how many rows it holds; `step` is told how far it is (0 to 1), and may raise to stop
    it."""
    head = [c.label for c in columns]
    told = Told(columns, around, form == "xlsx")
    lines = [told.line(r) for r in _all(listing, question, around, columns, step)]
    if form == "csv":
        return write_csv(head, lines), len(lines)
    if form == "pdf":
        foot = f"{site().name} · {day_words(around.today)} · {len(lines)} rows"
        return list_pdf(title, foot, head, [[_on_paper(c) for c in line] for line in lines]), len(lines)
    return write_xlsx({"list": (head, lines)}), len(lines)


def _all(
    listing: Listing, question: Question, around: Around, columns: list[Column], step: Any
) -> Iterator[ListRow]:
    for share, rows in every(listing, question, around, [c.name for c in columns], BATCH):
        yield from rows
        step(0.9 * share)


def _on_paper(cell: Any) -> str:
    return f"{cell:g}" if isinstance(cell, float) else str(cell)


class Told:
    """Cells as a spreadsheet has them: choices by their labels, days and moments as such, marks in words."""

    def __init__(self, columns: list[Column], around: Around, typed: bool) -> None:
        self.columns, self.around, self.typed = columns, around, typed
        self.labels = {c.name: {o.value: o.label for o in c.choices()} for c in columns if c.choices}

    def line(self, row: ListRow) -> list[Any]:
        return [self.cell(c, row.cells.get(c.name)) for c in self.columns]

    def cell(self, column: Column, value: Any) -> Any:
        labels = self.labels.get(column.name, {})
        if value is None:
            return ""
        if isinstance(value, bool):
            return "yes" if value else "no"
        if isinstance(value, dict):
            return ", ".join(f"{labels.get(k, k)} {v:g}" for k, v in value.items())
        if isinstance(value, list):
            return ", ".join(labels.get(v, str(v)) for v in value)
        if column.kind == "moment":
            moment = datetime.fromisoformat(value)
            return moment.replace(tzinfo=None) if self.typed else f"{moment:%Y-%m-%d %H:%M}"
        return labels.get(value, value) if isinstance(value, str) else value
