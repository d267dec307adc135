"""Assets by hours: run and work windows, placements inside, conflicts, answers of operations."""

from __future__ import annotations

from typing import Any

from nundine.core.windows import line_above
from nundine.core.work import work_hours
from nundine.services.week.overview import conflict_row
from nundine.services.week.state import WeekState
from nundine.store.asset import Asset, AssetWindow
from nundine.store.site import Area
from nundine.store.work_order import WorkOrder

ASSET_RULES = ("window", "out of service", "one job", "tool", "earliest", "latest", "order")


def agree(state: WeekState) -> dict[str, Any]:
    """Assets that have windows of their own, ready work or something placed on them, in the order of their
    areas."""
    placed: dict[str, list[dict[str, Any]]] = {}
    orders = {
        w["number"]: w
        for w in WorkOrder.select(WorkOrder.number, WorkOrder.title, WorkOrder.must, WorkOrder.kind)
        .where(WorkOrder.number.in_({p.job for p in state.placements} or {""}))
        .dicts()
    }
    broken = {k for b in state.checked.conflicts if b.code in ASSET_RULES for k in b.keys}
    for p in state.placements:
        job = state.problem.job_by_id[p.job]
        row = state.rows[p.key]
        placed.setdefault(job.asset or "", []).append(
            {
                "job": p.job,
                "task": p.task,
                "portion": p.portion,
                "title": orders[p.job]["title"],
                "day": p.day.isoformat(),
                "start": p.start.isoformat() if p.start else None,
                "end": p.end.isoformat() if p.end else None,
                "asset_state": job.task(p.task).asset_state,
                "must": orders[p.job]["must"],
                "kind": orders[p.job]["kind"],
                "answer": row["answer"],
                "answer_by": row["answer_by"],
                "remark": row["remark"],
                "pinned": row["pinned"],
                "conflict": p.key in broken,
            }
        )
    tree = {a["id"]: a for a in Asset.select().dicts()}
    names = {a["key"]: a for a in tree.values()}
    parents = {n: a["parent"] for n, a in tree.items()}
    lines = {a["key"]: line_above(n, parents) for n, a in tree.items()}
    windows = _windows(state, tree)
    waiting = _waiting(state)
    assets = [
        {
            "key": a.id,
            "name": names[a.id]["name"],
            "area": a.area,
            "limited": a.work_windows is not None,
            "one_job_at_a_time": a.one_job_at_a_time,
            "line": [{"key": tree[n]["key"], "name": tree[n]["name"]} for n in lines[a.id]],
            "windows": [w for n in lines[a.id] for w in windows.get(n, ())],
            "placements": placed.get(a.id, []),
            "waiting": waiting.get(a.id, {"jobs": 0, "hours": 0.0}),
        }
        for a in state.problem.assets
        if a.id in placed or a.id in waiting or names[a.id]["id"] in windows
    ]
    order = [a["key"] for a in _areas()]
    assets.sort(key=lambda a: (order.index(a["area"]) if a["area"] in order else len(order), a["key"]))
    conflicts = [conflict_row(b, state.names) for b in state.checked.conflicts if b.code in ASSET_RULES]
    touching = [p for a in assets for p in a["placements"] if p["asset_state"] != "any"]
    return {
        "assets": assets,
        "conflicts": conflicts,
        "to_answer": sum(p["answer"] is None for p in touching),
        "refused": sum(p["answer"] == "refused" for p in touching),
    }


def _areas() -> list[dict[str, Any]]:
    return list(Area.select(Area.key).order_by(Area.id).dicts())


def _waiting(state: WeekState) -> dict[str, dict[str, float]]:
    """Jobs and work hours that could be done on each asset and have no place in the week yet."""
    placed, out = {p.job for p in state.placements}, dict[str, dict[str, float]]()
    for job in state.problem.jobs:
        if job.asset is not None and job.id not in placed:
            found = out.setdefault(job.asset, {"jobs": 0, "hours": 0.0})
            found["jobs"] += 1
            found["hours"] = round(found["hours"] + sum(work_hours(t) for t in job.tasks), 2)
    return out


def _windows(state: WeekState, tree: dict[int, dict[str, Any]]) -> dict[int, list[dict[str, Any]]]:
    """Windows of the week by the asset that they were given to, with the answers of operations."""
    out: dict[int, list[dict[str, Any]]] = {}
    rows = (
        AssetWindow.select()
        .where((AssetWindow.start < state.problem.end) & (AssetWindow.end > state.problem.start))
        .order_by(AssetWindow.start)
    )
    for w in rows.dicts():
        moments = {k: w[k].astimezone(state.zone).isoformat() for k in ("start", "end")}
        answers = {k: w[k] for k in ("answer", "answer_by", "remark")}
        out.setdefault(w["asset"], []).append(
            {"asset": tree[w["asset"]]["key"], "kind": w["kind"], **moments, **answers}
        )
    return out
