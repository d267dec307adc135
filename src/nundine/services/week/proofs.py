"""Proofs of bounds: asked for by the weeks that are looked at, at most one a week and a few at all, done one
after another."""

from __future__ import annotations

from nundine.core.week.bound.prove import proven_within
from nundine.services.week.builds import PROVE_SECONDS, keep_bound
from nundine.services.week.state import WeekState, load_state
from nundine.settings import settings
from nundine.store.base import db
from nundine.store.site import Site
from nundine.store.week import Proof, Week

MOST = 4
"""Weeks whose proof may wait or be under way; who looks at another meanwhile has it proven when it is looked
at again."""


def ask(state: WeekState) -> bool:
    """Whether the worker has to be told: the bound of a week that is looked at is not known, and its proof
    fits in."""
    if not state.problem.jobs or state.week.bound_of == state.data_mark or state.week.status == "closed":
        return False
    if Proof.select().where(Proof.week == state.week).exists():
        return not Proof.select().where(Proof.running).exists()
    with db.atomic():
        Site.select(Site.id).for_update().first()
        if Proof.select().count() >= MOST:
            return False
        Proof.insert(week=state.week, asked=settings().now()).on_conflict_ignore().execute()
    return True


def prove_waiting() -> None:
    """What the worker does: prove the bounds of the weeks that wait, oldest first, until none does. One at a
    time at all."""
    while True:
        with db.atomic():
            Site.select(Site.id).for_update().first()
            if Proof.select().where(Proof.running).exists():
                return
            waiting = Proof.select(Proof, Week).join(Week).order_by(Proof.asked, Proof.id).first()
            if waiting is None:
                return
            Proof.update(running=True).where(Proof.id == waiting.id).execute()
        try:
            prove(waiting.week.name)
        finally:
            Proof.delete().where(Proof.id == waiting.id).execute()


def prove(week_name: str) -> None:
    """Prove the bound of the free week for the people and work as they are now."""
    state = load_state(week_name)
    if state.week.bound_of != state.data_mark:
        keep_bound(state.week, proven_within(state.problem, PROVE_SECONDS), state.data_mark)


def cut_off() -> None:
    """No worker is at work: who looks at a week again has it proven again."""
    Proof.delete().execute()
