"""Background work: what is under way and what was, stopped and started again."""

from __future__ import annotations

from typing import Any

from fastapi import APIRouter, Response

from nundine.api import schemas
from nundine.api.download import download
from nundine.api.http import DbRoute, Manager, Reader, waits
from nundine.jobs.queue import hand_over
from nundine.services import access
from nundine.services.background import run_list, runs
from nundine.services.background.run_kinds import KINDS
from nundine.services.errors import NotFound
from nundine.store.account import Account
from nundine.store.run import Run, RunFile
from nundine.store.site import site

router = APIRouter(prefix="/api/runs", tags=["background"], route_class=DbRoute)
KEPT_AS = "application/octet-stream"


def shape(run: Run, files: dict[int, str] | None = None) -> dict[str, Any]:
    """A run, as it is told; `files` are the names of what runs made, where they were looked up for
    several."""
    share = run.progress if isinstance(run.progress, (int, float)) else None
    made = run_list.names_of_files([run]) if files is None else files
    ended_badly = run.state in ("failed", "stopped") and run.outcome is None
    return {
        "id": run.id, "kind": run.kind, "label": run.label, "state": run.state,
        "by": run.account.full_name if run.account else None,
        "created": run.created, "began": run.began, "ended": run.ended,
        "share": share, "error": run.error, "waits_for": runs.waits_for(run),
        "again": ended_badly and run.kind in KINDS and KINDS[run.kind].anew is not None,
        "file": made.get(run.id) if run.state == "done" else None,
        "can_stop": runs.can_stop(run),
    }  # fmt: skip


def own_run(run_id: int, account: Account, kind: str | None = None) -> Run:
    """A run that this account asked for, or any for those who look after the site. Raises NotFound."""
    run = runs.find(run_id, kind)
    if run.account_id != account.id and not access.may(account, access.MANAGE):
        raise NotFound("run", f"There is no background work {run_id} here.")
    return run


@router.get("", response_model=schemas.RunsShape)
def all_runs(_: Manager) -> dict[str, Any]:
    """What is under way, what ended lately, and what is done by itself at its times."""
    lately = run_list.lately()
    files = run_list.names_of_files(lately)
    return {
        "timezone": site().timezone,
        "runs": [shape(r, files) for r in lately],
        "periodic": [
            {
                "kind": p.kind,
                "label": p.label,
                "when": p.when.words(),
                "last": shape(last) if last else None,
                "next": following,
                "at_once": p.at_once,
            }
            for p, last, following in run_list.by_itself()
        ],
    }


@router.get("/{run}", response_model=schemas.RunShape)
def one(run: int, account: Reader) -> dict[str, Any]:
    return shape(own_run(run, account))


@router.get("/{run}/file", response_class=Response)
@waits
def file(run: int, account: Reader) -> Response:
    """What a run made for the account that asked for it. Raises NotFound for others, and when it is gone."""
    found = runs.find(run)
    made = RunFile.get_or_none((RunFile.run == found) & RunFile.out)
    if found.account_id != account.id or made is None:
        raise NotFound("file", "This file is not here any more. Have it made again.")
    return download(bytes(made.content), KEPT_AS, made.name)


@router.post("/{run}/stop", response_model=schemas.RunShape)
def stop(run: int, account: Reader) -> dict[str, Any]:
    runs.stop(own_run(run, account))
    return shape(runs.find(run))


@router.post("/{run}/again", response_model=schemas.RunShape)
def again(run: int, account: Reader) -> dict[str, Any]:
    made = runs.start_again(own_run(run, account), account)
    hand_over(made)
    return shape(runs.find(made.id))


@router.post("/periodic/{kind}", response_model=schemas.RunShape)
def now(kind: str, account: Manager) -> dict[str, Any]:
    """Have something done now that is done by itself at its times."""
    made = run_list.now(kind, account)
    hand_over(made)
    return shape(runs.find(made.id))
