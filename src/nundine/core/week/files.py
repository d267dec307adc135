"""Week problems and plans as JSON documents: `nundine-week/2` (and /1, which is read) and `nundine-plan/1`
(docs/file-formats.md)."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import asdict, dataclass, fields
from datetime import date, datetime
from typing import Any

from nundine.core.finding import Finding
from nundine.core.timeline import Interval
from nundine.core.week.plan import NotPlaced, WeekPlan
from nundine.core.week.problem import (
    BY_TASK,
    PRICED,
    WHOLE,
    After,
    Asset,
    Certificate,
    Craft,
    CraftLevel,
    Job,
    Need,
    Person,
    PersonHours,
    Placement,
    ProblemError,
    Seat,
    Task,
    Tool,
    Travel,
    WeekProblem,
    Weights,
)
from nundine.core.week.reading import Reader

WEEK_FORMAT, FIRST_WEEK_FORMAT, PLAN_FORMAT = "nundine-week/2", "nundine-week/1", "nundine-plan/1"


def _plain(value: Any) -> Any:
    if isinstance(value, (datetime, date)):
        return value.isoformat()
    if isinstance(value, dict):
        return {k: _plain(v) for k, v in value.items()}
    if isinstance(value, (list, tuple)):
        return [_plain(v) for v in value]
    return value


def _placement_document(p: Placement) -> dict[str, Any]:
    document = _plain(asdict(p))
    if p.hours is None:
        del document["hours"]
    return dict(document)


def problem_document(problem: WeekProblem) -> dict[str, Any]:
    """The JSON document of a problem; reading it again gives an equal problem."""
    document = _plain(asdict(problem))
    document["travel"] = [{"from": w.start, "to": w.end, "minutes": w.minutes} for w in problem.travel]
    document["fixed"] = [_placement_document(p) for p in problem.fixed]
    document["previous"] = [_placement_document(p) for p in problem.previous]
    return {"format": WEEK_FORMAT, **document}


@dataclass(frozen=True)
class Wording:
    """How findings are told in a file: reasons, what would help, and conflicts."""

    reason: Callable[[Finding], str]
    helps: Callable[[Finding], str]
    conflict: Callable[[Finding], str]


def finding_document(found: Finding, words: Callable[[Finding], str]) -> dict[str, Any]:
    """The JSON document of one finding, with its words."""
    return {"code": found.code, "text": words(found), "facts": _plain(found.facts)}


def not_placed_document(one: NotPlaced, words: Wording) -> dict[str, Any]:
    """The JSON document of why a job is not placed."""
    return {
        "job": one.job,
        "reasons": [finding_document(f, words.reason) for f in one.reasons],
        "would_help": [finding_document(f, words.helps) for f in one.would_help],
    }


def plan_document(plan: WeekPlan, words: Wording) -> dict[str, Any]:
    """The JSON document of a plan, with its findings in these words."""
    document = _plain(asdict(plan))
    document["placements"] = [_placement_document(p) for p in plan.placements]
    document["not_placed"] = [not_placed_document(n, words) for n in plan.not_placed]
    document["conflicts"] = [finding_document(f, words.conflict) for f in plan.conflicts]
    return {"format": PLAN_FORMAT, **document, "gap": plan.gap}


def _interval(r: Reader) -> Interval:
    return Interval(r.moment("start"), r.moment("end"))


def _seat(r: Reader) -> Seat:
    return Seat(r.text("id", None), r.text("craft"))


def _placement(r: Reader) -> Placement:
    return Placement(
        job=r.text("job"),
        task=r.text("task"),
        portion=r.whole("portion", 1),
        day=r.day("day"),
        start=r.moment("start", None),
        end=r.moment("end", None),
        people=r.list_of("people", _seat),
        hours=r.number("hours", None),
    )


def _task(r: Reader) -> Task:
    return Task(
        id=r.text("id"),
        hours=r.number("hours"),
        asset_state=r.text("asset_state", "any"),
        after=r.list_of("after", lambda a: After(a.text("task"), a.number("lag", 0.0))),
        splittable=r.flag("splittable"),
        min_portion=r.number("min_portion", 1.0),
        needs=r.list_of(
            "needs",
            lambda n: Need(
                n.text("craft"), n.whole("level", 1), n.whole("people", 1), n.text("certificate", None)
            ),
        ),
        tools=r.texts("tools"),
    )


def _job(r: Reader, stays_out: str) -> Job:
    return Job(
        id=r.text("id"),
        asset=r.text("asset", None),
        priority=r.number("priority"),
        tasks=r.list_of("tasks", _task),
        area=r.text("area", None),
        must=r.flag("must"),
        divisible=r.flag("divisible"),
        earliest=r.moment("earliest", None),
        due=r.moment("due", None),
        latest=r.moment("latest", None),
        out_of_service=r.text("out_of_service", stays_out),
        out_since=r.moment("out_since", None),
    )


def _person(r: Reader) -> Person:
    return Person(
        id=r.text("id"),
        crafts=r.list_of("crafts", lambda c: CraftLevel(c.text("craft"), c.whole("level", 2))),
        certificates=r.list_of("certificates", lambda c: Certificate(c.text("id"), c.day("until", None))),
        area=r.text("area", None),
        crew=r.text("crew", None),
        hours=r.list_of(
            "hours",
            lambda h: PersonHours(
                h.moment("start"), h.moment("end"), h.flag("overtime"), h.day("day"), h.text("area", None)
            ),
        ),
    )


def _asset(r: Reader) -> Asset:
    return Asset(
        id=r.text("id"),
        area=r.text("area", None),
        work_windows=r.list_of("work_windows", _interval, None),
        run_windows=r.list_of("run_windows", _interval),
        one_job_at_a_time=r.flag("one_job_at_a_time"),
    )


def read_problem(document: Any) -> WeekProblem:
    """A problem from its JSON document. One of `nundine-week/1` has no ways, no prices, and its assets go
    back between tasks.

    Raises
    ------
    ProblemError
        With every error found, each led by its JSON path.
    """
    errors: list[str] = []
    if not isinstance(document, dict):
        raise ProblemError(["$: must be an object"])
    if document.get("format") not in (WEEK_FORMAT, FIRST_WEEK_FORMAT):
        raise ProblemError([f"$.format: must be {WEEK_FORMAT!r}, not {document.get('format')!r}"])
    stays_out, usual = (WHOLE, PRICED) if document["format"] == WEEK_FORMAT else (BY_TASK, Weights())
    r = Reader(document, "$", errors)
    given = document.get("weights")
    if given is not None and not isinstance(given, dict):
        errors.append("$.weights: must be an object")
    w = Reader(given if isinstance(given, dict) else {}, "$.weights", errors)
    weights = Weights(**{one.name: w.number(one.name, getattr(usual, one.name)) for one in fields(Weights)})
    parts: dict[str, Any] = {
        "week": r.text("week"),
        "timezone": r.text("timezone"),
        "start": r.moment("start"),
        "end": r.moment("end"),
        "slot_minutes": r.whole("slot_minutes", 15),
        "weights": weights,
        "crafts": r.list_of("crafts", lambda c: Craft(c.text("id"), c.number("held_back", 0.0))),
        "people": r.list_of("people", _person),
        "assets": r.list_of("assets", _asset),
        "tools": r.list_of("tools", lambda t: Tool(t.text("id"), t.whole("count", 1))),
        "jobs": r.list_of("jobs", lambda j: _job(j, stays_out)),
        "fixed": r.list_of("fixed", _placement),
        "previous": r.list_of("previous", _placement),
        "travel": r.list_of("travel", lambda w: Travel(w.text("from"), w.text("to"), w.number("minutes"))),
    }
    if errors:
        raise ProblemError(errors)
    try:
        return WeekProblem(**parts)
    except ProblemError:
        raise
    except ValueError as bad:
        raise ProblemError([f"$.week: {bad}"]) from bad


def _finding(r: Reader) -> Finding:
    """Its words are not read: they are made of its code and facts."""
    r.text("text")
    return Finding(r.text("code"), dict(r.value.get("facts") or {}))


def read_plan(document: Any) -> WeekPlan:
    """A plan from its JSON document. Raises ProblemError as `read_problem` does."""
    errors: list[str] = []
    if not isinstance(document, dict) or document.get("format") != PLAN_FORMAT:
        raise ProblemError([f"$.format: must be {PLAN_FORMAT!r}"])
    r = Reader(document, "$", errors)
    plan = WeekPlan(
        week=r.text("week"),
        status=r.text("status"),
        value=r.number("value"),
        bound=r.number("bound"),
        seconds=r.number("seconds", 0.0),
        placements=r.list_of("placements", _placement),
        conflicts=r.list_of("conflicts", _finding),
        not_placed=r.list_of(
            "not_placed",
            lambda n: NotPlaced(
                n.text("job"), n.list_of("reasons", _finding), n.list_of("would_help", _finding)
            ),
        ),
    )
    if errors:
        raise ProblemError(errors)
    return plan
