"""Answers to the checklists of tasks; one that lies out of limits offers a request to see to it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC
from typing import Any

from nundine.core.checklist import Entry, checked, entry, limits_in_words
from nundine.services.errors import NotFound, Refused
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Edit
from nundine.services.ledger.stored import changes_to
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.base import db
from nundine.store.work_order import Task, WorkOrder


@dataclass(frozen=True)
class CheckLine:
    """An entry of a task's checklist: `entry` is the line by which it is known, `what` it asks, `limits` in
    words; what was answered, by whom and when, and whether that lies `within` limits; None before that."""

    entry: str
    what: str
    kind: str
    choices: list[str]
    unit: str
    limits: str
    answer: str | None
    within: bool | None
    by: str | None
    at: str | None


def check_lines(entries: list[str], answers: dict[str, Any] | None) -> list[CheckLine]:
    """The entries of a task in their order, with their answers."""
    return [_line(line, entry(line), (answers or {}).get(line)) for line in entries]


def _line(line: str, one: Entry, said: dict[str, Any] | None) -> CheckLine:
    told = (said["answer"], said["within"], said["by"], said["at"]) if said else (None, None, None, None)
    return CheckLine(line, one.what, one.answer, list(one.choices), one.unit, limits_in_words(one), *told)


def answer(account: Account, number: str, task: str, given: dict[str, str]) -> list[CheckLine]:
    """Answer some entries; an empty answer takes one back. Gives those of `given` that lie out of limits.

    Raises
    ------
    NotFound
        For a WO, task or entry that is not there.
    Refused
        For an answer that the entry does not take, naming it; for a WO that is closed.
    """
    with db.atomic():
        one = _locked(number, task)
        answers = dict(one.answers or {})
        now = settings().now().astimezone(UTC).isoformat(timespec="seconds")
        for line, said in given.items():
            if line not in one.checklist:
                raise NotFound("entry", f"{number} task {task} does not ask {line[:80]!r} any more.")
            if not said.strip():
                answers.pop(line, None)
                continue
            within = _within(line, said)
            answers[line] = {"answer": said.strip(), "within": within, "by": account.full_name, "at": now}
        changes = changes_to("task", {(number, task): {"answers": answers or None}})
        if changes:
            label = f"{number} task {task}: {len(given)} checked"
            write(f"work order {number}", account, Edit("answers", label, changes), checked=True)
    out = check_lines([line for line in one.checklist if line in given], answers)
    return [c for c in out if c.within is False]


def _within(line: str, said: str) -> bool:
    try:
        return checked(entry(line), said)
    except ValueError as bad:
        raise Refused("answer", f"{bad}.", field=line) from None


def _locked(number: str, task: str) -> Task:
    order = WorkOrder.select().where(WorkOrder.number == number).for_update().first()
    if order is None:
        raise NotFound("work order", f"There is no WO {number[:40]}.")
    if order.state in ("closed", "cancelled"):
        raise Refused("state", f"{number} is {order.state}; nothing is reported of it any more.")
    found: Task | None = Task.get_or_none((Task.work_order == order) & (Task.number == task))
    if found is None:
        raise NotFound("task", f"{number} has no task {task[:20]}.")
    return found
