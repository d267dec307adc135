"""Findings of the core in words: a table of sentences for each kind of finding, by code (and `how`)."""

from __future__ import annotations

from collections.abc import Mapping

from nundine.core.finding import Finding
from nundine.services.wording.names import Names
from nundine.services.wording.phrases import Phrases, times_words


def reason(found: Finding, names: Names) -> str:
    """Why a job is not in the week."""
    if found.code == "not worth its prices":
        return _not_worth_its_prices(found, names)
    return _said(REASONS, found, names)


def helps(found: Finding, names: Names) -> str:
    """What would let a job in; changes that help together are joined."""
    if found.code in HELPS:
        return _said(HELPS, found, names)
    parts = found.code.split(" and ")
    facts = {**found.facts, "more": _more_hours(found, names)}
    return ", and ".join(Phrases(names).fill(CHANGES[part], facts) for part in parts)


def conflict(found: Finding, names: Names) -> str:
    """Which rule a plan breaks, and where."""
    return _said(CONFLICTS, found, names)


def ask(found: Finding, names: Names) -> str:
    """What others could grant."""
    return _said(ASKS, found, names)


def gate(found: Finding, names: Names) -> str:
    """What is missing for a WO to be ready, or to be placed at all."""
    return _said(GATES, found, names)


def candidate(found: Finding, names: Names) -> str:
    """What speaks for or against somebody on a seat."""
    return _said(CANDIDATES, found, names)


def _said(sentences: Mapping[str, str], found: Finding, names: Names) -> str:
    return Phrases(names).fill(sentences[found.name], found.facts)


def _not_worth_its_prices(found: Finding, names: Names) -> str:
    facts, fill = found.facts, Phrases(names).fill
    parts = []
    if facts["open"]:
        parts.append(fill("lie open from {first:moment} to {last:moment}", _ends(facts["open"])))
    if facts["handovers"]:
        parts.append(f"change hands {times_words(facts['handovers'])}")
    if facts["area_changes"]:
        parts.append(f"send people to another area {times_words(facts['area_changes'])}")
    if facts["away"]:
        parts.append(fill("be {away:h} of work away from {area:area}'s own people", facts))
    said = f"it is not worth its prices: it would {', '.join(parts)}"
    return said + fill(" ({price:points} points for {points:points})", facts)


def _ends(moments: list[str]) -> dict[str, str]:
    return {"first": moments[0], "last": moments[1]}


def _more_hours(found: Finding, names: Names) -> str:
    more = found.facts.get("more") or {}
    return ", ".join(f"{hours:g} h more of {names.called('craft', craft)}" for craft, hours in more.items())


REASONS = {
    "order": "its {tasks} tasks, {hours:h} in order, do not fit one after another into the week",
    "window too short for the whole job": "{asset:asset} is out of service for {hours:h} from the first to "
    "the last task; its longest window is {longest:h}",
    "nobody, on shift": "task {task} needs {needed} {need}; {there} on shift this week",
    "nobody, together": "task {task}: the {needed} people that it needs are never on shift together for "
    "{together:h}",
    "too long": "task {task} takes {hours:h}, longer than any shift, and may not be split",
    "not yet": "it may start on {earliest:day} at the earliest",
    "no window": "task {task}: {asset:asset} is not {asset_state} for work at any time that it could start",
    "window too short": "task {task} needs {hours:h}; the longest window of {asset:asset} is {longest:h}",
    "nobody in the window": "task {task}: too few qualified people work while {asset:asset} may be touched",
    "tool, none": "task {task} needs {tools:all}, and there is none",
    "tool, in use": "{tools:all} is in use whenever it could be done",
    "overtime": "it fits only with {overtime:h} of overtime, which cost more than it is worth",
    "fits": "it fits as the week stands now; build again, or place it by hand",
    "held back": "it fits only into the held-back hours of {crafts:craft}",
    "travel": "it fits only without time for the way: whoever could do it in {area:area} comes from another "
    "area, or has to go there next",
    "outranked, one job": "{asset:asset} takes one job at a time; there already: {jobs:some}",
    "outranked, worth": "it fits only in place of work that is worth more, such as {jobs:some}",
    "hours, too few": "{craft:craft} is full: it needs {needed:h}, {left:h} are left when it could be done",
    "hours, in pieces": "{craft:craft} is full when it could be done: it needs {needed:h} in one stretch, "
    "{left:h} are left in pieces",
}
HELPS = {
    "put out": "putting out {job} (worth {value:points} points, this one {own_value:points})",
    "lifted": "{job} free to move (it is pinned, or was put by hand)",
}
CHANGES = {
    "window": "{asset:asset} free for work {span}",
    "held back": "using held-back hours, {span}",
    "release": "its release or parts by {start:moment}",
    "tool": "one more of its tools, {span}",
    "hours": "{more} {span} (overtime, or another person)",
    "put back": "{asset:asset} back in service between its tasks, {span}",
    "travel": "somebody who is in {area:area} already, {span}",
}
"""Of these, one alone or two together let a job in."""
CONFLICTS = {
    "unknown": "{job} task {task} is not in the problem",
    "twice": "{job} task {task} portion {portion} stands twice",
    "fixed, gone": "{job} task {task} is fixed and not in the plan",
    "fixed, changed": "{job} task {task} is fixed and was changed",
    "order, portions": "{job} task {task}: its portions overlap",
    "order, start": "{job} task {task} starts before task {after} is finished",
    "order, day": "{job} task {task} is on an earlier day than task {after}",
    "order, portion before": "{job} task {task} on {day:day}: no time is left after the portion before it",
    "order, tasks before": "{job} task {task} on {day:day}: no time is left after task {tasks:all}",
    "whole, in part": "{job} is placed in part",
    "whole, without": "{job} task {task} is placed without one that it follows",
    "hours": "{job} task {task} has {placed:h} placed of {hours:h}",
    "split, never": "{job} task {task} may not be split",
    "split, short": "{job} task {task}: a portion is shorter than {least:h}",
    "one job, at once": "{jobs:all} are on {asset:asset} at once; one job at a time there",
    "one job, there": "{job} task {task} on {day:day}: {asset:asset} takes one job at a time, and {other} is "
    "there",
    "tool, at once": "{uses} jobs use {tool} at once ({jobs:all}); there are {count}",
    "tool, day": "{job} task {task} on {day:day}: no {tool} is free for {hours:h}",
    "held back": "{craft:craft}: {used:h} of the held-back hours are used",
    "double": "{person:person} is on {jobs:all} at once",
    "seats, count": "{job} task {task} has {needed} seats, not {there}",
    "seats, two": "{job} task {task}: one person sits on two seats",
    "seats, unknown": "{job} task {task}: unknown person {person}",
    "craft": "{job} task {task}: {person:person} is no {craft:craft} at level {level}",
    "away, day": "{job} task {task}: {person:person} does not work on {day:day}",
    "away, part": "{job} task {task}: {person:person} is not there for {hours:h} of it",
    "away, too short": "{job} task {task} on {day:day}: {person:person} is not there for {hours:h} on end",
    "away, then": "{job} task {task} on {day:day}: {person:person} is not there when it could be done",
    "away, together": "{job} task {task} on {day:day}: {person:person} and {others:person} are never there "
    "together for {hours:h}",
    "certificate": "{job} task {task}: {person:person} has no valid certificate {certificate}",
    "day, starts": "{job} task {task}: its people start on {starts:day}, not on {day:day}",
    "day, outside": "{job} task {task}: {day:day} is not in the week",
    "week, before": "{job} task {task} starts before the week",
    "week, after": "{job} task {task} passes the end of the week outside a shift of the week",
    "window, outside": "{job} task {task} needs {asset:asset} {asset_state}; {hours:h} of it lie outside",
    "window, day": "{job} task {task} on {day:day}: {asset:asset} is not {asset_state} for {hours:h} on end "
    "while anybody works",
    "earliest, start": "{job} task {task} starts before its earliest time",
    "earliest, day": "{job} task {task} on {day:day}: it can not start before {earliest:moment}",
    "latest, end": "{job} task {task} ends after its latest time",
    "latest, day": "{job} task {task} on {day:day}: it must have ended by {latest:moment}",
    "nobody, there": "{job} task {task} needs {needed} {need}; {there:who} who is there could take it",
    "nobody, on shift": "{job} task {task} on {day:day} needs {needed} {need}; {there:who} on shift for "
    "{hours:h} could take it",
    "nobody, then": "{job} task {task} on {day:day} needs {needed} {need} at a time when nobody of them is "
    "there",
    "full, beside": "{job} task {task} on {day:day}: {person:person} has no {hours:h} on end left beside "
    "work that has its time",
    "full, too much": "{person:person} has {hours:h} of work without a time on {day:day}, and {free:h} for "
    "it",
    "out of service, running": "{job} keeps {asset:asset} out of service while {other} task {task} needs it "
    "running",
    "out of service, torn": "{job} would keep {asset:asset} out of service from {first:day} to {last:day}, "
    "past its work windows",
    "out of service, from before": "{job} would keep {asset:asset} out of service since an earlier week to "
    "{last:day}, past its work windows",
    "travel": "{person:person} has {between:n} min from {from_job} in {from_area:area} to {job} in "
    "{area:area}; the way takes {minutes:n} min",
}
ASKS = {
    "window": "{asset:asset} free for work {span}",
    "hours": "{hours:h} of overtime of {craft:craft} ({person:person}) {span}",
    "part": "{job} released by {by:moment} (now {earliest:day})",
    "part, comes": "{parts:all} there by {by:day}, {sooner} sooner, for {job}",
    "put back": "{asset:asset} back in service between the tasks of {job}",
    "lent": "{person:person} ({craft:craft}) lent to {area:area} for the shift of {day:day}",
    "tool": "one more {tool} for the week",
}
GATES = {
    "state": "it is {state}",
    "elsewhere": "it stands in week {week}; take it out there first",
    "plan, no tasks": "it has no tasks with hours and crafts yet",
    "plan, state": "it is {state}; it has to be approved first",
    "parts, unknown": "nobody knows when its parts come",
    "parts, late": "its parts come on {day:day}, after this week",
    "people": "too few people on the roster have the crafts, levels or certificates that it needs",
    "window": "its asset has no work window in this week",
    "permit": "its permit has not been granted",
}
CANDIDATES = {
    "away": "no shift that day",
    "certificate": "no valid certificate {certificate}",
    "same job": "already on this job",
    "hours": "not there for all of it",
    "busy": "busy with {jobs:all}",
    "travel": "no time for the way from or to another area",
    "short": "only {free:h} free",
    "free": "{free:h} free",
    "second craft": "second craft",
    "same area": "same area",
    "overtime": "in overtime",
}
