"""Background work as it is listed: what is under way, what ended lately, and what is done by itself."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime

from peewee import JOIN

from nundine.services.background import runs
from nundine.services.background.periodic import PERIODIC, SITE, Periodic, next_at
from nundine.services.errors import NotFound, Refused
from nundine.store.account import Account
from nundine.store.run import Run, RunFile

MOST = 60
"""Runs that are listed."""


def names_of_files(runs_: Iterable[Run]) -> dict[int, str]:
    """By run, the name of what it made and still keeps."""
    ids = [run.id for run in runs_] or [0]
    return dict(RunFile.select(RunFile.run, RunFile.name).where(RunFile.run.in_(ids) & RunFile.out).tuples())


def lately() -> list[Run]:
    """The newest runs other than those that come by themselves, with who asked for them."""
    runs.find_dead()
    rows = (
        Run.select(Run, Account)
        .join(Account, JOIN.LEFT_OUTER)
        .where(Run.kind.not_in(list(PERIODIC) or [""]) | (Run.state == "failed"))
        .order_by(Run.id.desc())
        .limit(MOST)
    )
    return list(rows)


def by_itself() -> list[tuple[Periodic, Run | None, datetime]]:
    """Each thing that is done by itself, its last run, and when it is due next."""
    return [(p, runs.newest(p.kind, SITE), next_at(p)) for p in PERIODIC.values()]


def now(kind: str, account: Account) -> Run:
    """A run of something periodic, at once. Raises NotFound, and Refused while it is under way."""
    if kind not in PERIODIC:
        raise NotFound("kind", f"Nothing of the name {kind[:40]!r} is done by itself.")
    if not PERIODIC[kind].at_once:
        raise Refused("kind", "This is done at its time and no sooner.")
    return runs.begin(kind, SITE, PERIODIC[kind].label, account, {})
