"""What a week problem says against itself, each with its place as a JSON path."""

from __future__ import annotations

from nundine.core.timeline import Interval
from nundine.core.week.problem import ANY, BY_TASK, PRICE_NAMES, RUNNING, STOPPED, WHOLE, WeekProblem
from nundine.core.work import in_order


def _duplicates(ids: list[str]) -> list[str]:
    seen: set[str] = set()
    return [i for i in ids if i in seen or seen.add(i)]  # type: ignore[func-returns-value]


_sound: list[WeekProblem] = []


def contradictions(p: WeekProblem) -> list[str]:
    """Every contradiction of a problem, each with its place as a JSON path.

    People, assets and jobs that were found sound are not looked through again when only placements change.
    """
    for known in _sound:
        if (
            known.jobs is p.jobs
            and known.people is p.people
            and known.assets is p.assets
            and known.crafts is p.crafts
            and known.tools is p.tools
        ):
            return _price_errors(p) + contradictions_of_placements(p)
    errors = _data_errors(p, _found_sound(p))
    if not errors:
        _sound.append(p)
        del _sound[:-4]
    return errors + _price_errors(p) + contradictions_of_placements(p)


def _price_errors(p: WeekProblem) -> list[str]:
    """What is wrong with prices of loose ends and ways between areas."""
    errors = [
        f"$.weights.{name}: must not be negative" for name in PRICE_NAMES if getattr(p.weights, name) < 0
    ]
    return errors + [
        f"$.travel[{n}].minutes: must not be negative" for n, way in enumerate(p.travel) if way.minutes < 0
    ]


def _found_sound(p: WeekProblem) -> set[int]:
    """Identities of jobs that were found sound beside the same crafts, tools and assets, and are alive in a
    problem that we hold."""
    for known in reversed(_sound):
        if known.crafts is p.crafts and known.tools is p.tools and known.assets is p.assets:
            return {id(job) for job in known.jobs}
    return set()


def _data_errors(p: WeekProblem, sound: set[int]) -> list[str]:
    errors: list[str] = []
    if not Interval(p.start, p.end).hours > 0:
        errors.append("$.end: must lie after start")
    if p.slot_minutes < 1:
        errors.append("$.slot_minutes: must be at least 1")
    for name, things in (
        ("crafts", p.crafts),
        ("people", p.people),
        ("assets", p.assets),
        ("tools", p.tools),
        ("jobs", p.jobs),
    ):
        errors += [f"$.{name}: id {i!r} stands twice" for i in _duplicates([t.id for t in things])]
    crafts, assets = {c.id for c in p.crafts}, {a.id for a in p.assets}
    tools = {t.id for t in p.tools}
    for n, craft in enumerate(p.crafts):
        if not 0 <= craft.held_back <= 1:
            errors.append(f"$.crafts[{n}].held_back: must lie between 0 and 1")
    for n, person in enumerate(p.people):
        if not person.crafts:
            errors.append(f"$.people[{n}].crafts: a person has at least one craft")
        errors += [
            f"$.people[{n}].crafts: unknown craft {c.craft!r}" for c in person.crafts if c.craft not in crafts
        ]
        errors += [
            f"$.people[{n}].hours[{k}]: end before start"
            for k, h in enumerate(person.hours)
            if Interval(h.start, h.end).hours < 0
        ]
    for n, job in enumerate(p.jobs):
        if id(job) in sound:
            continue
        where = f"$.jobs[{n}]"
        if job.asset is not None and job.asset not in assets:
            errors.append(f"{where}.asset: unknown asset {job.asset!r}")
        errors += [f"{where}.tasks: id {i!r} stands twice" for i in _duplicates([t.id for t in job.tasks])]
        if job.out_of_service not in (WHOLE, BY_TASK):
            errors.append(f"{where}.out_of_service: must be whole or by_task")
        try:
            in_order(job.tasks)
        except ValueError as bad:
            errors.append(f"{where}.tasks: {bad}")
        for k, task in enumerate(job.tasks):
            at = f"{where}.tasks[{k}]"
            if task.hours <= 0:
                errors.append(f"{at}.hours: must be more than 0")
            if task.asset_state not in (STOPPED, RUNNING, ANY):
                errors.append(f"{at}.asset_state: must be stopped, running or any")
            if task.splittable and task.min_portion <= 0:
                errors.append(f"{at}.min_portion: must be more than 0")
            errors += [f"{at}.after: lag must not be negative" for a in task.after if a.lag < 0]
            errors += [f"{at}.needs: unknown craft {d.craft!r}" for d in task.needs if d.craft not in crafts]
            errors += [f"{at}.needs: people must be at least 1" for d in task.needs if d.people < 1]
            errors += [f"{at}.tools: unknown tool {t!r}" for t in task.tools if t not in tools]
    return errors


def contradictions_of_placements(p: WeekProblem) -> list[str]:
    """Those of fixed and previous placements alone."""
    errors: list[str] = []
    if not (p.fixed or p.previous):
        return errors
    tasks, people = p.task_by_id, p.person_by_id
    for name, placements in (("fixed", p.fixed), ("previous", p.previous)):
        keys: set[tuple[str, str, int]] = set()
        for n, one in enumerate(placements):
            at = f"$.{name}[{n}]"
            if one.key in keys:
                errors.append(f"{at}: portion {one.portion} of task {one.task} of {one.job} stands twice")
            keys.add(one.key)
            if p.sound_placements.get((name, id(one))) is one:
                continue
            before = len(errors)
            task = tasks.get((one.job, one.task))
            if name == "fixed" and task is None:
                errors.append(f"{at}: unknown task {one.task!r} of job {one.job!r}")
            if name == "fixed" and task is not None and len(one.people) != task.people:
                errors.append(f"{at}.people: the task has {task.people} seats, not {len(one.people)}")
            if (one.start is None) != (one.end is None):
                errors.append(f"{at}: give both start and end, or neither")
            if one.start is not None and one.end is not None and not Interval(*one.times).hours > 0:
                errors.append(f"{at}.end: must lie after start")
            if one.start is None and one.hours is None:
                errors.append(f"{at}.hours: needed when start and end are null")
            errors += [
                f"{at}.people: unknown person {s.id!r}"
                for s in one.people
                if s.id is not None and s.id not in people
            ]
            if len(errors) == before:
                p.sound_placements[(name, id(one))] = one
    return errors
