"""What a build that has not begun waits for: the worker has so many hands, and they are at something else."""

from __future__ import annotations

from nundine.store.foreign import Bringing
from nundine.store.week import Build, Handout, Proof, Week

KINDS = {"build": "a build of week {}", "asks": "the asks of week {}"}


def under_way(but: int) -> list[str]:
    """What the worker is at, other than a build with that number, as a person would say it."""
    found = [
        KINDS[b.asked["kind"]].format(b.week.name)
        for b in Build.select(Build, Week).join(Week).where((Build.state == "running") & (Build.id != but))
    ]
    proofs = Proof.select(Proof, Week).join(Week).where(Proof.running)
    found += [f"the bound of week {p.week.name}" for p in proofs]
    sheets = (Handout.taken.is_null(False)) & Handout.made.is_null()
    found += [
        f"crew sheets of week {name}"
        for (name,) in Handout.select(Week.name).join(Week).where(sheets).distinct().tuples()
    ]
    if Bringing.select().where(Bringing.state == "working").exists():
        found.append("a file on its way in")
    return found


def waits_for(build: Build) -> str | None:
    """Why a build has not begun; None for one that has."""
    if build.state != "waiting":
        return None
    what = under_way(build.id)
    return f"The worker is at {', '.join(what)}." if what else "The worker takes it in a moment."
