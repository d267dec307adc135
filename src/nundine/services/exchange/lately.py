"""What came in lately: files in our own tables and exports of other systems, by whom, and what came of
each."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any, Literal

from peewee import JOIN

from nundine.services.errors import NotFound
from nundine.services.exchange import importing
from nundine.services.exchange.foreign import bring_in
from nundine.services.exchange.foreign.answers import Opened
from nundine.services.exchange.foreign.files import found, opened
from nundine.services.exchange.foreign.files import mapping_of as as_mapping
from nundine.store.account import Account
from nundine.store.foreign import Bringing
from nundine.store.run import Run

MOST = 40


@dataclass(frozen=True)
class Outcome:
    """So many of what: `12 new WOs`."""

    what: str
    count: int


@dataclass(frozen=True)
class CameIn:
    """One time that files came in, or could not. `counts`: rows or WOs by what became of them, in words and
    numbers; `faults` the first ones; `file`: the export that can be read and tried again."""

    run: int
    kind: Literal["tables", "export"]
    label: str
    by: str | None
    at: datetime
    state: str
    counts: list[Outcome]
    faults: list[importing.RowError]
    fault_count: int
    error: str | None
    file: int | None


def came_in(account: Account) -> list[CameIn]:
    """The newest first, of everybody; own exports that are still kept can be tried again."""
    kinds = {importing.KIND: "tables", bring_in.KIND: "export"}
    rows = Run.select(Run, Account).join(Account, JOIN.LEFT_OUTER).where(Run.kind.in_(list(kinds)))
    runs = list(rows.order_by(Run.id.desc()).limit(MOST))
    kept = {
        f"file {i}": i for (i,) in Bringing.select(Bringing.id).where(Bringing.account == account).tuples()
    }
    return [_told(run, kinds[run.kind], kept.get(run.target)) for run in runs]


def _told(run: Run, kind: Any, file: int | None) -> CameIn:
    result: dict[str, Any] = run.result or {}
    faults = [importing.RowError(**f) for f in result.get("errors", [])]
    return CameIn(
        run.id,
        kind,
        run.label.removeprefix("bringing in "),
        run.account.full_name if run.account else None,
        run.created,
        "refused" if faults else run.state,
        _counts(result),
        faults[:8],
        len(faults),
        run.error,
        file if kind == "export" else None,
    )


def _counts(result: dict[str, Any]) -> list[Outcome]:
    """Figures of a report in words, those that are not 0."""
    if "kinds" in result:
        out = [
            (f"{kind.replace('_', ' ')} {what}", n)
            for kind, its in result["kinds"].items()
            for what, n in its.items()
            if what != "unchanged"
        ]
    else:
        words = {"new": "new WOs", "changed": "changed", "vanished": "vanished", "made": "records made"}
        out = [(word, result.get(name, 0)) for name, word in words.items()]
    return [Outcome(word, n) for word, n in out if n]


def tried_again(file: int, account: Account) -> Opened:
    """An export as it was read when it came in last, so that its mapping can be changed and tried again.
    Raises NotFound for a file that is not kept any more."""
    one = found(file, account)
    run = bring_in.run_of(one)
    if run is None:
        return opened(one)
    if "mapping" not in run.asked:
        raise NotFound("file", "How this file was read is not kept any more. Choose it again.")
    return opened(one, as_mapping(run.asked["mapping"]))
