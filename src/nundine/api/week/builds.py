"""Builds: ask for one, watch, stop, accept or drop it."""

from __future__ import annotations

from typing import Any

from fastapi import APIRouter

from nundine.api import schemas
from nundine.api.http import DbRoute, Editor, Reader
from nundine.api.shared import shared
from nundine.jobs.queue import hand_over
from nundine.services.background import runs
from nundine.services.week import accepting, build_changes, builds
from nundine.services.week.overview import overview
from nundine.services.week.state import WeekState, find_week, load_state
from nundine.store.run import Run

router = APIRouter(prefix="/api/weeks/{week}/builds", tags=["build"], route_class=DbRoute)


def shape(state: WeekState, found: Run) -> dict[str, Any]:
    result: dict[str, Any] = found.result or {}
    return {
        "id": found.id,
        "state": builds.standing(found),
        "by": found.account.full_name if found.account else None,
        "error": found.error,
        "seconds": found.asked["seconds"],
        "value_before": found.asked["value"],
        "progress": found.progress or [],
        "value": result.get("value"),
        "bound": result.get("bound"),
        "status": result.get("status"),
        "not_placed": len(result["not_placed"]) if result else None,
        "waits_for": runs.waits_for(found),
        "changes": build_changes.compare(state, found) if builds.standing(found) == "ready" else None,
    }


@router.post("", response_model=schemas.BuildShape)
def ask(week: str, form: schemas.BuildForm, account: Editor) -> dict[str, Any]:
    state = load_state(week)
    made = builds.ask(state, account, form.seconds, form.crafts, form.areas, form.days, form.mode)
    hand_over(made)
    return shape(state, made)


@router.get("/latest", response_model=schemas.BuildShape | None)
@shared
def latest(week: str, _: Reader) -> dict[str, Any] | None:
    state = load_state(week)
    found = builds.latest(state.week)
    return shape(state, found) if found else None


@router.post("/{build}/stop", status_code=204)
def stop(week: str, build: int, _: Editor) -> None:
    runs.stop(builds.find(load_state(week).week, build))


@router.post("/{build}/drop", status_code=204)
def drop(week: str, build: int, _: Editor) -> None:
    builds.drop(builds.find(load_state(week).week, build))


@router.post("/{build}/accept", response_model=schemas.Accepted)
def accept(week: str, build: int, account: Editor) -> dict[str, Any]:
    taken = accepting.accept(find_week(week).name, account, build)
    return {"left": taken.left, "to_fit": taken.to_fit, "week": overview(load_state(week))}
