"""Assets by hours: run and work windows, placements inside, conflicts, answers of operations."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal

from nundine.core.week.problem import ANY
from nundine.core.windows import line_above
from nundine.core.work import work_hours
from nundine.services.week.overview import Conflict, conflict_of
from nundine.services.week.state import WeekState
from nundine.services.week.titles import titles
from nundine.store.asset import Asset, AssetWindow
from nundine.store.placement import Key
from nundine.store.site import Area

ASSET_RULES = ("window", "out of service", "one job", "tool", "earliest", "latest", "order")


@dataclass(frozen=True)
class Window:
    """A run or work window of the week with the answer of operations; moments in the site's zone."""

    asset: str
    kind: Literal["work", "run"]
    start: str
    end: str
    answer: str | None
    answer_by: str | None
    remark: str | None


@dataclass(frozen=True)
class AgreePlacement:
    """A placement inside the windows of its asset; `conflict`: it breaks a rule of assets."""

    job: str
    task: str
    portion: int
    title: str
    day: str
    start: str | None
    end: str | None
    asset_state: str
    must: bool
    kind: str
    answer: str | None
    answer_by: str | None
    remark: str | None
    pinned: bool
    conflict: bool


@dataclass(frozen=True)
class AssetName:
    key: str
    name: str


@dataclass
class WaitingWork:
    """Jobs and work hours of an asset that have no place in the week yet."""

    jobs: int = 0
    hours: float = 0.0


@dataclass(frozen=True)
class AgreeAsset:
    """`line`: the asset and those above it, whose windows hold for it; `limited`: it has work windows."""

    key: str
    name: str
    area: str | None
    limited: bool
    one_job_at_a_time: bool
    line: list[AssetName]
    windows: list[Window]
    placements: list[AgreePlacement]
    waiting: WaitingWork


@dataclass(frozen=True)
class Agree:
    """`to_answer` and `refused` count placements that touch their asset."""

    assets: list[AgreeAsset]
    conflicts: list[Conflict]
    to_answer: int
    refused: int


def agree(state: WeekState) -> Agree:
    """Assets that have windows of their own, ready work or something placed on them, in the order of their
    areas."""
    broken = {k for b in state.checked.conflicts if b.code in ASSET_RULES for k in b.keys}
    placed = _placements(state, broken)
    tree = {a["id"]: a for a in Asset.select().dicts()}
    names = {a["key"]: a for a in tree.values()}
    parents = {n: a["parent"] for n, a in tree.items()}
    called = {n: AssetName(a["key"], a["name"]) for n, a in tree.items()}
    windows = _windows(state, tree)
    waiting = _waiting(state)
    shown = [
        a for a in state.problem.assets if a.id in placed or a.id in waiting or names[a.id]["id"] in windows
    ]
    lines = {a.id: line_above(names[a.id]["id"], parents) for a in shown}
    assets = [
        AgreeAsset(
            a.id,
            names[a.id]["name"],
            a.area,
            a.work_windows is not None,
            a.one_job_at_a_time,
            [called[n] for n in lines[a.id]],
            [w for n in lines[a.id] for w in windows.get(n, ())],
            placed.get(a.id, []),
            waiting.get(a.id, WaitingWork()),
        )
        for a in shown
    ]
    order = {key: n for n, (key,) in enumerate(Area.select(Area.key).order_by(Area.id).tuples())}
    assets.sort(key=lambda a: (order.get(a.area or "", len(order)), a.key))
    touching = [p for a in assets for p in a.placements if p.asset_state != ANY]
    return Agree(
        assets,
        [conflict_of(b, state.names) for b in state.checked.conflicts if b.code in ASSET_RULES],
        sum(p.answer is None for p in touching),
        sum(p.answer == "refused" for p in touching),
    )


def _placements(state: WeekState, broken: set[Key]) -> dict[str, list[AgreePlacement]]:
    """Placements by asset."""
    named = titles(state)
    out: dict[str, list[AgreePlacement]] = {}
    for p in state.placements:
        job, info, row = state.problem.job_by_id[p.job], named[p.job], state.rows[p.key]
        one = AgreePlacement(
            p.job,
            p.task,
            p.portion,
            info.title,
            p.day.isoformat(),
            p.start.isoformat() if p.start else None,
            p.end.isoformat() if p.end else None,
            job.task(p.task).asset_state,
            info.must,
            info.kind,
            row["answer"],
            row["answer_by"],
            row["remark"],
            row["pinned"],
            p.key in broken,
        )
        out.setdefault(job.asset or "", []).append(one)
    return out


def _waiting(state: WeekState) -> dict[str, WaitingWork]:
    """Jobs and work hours that could be done on each asset and have no place in the week yet."""
    placed, out = {p.job for p in state.placements}, dict[str, WaitingWork]()
    for job in state.problem.jobs:
        if job.asset is not None and job.id not in placed:
            found = out.setdefault(job.asset, WaitingWork())
            found.jobs += 1
            found.hours = round(found.hours + sum(work_hours(t) for t in job.tasks), 2)
    return out


def _windows(state: WeekState, tree: dict[int, dict[str, Any]]) -> dict[int, list[Window]]:
    """Windows of the week by the asset that they were given to, with the answers of operations."""
    out: dict[int, list[Window]] = {}
    rows = (
        AssetWindow.select()
        .where((AssetWindow.start < state.problem.end) & (AssetWindow.end > state.problem.start))
        .order_by(AssetWindow.start)
    )
    for w in rows.dicts():
        start, end = (w[k].astimezone(state.zone).isoformat() for k in ("start", "end"))
        answers = {k: w[k] for k in ("answer", "answer_by", "remark")}
        one = Window(tree[w["asset"]]["key"], w["kind"], start, end, **answers)
        out.setdefault(w["asset"], []).append(one)
    return out
