"""Work orders on paper: one, or many that somebody has chosen, with where they stand in the week."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any, Literal

from nundine.core.checklist import Entry, entry, limits_in_words
from nundine.core.week.problem import Placement
from nundine.formats.order_sheets import OrderSheet, TaskLine, order_sheets_pdf
from nundine.services.background.run_kinds import background
from nundine.services.background.runs import begin
from nundine.services.background.working import Working
from nundine.services.errors import NotFound, Refused
from nundine.services.exchange.stored_rows import standing_work
from nundine.services.people.names import people_names
from nundine.services.week.links import link_to_job
from nundine.services.week.state import WeekState, load_state
from nundine.services.wording.phrases import day_words
from nundine.services.work.part_needs import on_paper
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.asset import Asset
from nundine.store.base import db
from nundine.store.beside import Printing
from nundine.store.run import Run, RunFile
from nundine.store.site import Craft

KIND, MOST, NOUN = "order sheets", 500, "work order"
STATES = {"stopped": "asset stopped", "running": "asset running"}


By = Literal["list", "asset", "day", "crew"]
"""In which sequence sheets are laid out: as the list has them, by asset, by the day on which they stand in
the week, or by the crew that is answerable, each crew on pages of its own."""


@dataclass(frozen=True)
class Paper:
    """How sheets are laid out: with their tasks alone, and in which sequence."""

    short: bool = False
    by: By = "list"


def sheets_pdf(
    state: WeekState, numbers: Sequence[str], paper: Paper = Paper(), account: Account | None = None
) -> bytes:
    """The sheets of work orders; it is marked that they were printed. Raises NotFound, naming one that is not
    there."""
    orders, tasks = standing_work(set(numbers))
    missing = [n for n in numbers if n not in orders]
    if missing:
        raise NotFound("work order", f"There is no WO {missing[0]}.", job=missing[0])
    assets = dict(Asset.select(Asset.key, Asset.name).tuples())
    crafts, people = dict(Craft.select(Craft.key, Craft.name).tuples()), people_names()
    part_words = on_paper({n: [t["parts"] for t in its.values()] for n, its in tasks.items()})
    placed: dict[tuple[str, str], list[Placement]] = {}
    first: dict[str, date] = {}
    for p in state.placements:
        placed.setdefault((p.job, p.task), []).append(p)
        first[p.job] = min(p.day, first.get(p.job, p.day))

    def line(number: str, task: dict[str, Any]) -> TaskLine:
        its = sorted(placed.get((number, task["task"]), []), key=lambda p: (p.day, str(p.start or "")))
        notes = [STATES[task["asset_state"]]] if task["asset_state"] in STATES else []
        if task["after"]:
            notes.append(
                "after " + ", ".join(n + (f" + {lag:g} h" if lag else "") for n, lag in task["after"])
            )
        if task["tools"]:
            notes.append("with " + ", ".join(task["tools"]))
        if task["parts"]:
            notes.append("parts: " + "; ".join(part_words(number, task["task"], n) for n in task["parts"]))
        crew = "; ".join(_need(need, crafts) for need in task["needs"])
        when = "; ".join(_when(p, people, state) for p in its) or "not placed in this week"
        crew = "; ".join([crew] * bool(crew) + [f"{n} of {contract}" for contract, n, _ in task["outside"]])
        checks = [_to_check(entry(line)) for line in task["checklist"]]
        return TaskLine(task["task"], task["title"], task["hours"], crew, when, notes, checks, task["text"])

    def sheet(number: str) -> OrderSheet:
        order = orders[number]
        its = sorted(tasks.get(number, {}).values(), key=lambda t: (len(t["task"]), t["task"]))
        facts = [(label, _told(order[name], state)) for name, label in FACTS.items() if order[name]]
        asset = f"{assets.get(order['asset'], '')} · {order['asset']}"
        return OrderSheet(
            number,
            order["title"],
            asset,
            (*facts, ("Must be done", "yes" if order["must"] else "no")),
            order["description"],
            tuple(line(number, t) for t in its),
            link_to_job(state.week.name, number),
            (order["crew"] or "No crew is answerable") if paper.by == "crew" else None,
        )

    def place(number: str) -> tuple[str, str]:
        """Where a sheet comes in the pile; sheets of one place stay as the list has them."""
        if paper.by == "asset":
            return ("", orders[number]["asset"])
        if paper.by == "day":
            return ("" if number in first else "later", str(first.get(number, "")))
        return ("" if orders[number]["crew"] else "later", orders[number]["crew"])

    if paper.by != "list":
        numbers = sorted(numbers, key=place)
    foot = f"{state.site.name} · week {state.week.name} · {state.week.status}"
    body = order_sheets_pdf(foot, [sheet(n) for n in numbers], paper.short)
    mark_printed(account, numbers)
    return body


def mark_printed(account: Account | None, numbers: Sequence[str]) -> None:
    """Sheets of these WOs were laid out now."""
    now = settings().now()
    rows = [{"noun": NOUN, "key": n, "at": now, "account": account} for n in numbers]
    if rows:
        with db.atomic():
            Printing.insert_many(rows).execute()


FACTS = {
    "kind": "Kind of work",
    "state": "State",
    "raised": "Raised",
    "earliest": "Not before",
    "due": "Due",
    "latest": "Not after",
    "parts_ready": "Parts ready on",
    "permit": "Permit",
    "sub_kind": "Sub-kind",
    "department": "Department",
    "crew": "Answerable",
    "contact": "Contact",
    "cost_account": "Cost account",
    "plan": "Job plan",
}


def _to_check(one: Entry) -> tuple[str, str]:
    """What is checked, and room for its answer."""
    limits = limits_in_words(one)
    if one.answer == "choice":
        return one.what, "   ".join(f"☐ {c}" for c in one.choices)
    if one.answer == "number":
        return one.what, f"______ {one.unit}" + (f"  ({limits})" if limits else "")
    return one.what, "☐" if one.answer == "tick" else "______________________"


def _told(value: Any, state: WeekState) -> str:
    if isinstance(value, datetime):
        local = value.astimezone(state.zone)
        return f"{day_words(local.date())} {local:%H:%M}"
    return day_words(value) if hasattr(value, "isoformat") else str(value)


def _need(need: tuple[str, int, int, str | None], crafts: dict[str, str]) -> str:
    craft, people, level, certificate = need
    words = f"{people} {crafts.get(craft, craft).lower()}"
    return words + (f" level {level}" if level > 1 else "") + (f", {certificate}" if certificate else "")


def _when(one: Placement, people: dict[str, str], state: WeekState) -> str:
    who = ", ".join(people.get(s.id, s.id) for s in one.people if s.id)
    at = f" {one.start.astimezone(state.zone):%H:%M}" if one.start else ""
    return f"{day_words(one.day)}{at}" + (f" {who}" if who else "")


def ask(account: Account, week: str, numbers: Sequence[str], paper: Paper = Paper()) -> Run:
    """A run that lays many sheets out. Raises Refused for none, and for more than make a useful pile."""
    if not 1 <= len(numbers) <= MOST:
        raise Refused("many", f"Between 1 and {MOST} sheets are printed at once.", field="numbers")
    asked = {"week": week, "numbers": list(numbers), "short": paper.short, "by": paper.by}
    return begin(KIND, f"account {account.name}", f"sheets of {len(numbers)} WOs", account, asked)


@background(KIND, busy="Sheets of yours are being laid out already.", stops=True)
def run_asked(working: Working) -> dict[str, Any]:
    """What the worker does: the sheets are kept with the run."""
    state = load_state(working.asked["week"])
    working.step(0.2)
    asked = working.asked
    paper = Paper(asked.get("short", False), asked.get("by", "list"))
    body = sheets_pdf(state, asked["numbers"], paper, working.account)
    RunFile.create(run=working.id, name=f"work-orders-{state.week.name}.pdf", out=True, content=body)
    return {"sheets": len(working.asked["numbers"])}
