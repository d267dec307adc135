"""Editions of job plans: a plan as it was when it was put in force or changed in force, and what changed
between them."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from nundine.core.difference import difference
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Edit
from nundine.services.ledger.noun import Key, Row
from nundine.services.ledger.nouns import NOUNS
from nundine.services.ledger.stored import changes_to
from nundine.services.ledger.wording import shown
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.job_plan import JobPlan, PlanEdition

NOUN, TASK, EDITION = "job plan", "plan task", "plan edition"
NOT_CONTENT = frozenset({"state", "edition"})


@dataclass(frozen=True)
class EditionChange:
    """A field of a plan (`task` None) or of one of its tasks, in words before and after; a task that is new
    or gone has the field `task`."""

    task: str | None
    field: str
    before: str
    after: str


@dataclass(frozen=True)
class EditionLine:
    """An edition, and what changed from the one before it."""

    edition: int
    at: datetime
    by: str
    changes: list[EditionChange]


def keep_edition(account: Account | None, number: str) -> None:
    """Keep a plan as it stands now as its present edition. Inside the caller's transaction."""
    kept = _as_they_stand(account, [number])
    (edition,) = (key[1] for key in kept)
    label = f"Put {number} in force, edition {edition}"
    write(stream_of(number), account, Edit(NOUN, label, changes_to(EDITION, kept)), checked=True)


def keep_editions(account: Account | None, numbers: list[str]) -> None:
    """The same of many at once."""
    changes = changes_to(EDITION, _as_they_stand(account, numbers))
    write("files", account, Edit(NOUN, f"Put {len(numbers)} job plans in force", changes), checked=True)


def _as_they_stand(account: Account | None, numbers: list[str]) -> dict[Key, Row]:
    """Plans as rows of their present editions, by plan and edition."""
    tasks: dict[str, dict[str, Row]] = defaultdict(dict)
    for (number, task), row in NOUNS[TASK].read_of(numbers).items():
        tasks[number][task] = NOUNS[TASK].encoded(row)
    out: dict[Key, Row] = {}
    for (number,), row in NOUNS[NOUN].read([(n,) for n in numbers]).items():
        fields = {n: v for n, v in NOUNS[NOUN].encoded(row).items() if n not in NOT_CONTENT}
        out[(number, row["edition"])] = {
            "at": settings().now(),
            "by": account.full_name if account else "",
            "body": {"fields": fields, "tasks": tasks[number]},
        }
    return out


def stream_of(number: str) -> str:
    """The stream of a plan's own deeds."""
    return f"{NOUN} {number}"


def editions_of(plan: JobPlan) -> list[EditionLine]:
    """Newest first."""
    found = list(PlanEdition.select().where(PlanEdition.plan == plan).order_by(PlanEdition.edition))
    befores = [None, *(e.body for e in found)]
    lines = [
        EditionLine(e.edition, e.at, e.by, changes_between(before, e.body) if before else [])
        for before, e in zip(befores, found, strict=False)
    ]
    return lines[::-1]


def changes_between(before: dict[str, Any], after: dict[str, Any]) -> list[EditionChange]:
    """What one body says otherwise than the one before, the plan's own fields first."""
    found = difference("", before, before, after)
    plan, task = NOUNS[NOUN].labels, NOUNS[TASK].labels
    out = [
        EditionChange(
            c.task, (task if c.task else plan).get(c.field, c.field), shown(c.before), shown(c.after)
        )
        for c in found.changes
    ]
    out += [EditionChange(t, "task", "–", str(after["tasks"][t]["title"])) for t in found.new_tasks]
    out += [EditionChange(t, "task", str(before["tasks"][t]["title"]), "–") for t in found.gone_tasks]
    return out
