"""The one door of background work: asked for, one of a kind at a time on a target; run by a worker; stopped;
found when its worker is gone, and started again."""

from __future__ import annotations

import logging
import os
import socket
from collections.abc import Iterable
from datetime import timedelta
from typing import Any, Literal

from peewee import IntegrityError

from nundine.services.background.run_kinds import KINDS, Kind
from nundine.services.background.working import Stopped, Working, week_of
from nundine.services.errors import NotFound, Refused
from nundine.services.ledger.commands import tell
from nundine.services.retrying import patiently
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.base import db
from nundine.store.run import GOING, Run, RunFile

log = logging.getLogger("nundine")

SILENT = timedelta(seconds=45)
"""Without a sign of life for so long a run is taken for dead: its process is gone."""
FORGOTTEN = timedelta(seconds=20)
"""A run that waits for longer is handed over once more: the message may have been lost with a worker."""
GONE = "The worker went away. Start it again."
CUT_OFF = "Nundine ended in the middle of it. Nothing was changed; start it again."
TAKEN = 1062
"""MariaDB's number of a unique key that is there already."""

Standing = Literal["running", "ready", "failed"]
"""How a run stands, for those who wait for its result."""


def target_of_week(name: str) -> str:
    """What a run is about that is about a week; `week_of` reads it."""
    return f"week {name}"


def begin(
    kind: str,
    target: str,
    label: str,
    account: Account | None,
    asked: dict[str, Any],
    files: Iterable[tuple[str, bytes]] = (),
    slot: str | None = None,
) -> Run:
    """A run that a worker will take, once it is handed over.

    Parameters
    ----------
    label
        What it is, as a person says it: "a build of week 2026-W49".
    files
        Names and contents of the files that it takes in.
    slot
        For a periodic run: the moment for which it is due.

    Raises
    ------
    Refused
        With code `running` while one of the kind is under way on the target, or the slot was taken.
    """
    holds, now = f"{kind} {target}", settings().now()
    find_dead(Run.holds == holds)
    try:
        with db.atomic():
            made = Run.create(
                kind=kind, target=target, label=label, account=account, asked=asked, holds=holds, slot=slot,
                created=now, heartbeat=now,
            )  # fmt: skip
            for name, content in files:
                RunFile.create(run=made, name=name[:200], content=content)
            _tell(made, "waiting")
    except IntegrityError as bad:
        if bad.args and bad.args[0] == TAKEN:
            raise Refused("running", KINDS[kind].busy) from bad
        raise
    return made


def work_on(run_id: int) -> None:
    """What a worker does with a run: it takes it if nobody did, works, and keeps the result or why there is
    none. The worker's own connection is open.

    A kind that runs alone stays waiting while another of it runs; whoever ends takes the next.
    """
    following: int | None = run_id
    while following is not None:
        run = Run.get_or_none(Run.id == following)
        if run is None or not _take(run):
            return
        kind = KINDS[run.kind]
        _work(run, kind)
        following = _next_of(kind) if kind.alone else None


def _take(run: Run) -> bool:
    """Whether it is ours now: it waited, and may run."""
    lane = run.kind if KINDS[run.kind].alone else None
    waits, now = (Run.id == run.id) & (Run.state == "waiting"), settings().now()
    if lane is not None:
        find_dead(Run.lane == lane)
    try:
        with db.atomic():
            taken = {"state": "running", "lane": lane, "began": now, "heartbeat": now, "worker": worker()}
            ours = Run.update(taken).where(waits).execute()
    except IntegrityError:
        return False
    return bool(ours)


def _next_of(kind: Kind) -> int | None:
    found = Run.select(Run.id).where((Run.kind == kind.name) & (Run.state == "waiting")).order_by(Run.id)
    following: int | None = found.limit(1).scalar()
    return following


def _work(run: Run, kind: Kind) -> None:
    try:
        with Working(run) as working:
            result = kind.work(working)
        _end(run, "done", result=result)
    except Stopped:
        _end(run, "stopped")
    except Refused as bad:
        _end(run, "failed", error=str(bad))
    except Exception as bad:
        _end(run, "failed", error=f"{type(bad).__name__}: {bad}")
        raise


def _end(run: Run, state: str, result: dict[str, Any] | None = None, error: str | None = None) -> None:
    """What is over stays as it ended: a run that was dropped meanwhile is not brought back."""
    going = (Run.id == run.id) & Run.state.in_(GOING)

    def end() -> None:
        with db.atomic():
            ended = {"state": state, "result": result, "error": error and error[:500], **_over()}
            if Run.update(**ended).where(going).execute():
                _tell(run, state)

    patiently(end)


def _over() -> dict[str, Any]:
    return {"holds": None, "lane": None, "ended": settings().now()}


def _tell(run: Run, state: str) -> None:
    if (week := week_of(run.target)) is not None:
        tell(week, run.kind, {"run": run.id, "state": state})


def find(run_id: int, kind: str | None = None, target: str | None = None, lock: bool = False) -> Run:
    """A run, of a kind and target if these are given; with `lock` nobody else changes it until the caller's
    transaction ends. Raises NotFound."""
    query = Run.select().where(Run.id == run_id)
    query = query.where(Run.kind == kind) if kind else query
    query = query.where(Run.target == target) if target else query
    found = (query.for_update() if lock else query).first()
    if found is None:
        raise NotFound("run", f"There is no {kind or 'background work'} {run_id} here.")
    run: Run = found
    return run


def newest(kind: str, target: str) -> Run | None:
    """The run of a kind that was asked for last on a target; told as failed where its worker is gone."""
    about = (Run.kind == kind) & (Run.target == target)
    find_dead(about)
    found: Run | None = Run.select().where(about).order_by(Run.id.desc()).first()
    return found


def how_it_stands(run: Run) -> Standing:
    """running, failed or ready, as those who wait for a result see it."""
    if run.state in GOING:
        return "running"
    return "ready" if run.state == "done" else "failed"


def can_stop(run: Run) -> bool:
    """Whether stopping it does anything: it waits, or runs and hears of it."""
    return run.state == "waiting" or (run.state == "running" and KINDS[run.kind].stops)


def stop(run: Run) -> None:
    """Have it stop: at once while it waits, at its next step while it runs. Raises Refused for what ends by
    itself."""
    if not can_stop(run):
        raise Refused("stop", "This can not be stopped any more; it ends by itself.")
    Run.update(stop=True).where(Run.id == run.id).execute()
    waits = (Run.id == run.id) & (Run.state == "waiting")
    if not KINDS[run.kind].partial and Run.update(state="stopped", **_over()).where(waits).execute():
        _tell(run, "stopped")


def start_again(run: Run, account: Account) -> Run:
    """A run that failed or was stopped, once more, for whoever asks. Raises Refused for one that is going, or
    of a kind that is started elsewhere."""
    kind = KINDS[run.kind]
    if run.state not in ("failed", "stopped"):
        raise Refused(
            "state", f"This run is {run.state}; only one that failed or was stopped is started again."
        )
    if kind.anew is None:
        raise Refused("kind", "This is started again from its own page.")
    files = [(f.name, bytes(f.content)) for f in RunFile.select().where((RunFile.run == run) & ~RunFile.out)]
    return begin(run.kind, run.target, run.label, account, kind.anew(run), files)


def find_dead(among: Any = True, said: str = GONE) -> int:
    """Say of runs without a sign of life that they failed, and why; gives how many there were."""
    silent = (Run.state == "running") & (Run.heartbeat < settings().now() - SILENT)
    return _bury(silent & among if among is not True else silent, said)


def worker(process: int | None = None) -> str:
    """How a worker is known: its machine and the number of its process; this one if none is given."""
    return f"{socket.gethostname()[:100]}:{process or os.getpid()}"


def cut_off(process: int | None = None) -> None:
    """Say of what a worker of this machine was at that it was cut off, for its process is gone; of all that
    runs, where no process is named: the database was started just now, so nobody works on anything."""
    its = Run.worker == worker(process) if process else True
    _bury((Run.state == "running") & its, CUT_OFF)


def _bury(which: Any, said: str) -> int:
    dead = list(Run.select().where(which))
    for run in dead:
        _end(run, "failed", error=said)
        log.warning("%s (run %s): %s", run.label, run.id, said)
    return len(dead)


def waiting(for_longer_than: timedelta = timedelta(0)) -> list[int]:
    """Runs that no worker has begun, oldest first."""
    old = Run.created <= settings().now() - for_longer_than
    return [r.id for r in Run.select(Run.id).where((Run.state == "waiting") & old).order_by(Run.id)]


def under_way(but: int | None = None) -> list[str]:
    """What workers are at, other than one run, as a person would say it."""
    rows = Run.select(Run.label).where((Run.state == "running") & (Run.id != (but or 0))).order_by(Run.id)
    return list(dict.fromkeys(r.label for r in rows))


def waits_for(run: Run) -> str | None:
    """Why a run has not begun; None for one that has."""
    if run.state != "waiting":
        return None
    what = under_way(run.id)
    return f"The worker is at {', '.join(what)}." if what else "The worker takes it in a moment."
