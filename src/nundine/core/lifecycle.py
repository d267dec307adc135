"""States, moves and guards of WOs, tasks and weeks, as data: which move each record may make, by whom, and
what stands in its way.

A guard is a name for a question about facts; whoever writes a record gathers the facts, nobody else decides.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping
from dataclasses import dataclass, field
from typing import Any

HAND, FILE, TASKS, PUBLISHING, CLOSING = "hand", "file", "tasks", "publishing", "closing"
ORDER, CHARGING, LINES = "order", "charging", "lines"
"""What moves a record: somebody, a file or another system, what was reported of its tasks, a revision that is
frozen, the closing of a week, what became of the WO behind a request, the charging of what was done, what
became of its lines."""

Facts = Mapping[str, Any]


@dataclass(frozen=True)
class Guard:
    """A question about facts that must be answered with yes before a move.

    `code` is that of the refusal, `facts` names what it looks at, and what its words tell beside.
    """

    name: str
    code: str
    facts: tuple[str, ...]
    holds: Callable[[Facts], bool]

    def looked_at(self, facts: Facts) -> dict[str, Any]:
        """Those of some facts that matter to it."""
        return {name: facts[name] for name in self.facts if name in facts}


def _nothing(name: str) -> Callable[[Facts], bool]:
    return lambda facts: not facts.get(name)


IN_NO_WEEK = Guard("in no week", "placed", ("week",), _nothing("week"))
EARLIER_FINISHED = Guard("earlier tasks finished", "order", ("earlier",), _nothing("earlier"))
LATER_NOT_BEGUN = Guard("later tasks not begun", "order after", ("later", "job"), _nothing("later"))
NOTHING_REFUSED = Guard("nothing refused", "refused", ("refused",), _nothing("refused"))
SOMETHING_PLACED = Guard("something placed", "empty", ("placed",), lambda f: bool(f.get("placed", True)))
WITH_REASONS = Guard("every miss with its reason", "without reason", ("without",), _nothing("without"))
WITH_WO = Guard("a WO behind it", "no order", ("no_order",), _nothing("no_order"))
OVER_OR_SAID = Guard("over, or said to be closed early", "ahead", ("ahead", "placements"), _nothing("ahead"))


@dataclass(frozen=True)
class Move:
    """From one state to another, by whatever may make it, past its guards."""

    start: str
    end: str
    by: frozenset[str] = frozenset({HAND})
    guards: tuple[Guard, ...] = ()


@dataclass(frozen=True)
class Blocked:
    """Why a move may not be made: no such move (`guard` None), or the guard that does not hold and the facts
    it looked at."""

    noun: str
    start: str
    end: str
    guard: Guard | None
    ends: tuple[str, ...]
    facts: dict[str, Any] = field(default_factory=dict)


@dataclass(frozen=True)
class Lifecycle:
    """The states of a noun and the moves between them; `state` is the field that holds the state."""

    noun: str
    state: str
    states: tuple[str, ...]
    moves: tuple[Move, ...]

    def move(self, start: str, end: str, by: str) -> Move | None:
        """The move, if there is one for whatever makes it."""
        return next((m for m in self.moves if (m.start, m.end) == (start, end) and by in m.by), None)

    def ends(self, start: str, by: str) -> tuple[str, ...]:
        """Where a record may go from a state."""
        return tuple(m.end for m in self.moves if m.start == start and by in m.by)

    def blocked(self, start: str, end: str, by: str, facts: Facts) -> Blocked | None:
        """What stands in the way of a move; None if nothing does, or it stays where it is."""
        if start == end:
            return None
        move = self.move(start, end, by)
        if move is None:
            return Blocked(self.noun, start, end, None, self.ends(start, by))
        guard = next((g for g in move.guards if not g.holds(facts)), None)
        if guard is None:
            return None
        return Blocked(self.noun, start, end, guard, self.ends(start, by), guard.looked_at(facts))


ORDER_STATES = ("draft", "planned", "approved", "under way", "done", "closed", "on hold", "cancelled")
OPEN_STATES = ("planned", "approved", "under way")
"""States of WOs that may stand in a week."""
TASK_STATES = ("to do", "under way", "done", "skipped")
TO_DO = ("to do", "under way")
"""States of tasks whose hours are still to be worked."""
WEEK_STATES = ("drafting", "agreed", "published", "closed")
FINISHED = frozenset({"done", "skipped"})
BEGUN = frozenset({"under way", "done"})


def _orders_by_hand() -> tuple[Move, ...]:
    by_hand = {
        "draft": ("approved", "cancelled"),
        "planned": ("approved", "on hold", "cancelled"),
        "approved": ("on hold", "cancelled"),
        "under way": ("on hold",),
        "on hold": ("approved", "cancelled"),
        "cancelled": ("approved",),
    }
    return tuple(
        Move(start, end, guards=() if end in OPEN_STATES else (IN_NO_WEEK,))
        for start, ends in by_hand.items()
        for end in ends
    )


def _all_but_same(states: tuple[str, ...], by: str) -> tuple[Move, ...]:
    return tuple(Move(a, b, frozenset({by})) for a in states for b in states if a != b)


WORK_ORDER = Lifecycle(
    "work order",
    "state",
    ORDER_STATES,
    (
        *_orders_by_hand(),
        *_all_but_same(ORDER_STATES, FILE),
        *(
            Move(a, b, frozenset({TASKS}))
            for a in ("planned", "approved", "under way", "done", "on hold")
            for b in ("approved", "under way", "done")
            if a != b
        ),
        Move("done", "closed", frozenset({CHARGING})),
    ),
)
"""By hand it is held, released and cancelled; under way and done follow from its tasks; it is closed when its
costs are charged; a file may say any state."""

TASK = Lifecycle(
    "task",
    "state",
    TASK_STATES,
    (
        *(Move(a, "under way", guards=(EARLIER_FINISHED,)) for a in ("to do", "skipped")),
        *(Move(a, "done", guards=(EARLIER_FINISHED,)) for a in ("to do", "under way", "skipped")),
        Move("under way", "to do"),
        Move("skipped", "to do"),
        *(Move("done", b, guards=(LATER_NOT_BEGUN,)) for b in ("to do", "under way")),
        *(Move(a, "skipped") for a in ("to do", "under way", "done")),
        *_all_but_same(TASK_STATES, FILE),
    ),
)

WEEK = Lifecycle(
    "week",
    "status",
    WEEK_STATES,
    (
        Move("drafting", "agreed", guards=(NOTHING_REFUSED,)),
        Move("agreed", "drafting"),
        Move("agreed", "published", frozenset({PUBLISHING}), (SOMETHING_PLACED,)),
        Move("published", "drafting"),
        Move("published", "closed", frozenset({CLOSING}), (OVER_OR_SAID, WITH_REASONS)),
        Move("closed", "published", frozenset({CLOSING})),
    ),
)
REQUEST_STATES = ("new", "asked back", "in work", "declined", "done")
OPEN_REQUESTS = ("new", "asked back")
"""States of requests of which nobody has decided yet."""
REQUEST = Lifecycle(
    "request",
    "state",
    REQUEST_STATES,
    (
        *(Move("new", end, guards=(WITH_WO,) if end == "in work" else ())
          for end in ("asked back", "in work", "declined")),
        *(Move("asked back", end, guards=(WITH_WO,) if end == "in work" else ())
          for end in ("new", "in work", "declined")),
        Move("declined", "new"),
        Move("in work", "new"),
        Move("in work", "done", frozenset({ORDER})),
        Move("done", "in work", frozenset({ORDER})),
        *_all_but_same(REQUEST_STATES, FILE),
    ),
)  # fmt: skip
"""It is done when its WO is, and in work again when that is opened again."""
PLAN_STATES = ("being written", "in force", "retired")
JOB_PLAN = Lifecycle(
    "job plan",
    "state",
    PLAN_STATES,
    (
        Move("being written", "in force"),
        Move("being written", "retired"),
        Move("in force", "retired"),
        Move("retired", "in force"),
        *_all_but_same(PLAN_STATES, FILE),
    ),
)
"""One that was in force is never being written again: it gets editions."""
PERMIT_STATES = ("asked", "given", "refused", "ended")
PERMIT = Lifecycle(
    "permit",
    "state",
    PERMIT_STATES,
    (
        *(Move("asked", end) for end in ("given", "refused")),
        *(Move("given", end) for end in ("asked", "refused", "ended")),
        Move("refused", "asked"),
        Move("ended", "asked"),
        *_all_but_same(PERMIT_STATES, FILE),
    ),
)
"""Whoever needs it asks for it, again where it was refused or is over; whoever may gives it for a time."""
PREVENTIVE_STATES = ("being written", "running", "on hold", "ended")
PREVENTIVE_PLAN = Lifecycle(
    "preventive plan",
    "state",
    PREVENTIVE_STATES,
    (
        *(Move("being written", end) for end in ("running", "ended")),
        *(Move("running", end) for end in ("on hold", "ended")),
        *(Move("on hold", end) for end in ("running", "ended")),
        Move("ended", "running"),
        *_all_but_same(PREVENTIVE_STATES, FILE),
    ),
)
OCCURRENCE_STATES = ("raised", "done", "left out")
OCCURRENCE = Lifecycle(
    "occurrence",
    "state",
    OCCURRENCE_STATES,
    (
        *(Move("raised", end, frozenset({ORDER})) for end in ("done", "left out")),
        *(Move(start, "raised", frozenset({ORDER})) for start in ("done", "left out")),
        *_all_but_same(OCCURRENCE_STATES, FILE),
    ),
)
"""It is done when its WO is, and left out when that is cancelled; raised again when that is opened again."""
WITH_LINES = Guard("something in it", "no line", ("without_lines",), _nothing("without_lines"))
WITHIN_LIMIT = Guard("within the limit", "limit", ("beyond", "limit"), _nothing("beyond"))
NOTHING_CAME = Guard("nothing received", "received", ("received",), _nothing("received"))
NOTHING_ORDERED = Guard("nothing ordered", "ordered", ("ordered",), _nothing("ordered"))
BUY_STATES = ("written", "asked", "approved", "refused", "closed")
BUY_REQUEST = Lifecycle(
    "buy request",
    "state",
    BUY_STATES,
    (
        Move("written", "asked", guards=(WITH_LINES,)),
        Move("asked", "approved", guards=(WITHIN_LIMIT,)),
        *(Move(state, "refused") for state in ("asked", "written")),
        *(Move(state, "written") for state in ("asked", "refused")),
        Move("approved", "written", guards=(NOTHING_ORDERED,)),
        Move("approved", "closed", frozenset({LINES})),
        Move("closed", "approved", frozenset({LINES})),
        *_all_but_same(BUY_STATES, FILE),
    ),
)
"""It is closed when its lines are dealt with, and open again when one leaves its order."""
PURCHASE_STATES = ("written", "placed", "delivered", "cancelled")
PURCHASE = Lifecycle(
    "purchase",
    "state",
    PURCHASE_STATES,
    (
        Move("written", "placed", guards=(WITH_LINES,)),
        *(Move(state, "cancelled", guards=(NOTHING_CAME,)) for state in ("written", "placed")),
        Move("placed", "delivered", frozenset({LINES})),
        Move("delivered", "placed", frozenset({LINES})),
        *_all_but_same(PURCHASE_STATES, FILE),
    ),
)
LIFECYCLES: dict[str, Lifecycle] = {
    c.noun: c
    for c in (
        WORK_ORDER, TASK, WEEK, REQUEST, JOB_PLAN, PERMIT, PREVENTIVE_PLAN, OCCURRENCE, BUY_REQUEST, PURCHASE
    )
}  # fmt: skip


def state_from_done(order: str) -> str:
    """The state of an occurrence as it follows from that of its WO."""
    if order in ("done", "closed"):
        return "done"
    return "left out" if order == "cancelled" else "raised"


def permit_from_permits(now: str, needed: Collection[str], states: Mapping[str, str]) -> str:
    """How far the permits of a WO are, as it follows from the states of those that it needs by kind; what
    was said by hand stays where it names none."""
    if not needed:
        return now
    return "granted" if all(states.get(kind) == "given" for kind in needed) else "waiting"


def state_from_order(now: str, order: str) -> str:
    """The state of a request as it follows from the state of its WO."""
    if now == "in work" and order in ("done", "closed"):
        return "done"
    return "in work" if now == "done" and order not in ("done", "closed") else now


def state_from_tasks(now: str, tasks: Collection[str]) -> str:
    """The state of a WO as it follows from the states of its tasks.

    It is under way with its first task begun and done with its last one finished; approved again where none
    is begun any more. One that was cancelled, closed or never approved stays what it is.
    """
    if now in ("draft", "cancelled", "closed") or not tasks:
        return now
    states = set(tasks)
    if states <= FINISHED:
        return "done"
    return "under way" if states & BEGUN else "approved"
