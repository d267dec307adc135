"""People, assets and jobs of a week in memory. What the ledger says of a change since they were read is read
anew, and no more."""

from __future__ import annotations

from collections.abc import Iterable, Set
from dataclasses import dataclass, field, replace
from zoneinfo import ZoneInfo

from nundine.core.week.problem import Asset, Craft, Job, Person, Tool, Travel
from nundine.services.cache import keep, kept, remember_value
from nundine.services.ledger.entries import changes_of_numbers
from nundine.services.ledger.marks import recent
from nundine.store.reading.assets import load_assets
from nundine.store.reading.jobs import MOST_JOBS, load_jobs, numbers_of_jobs
from nundine.store.reading.people import load_people
from nundine.store.reading.site import load_crafts, load_tools, load_ways
from nundine.store.week import Week
from nundine.store.work_order import WorkOrder

OF_A_PERSON = ("person", "absence", "overtime", "extra shift", "loan", "roster line")
OF_A_JOB = ("work order", "task")
MOST_PATCHED = 400
"""Records beyond which all is read anew."""


@dataclass(frozen=True)
class Loaded:
    """What a week problem is made of beside placements, and the deeds of the ledger after which it was so.

    `kinds`: what a WO's hours count as, of those that were asked for since somebody said something of them.
    """

    people_deeds: tuple[int, ...]
    work_deeds: tuple[int, ...]
    elsewhere: frozenset[int]
    people: tuple[Person, ...]
    assets: tuple[Asset, ...]
    jobs: tuple[Job, ...]
    crafts: tuple[Craft, ...]
    tools: tuple[Tool, ...]
    ways: tuple[Travel, ...]
    kinds: dict[str, str] = field(default_factory=dict)


def in_memory(week: Week, zone: ZoneInfo, here: object, elsewhere: frozenset[int]) -> Loaded:
    """As the ledger has it now.

    Parameters
    ----------
    here
        What tells this site from those of other databases under the same process.
    elsewhere
        WOs that stand in another open week.
    """
    people_deeds, work_deeds = recent()
    key = ("loaded", here, week.name, people_deeds, work_deeds, elsewhere)

    def make() -> Loaded:
        before: Loaded | None = kept(("newest loaded", here, week.name))
        made = before and _patched(before, week, zone, people_deeds, work_deeds, elsewhere)
        made = made or _read(week, zone, people_deeds, work_deeds, elsewhere)
        keep(("newest loaded", here, week.name), made)
        return made

    found: Loaded = remember_value(key, make)
    return found


def _read(
    week: Week,
    zone: ZoneInfo,
    people_deeds: tuple[int, ...],
    work_deeds: tuple[int, ...],
    elsewhere: frozenset[int],
) -> Loaded:
    return Loaded(
        people_deeds,
        work_deeds,
        elsewhere,
        load_people(week.name, zone),
        load_assets(week.name, zone),
        load_jobs(week, zone),
        load_crafts(),
        load_tools(),
        load_ways(),
    )


def _since(now: tuple[int, ...], before: tuple[int, ...]) -> set[int] | None:
    """Deeds that came after; None where more may have come than are looked at."""
    if before and before[0] not in now:
        return None
    return set(now) - set(before)


def _patched(
    before: Loaded,
    week: Week,
    zone: ZoneInfo,
    people_deeds: tuple[int, ...],
    work_deeds: tuple[int, ...],
    elsewhere: frozenset[int],
) -> Loaded | None:
    """What was in memory with what changed since; None where all has to be read anew."""
    of_people, of_work = _since(people_deeds, before.people_deeds), _since(work_deeds, before.work_deeds)
    if of_people is None or of_work is None:
        return None
    changes = changes_of_numbers(of_people | of_work)
    if changes is None or len(changes) > MOST_PATCHED:
        return None
    nouns = {c.noun for c in changes}
    if nouns - {*OF_A_PERSON, *OF_A_JOB, "window", "placement", "elsewhere"}:
        return None
    who = {c.key[0] for c in changes if c.noun in OF_A_PERSON}
    numbers = {c.key[0] for c in changes if c.noun in OF_A_JOB} | _numbers(elsewhere ^ before.elsewhere)
    said = {c.key[0] for c in changes if c.noun == "work order" and not c.derived}
    made = replace(
        before,
        people_deeds=people_deeds,
        work_deeds=work_deeds,
        elsewhere=elsewhere,
        kinds={number: kind for number, kind in before.kinds.copy().items() if number not in said},
    )
    if who:
        people = {p.id: p for p in before.people if p.id not in who}
        people |= {p.id: p for p in load_people(week.name, zone, who)}
        made = replace(made, people=_sorted(people.values()))
    if numbers:
        made = replace(made, jobs=_jobs_with(before.jobs, numbers, week, zone))
    if "window" in nouns:
        made = replace(made, assets=load_assets(week.name, zone))
    return made


def _jobs_with(before: tuple[Job, ...], numbers: set[str], week: Week, zone: ZoneInfo) -> tuple[Job, ...]:
    """Jobs with those of some WOs read anew. Where there are as many as are looked at, others may come or go
    for them."""
    may_be: Set[str] = numbers
    if len(before) >= MOST_JOBS:
        first, standing = numbers_of_jobs(week)
        may_be = first | standing
        numbers = numbers | (may_be ^ {j.id for j in before})
    jobs = {j.id: j for j in before if j.id not in numbers}
    jobs |= {j.id: j for j in load_jobs(week, zone, only=numbers) if j.id in may_be}
    return _sorted(jobs.values())


def _sorted(things: Iterable) -> tuple:  # type: ignore[type-arg]
    return tuple(sorted(things, key=lambda one: one.id))


def _numbers(ids: frozenset[int]) -> set[str]:
    if not ids:
        return set()
    rows = WorkOrder.select(WorkOrder.number).where(WorkOrder.id.in_(sorted(ids)))
    return {n for (n,) in rows.tuples()}
