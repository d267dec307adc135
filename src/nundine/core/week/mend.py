"""Mending a week: after a change, a plan without broken rules and with the fewest moves of what was promised.

Moves are counted: a person on a seat, a start, a day; a job that has to leave is the last resort. Held-back
hours may be used, for this is what they are held back for. Work that is under way or done, and whatever is
pinned, stays.

Work that has its day alone stands on the board at a time of that day that nobody is told: so it takes hours,
people and windows like all other work, and what comes of it is a day again.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from datetime import datetime

from nundine.core.week.board.board import Board, Portion
from nundine.core.week.board.fit import Fitter
from nundine.core.week.board.freedom import Freedom
from nundine.core.week.board.worth import Worth
from nundine.core.week.building.build import placement_of, with_day_alone
from nundine.core.week.check import Broken, check
from nundine.core.week.day_alone import DayAlone
from nundine.core.week.moves import Move, moves_between
from nundine.core.week.places import Places, on_their_seats
from nundine.core.week.problem import Job, Placement, WeekProblem

Key = tuple[str, str, int]
SOFT = {"held back"}


@dataclass(frozen=True)
class Mended:
    """The plan after mending, the list of moves with their count, jobs that had to leave, jobs wanted in that
    found no place."""

    placements: tuple[Placement, ...]
    moves: tuple[Move, ...]
    left: tuple[str, ...]
    not_in: tuple[str, ...]
    conflicts: tuple[Broken, ...]

    @property
    def count(self) -> int:
        return sum(m.moves for m in self.moves)


def mend(
    problem: WeekProblem,
    placements: tuple[Placement, ...],
    *,
    stay: Iterable[Key] = (),
    wanted: Iterable[str] = (),
    now: datetime | None = None,
) -> Mended:
    """Repair `placements` for the problem as it is now.

    Parameters
    ----------
    problem
        The week as it is now: without the sick person's hours, the lost window, with the later part.
        Its own `fixed` is not read.
    placements
        What was promised. Those of tasks or people that the problem no longer has are dropped.
    stay
        Placements that may not be touched: under way, done, pinned. What they break is reported in
        `conflicts`.
    wanted
        Jobs to put in (a break-in), even where a cheaper job has to leave.
    now
        Nothing starts before it, and what began before it stays.
    """
    return _Mender(problem.with_placements(), placements, set(stay), now).run(list(wanted))


class _Mender:
    def __init__(
        self,
        problem: WeekProblem,
        placements: tuple[Placement, ...],
        stay: set[Key],
        now: datetime | None,
    ) -> None:
        self.p = problem
        self.before = {p.key: p for p in placements if (p.job, p.task) in problem.task_by_id}
        self.before_known = {p.key: p for p in self._known()}
        self.board = Board(problem)
        self.fitter, self.worth = Fitter(self.board), Worth(self.board)
        self.grid = problem.grid
        self.now = self.grid.ceil(now) if now is not None else 0
        self.freedom = Freedom(held_back=True, not_before=self.now)
        self.places = Places(self.board, self.fitter, self.freedom)
        self.day_alone = DayAlone(self.board, self.freedom)
        begun = {
            k for k, p in self.before.items() if p.start is not None and now is not None and p.start < now
        }
        self.stay = (stay | begun) & set(self.before)
        self.value = {j.id: self.worth.per_hour(j) for j in problem.jobs if j.tasks}
        self.left: list[str] = []
        self.settled: set[str] = set()
        self.loose: dict[Key, Placement] = {}

    # ---------------------------------------------------------------- the course

    def run(self, wanted: list[str]) -> Mended:
        released = self._released()
        for key, one in sorted(self.before.items()):
            if one.start is not None and key not in released:
                self.board.add(self.p.job_by_id[one.job], [self._portion(one)])
        self._lay_untimed(released)
        self._settle(released)
        not_in = [job_id for job_id in wanted if not self._break_in(job_id)]
        for _ in range(4):
            broken = self._broken(self._result())
            again = self._to_release(broken)
            if not again:
                break
            for key in again:
                self._off(key)
            self._settle(again)
        placements = self._result()
        conflicts = [b for b in self._broken(placements) if b.code not in SOFT]
        moves = moves_between(self.before.values(), placements)
        return Mended(placements, moves, tuple(sorted(set(self.left))), tuple(not_in), tuple(conflicts))

    def _lay_untimed(self, released: set[Key]) -> None:
        """Put what has its day alone on the board, dearest first, tasks in order; what finds no time stays
        loose."""
        untimed = [k for k, p in self.before.items() if p.start is None and k not in released]
        for key in self._in_order(untimed):
            found = self.day_alone.hours_for(self.before_known[key])
            if found is not None:
                self._on(key[0], found)
            else:
                self.loose[key] = self.before[key]

    def _portion(self, one: Placement) -> Portion:
        assert one.start is not None and one.end is not None
        people = tuple(self.board.position.get(s.id or "") for s in one.people)
        task = self.p.task_by_id[(one.job, one.task)]
        return Portion(task, one.portion, self.grid.floor(one.start), self.grid.ceil(one.end), people)

    def _broken(self, placements: tuple[Placement, ...]) -> tuple[Broken, ...]:
        return check(self.p.with_placements(placements), placements).conflicts

    def _known(self) -> tuple[Placement, ...]:
        """What was promised, with seats of people who are gone for good as open ones."""
        known = self.p.person_by_id
        out = []
        for one in self.before.values():
            seats = tuple(replace(s, id=s.id if s.id in known else None) for s in one.people)
            out.append(replace(one, people=seats))
        return tuple(out)

    def _released(self) -> set[Key]:
        """Placements that have to change so that no hard rule is broken: of each broken rule the cheapest
        that may."""
        gone = {
            p.key
            for p in self.before.values()
            if any(s.id is not None and s.id not in self.p.person_by_id for s in p.people)
        }
        return self._to_release(self._broken(tuple(self.before_known.values()))) | (gone - self.stay)

    def _to_release(self, broken: Iterable[Broken]) -> set[Key]:
        out: set[Key] = set()
        for b in broken:
            may = [k for k in b.keys if k not in self.stay]
            if b.code in SOFT or not may or out & set(b.keys):
                continue
            out.add(min(may, key=lambda k: (k not in self.loose, self.value.get(k[0], 0.0), k)))
        return out

    # ---------------------------------------------------------------- placing again

    def _settle(self, released: set[Key]) -> None:
        """Place each released portion again, dearest job first, tasks in their order; a job that cannot stay
        whole leaves."""
        self.settled = set()
        for key in self._in_order(released):
            if key[0] in self.left or key[0] in self.settled:
                continue
            one = self.before[key]
            if not (
                self._near(one)
                or self._swap(one)
                or self._with_rest(one)
                or self._anew(one.job, key)
                or self._anew(one.job)
                or self._instead(one)
            ):
                self._leave(key[0])
        self._back()

    def _in_order(self, keys: Iterable[Key]) -> list[Key]:
        """Dearest job first, tasks of a job in their order."""
        keys = set(keys)
        order = {
            (j, t.id): n
            for j in {k[0] for k in keys}
            for n, t in enumerate(self.p.job_by_id[j].ordered_tasks)
        }
        return sorted(keys, key=lambda k: (-self.value.get(k[0], 0.0), k[0], order[k[:2]], k[2]))

    def _back(self) -> None:
        """Bring what has changed nearer to what was promised where that is free now, until nothing comes
        nearer."""
        for _ in range(4):
            changed = sorted(
                self._changed(), key=lambda key: (self._portion(self.before_known[key]).start, key)
            )
            if not sum(self._nearer(key) for key in [*reversed(changed), *changed]):
                return

    def _nearer(self, key: Key) -> bool:
        """Whether one portion found a place that is a smaller change than the one it has."""
        now, was, one = self._off(key), self._portion(self.before_known[key]), self.before[key]
        assert now is not None
        if now.end - now.start == was.end - was.start and self._near(
            one, below=self.places.cost(was, now, one.day)
        ):
            return True
        self._on(key[0], now)
        return False

    def _changed(self) -> list[Key]:
        """Placements on the board that are not where, when and with whom they were promised, but for what
        stays."""
        found = {
            (job_id, p.task.id, p.number): p
            for job_id, portions in self.board.placed.items()
            for p in portions
        }
        promised = (
            (key, self.before_known[key], p)
            for key, p in found.items()
            if key in self.before_known and key not in self.stay
        )
        return [key for key, was, p in promised if was.start is not None and not self._same(was, p)]

    def _on(self, job_id: str, portion: Portion) -> None:
        self.board.add(self.p.job_by_id[job_id], [portion])

    def _off(self, key: Key) -> Portion | None:
        """Take one portion off the board."""
        self.loose.pop(key, None)
        job = self.p.job_by_id[key[0]]
        portions = self.board.remove(job)
        mine = [p for p in portions if (p.task.id, p.number) == key[1:]]
        self.board.add(job, [p for p in portions if (p.task.id, p.number) != key[1:]])
        if not self.board.placed[job.id]:
            self.board.remove(job)
        return mine[0] if mine else None

    def _near(self, one: Placement, below: int | None = None) -> bool:
        """The cheapest change of this portion alone: people, start, start and people, day, day and people; if
        asked, only below a cost."""
        if one.start is None:
            there = self.day_alone.other_day(self.before_known[one.key])
            if there is not None:
                self._on(one.job, there)
            return there is not None
        found = self.places.cheapest(
            self.p.job_by_id[one.job], self._portion(self.before_known[one.key]), one.day
        )
        if found is None or (below is not None and found[0] >= below):
            return False
        self._on(one.job, found[1])
        return True

    def _swap(self, one: Placement) -> bool:
        """At the same time with a person who is on cheaper work that can itself change a little."""
        if one.start is None:
            return False
        job, was = self.p.job_by_id[one.job], self._portion(self.before_known[one.key])
        missing = [n for n, who in enumerate(self.places.able_now(job, was)) if who is None]
        if len(missing) != 1:
            return False
        seat = missing[0]
        need = replace(was.task.seat_needs[seat], people=1)
        for n, mask in self.board.qualified(need):
            if was.mask & ~(self.board.there[n] & mask) or n in was.people:
                continue
            blocking = [
                (j, p)
                for j, ps in self.board.placed.items()
                for p in ps
                if n in p.people and p.mask & was.mask
            ]
            if len(blocking) != 1:
                continue
            other_id, other = blocking[0]
            key = (other_id, other.task.id, other.number)
            if (
                key in self.stay
                or key not in self.before
                or self.value.get(other_id, 0.0) >= self.value[one.job]
                or other_id == one.job
            ):
                continue
            self._off(key)
            people = tuple(n if k == seat else who for k, who in enumerate(was.people))
            starts, _ = self.places.starts(job, was, people)
            if starts >> was.start & 1 and self.places.span_free(job, was, was.start):
                self._on(one.job, Portion(was.task, was.number, was.start, was.end, people))
                if self._near(self.before[key]):
                    return True
                self._off(one.key)
            self._on(other_id, other)
        return False

    def _with_rest(self, one: Placement) -> bool:
        """This portion and all that follows it in its job, one after another; all or nothing."""
        job = self.p.job_by_id[one.job]
        rank = {t.id: n for n, t in enumerate(job.ordered_tasks)}
        later = [
            p
            for p in self.board.placed.get(job.id, [])
            if (rank[p.task.id], p.number) > (rank[one.task], one.portion)
        ]
        keys = [(job.id, p.task.id, p.number) for p in later]
        if not keys or any(k in self.stay for k in keys):
            return False
        taken = [self._off(k) for k in keys]
        mine = [self.before[one.key]] + [self.before[k] for k in keys if k in self.before]
        done = []
        for part in sorted(mine, key=lambda p: (rank[p.task], p.portion)):
            if not self._near(part):
                break
            done.append(part.key)
        if len(done) == len(mine):
            return True
        for key in done:
            self._off(key)
        for portion in taken:
            if portion is not None:
                self._on(job.id, portion)
        return False

    def _anew(self, job_id: str, before: Key | None = None) -> bool:
        """The job, but for what stays and what comes before a portion of it, placed as if it were new;
        without that portion, all of it."""
        job = self.p.job_by_id[job_id]
        if any(k[0] == job_id for k in self.loose):
            return False  # what has no time anywhere is not told apart from what is still to be placed
        portions = self.board.remove(job)
        rank = {t.id: n for n, t in enumerate(job.ordered_tasks)}
        first = (rank[before[1]], before[2]) if before else (0, 0)
        have = [
            p
            for p in portions
            if (job_id, p.task.id, p.number) in self.stay or (rank[p.task.id], p.number) < first
        ]
        if have:
            self.board.add(job, have)
        for overtime in (False, True):
            found = self.fitter.fit(job, replace(self.freedom, overtime=overtime), have)
            if found:
                self.board.add(job, [self._seated(job, p) for p in found])
                self.settled.add(job_id)
                return True
        self.board.remove(job)
        self.board.add(job, portions)
        if not portions:
            self.board.remove(job)
        return False

    def _seated(self, job: Job, portion: Portion) -> Portion:
        """The same people, but whoever was promised on it on the seat they had, as far as the needs are the
        same."""
        was, needs = self.before_known.get((job.id, portion.task.id, portion.number)), portion.task.seat_needs
        if was is None or was.start is None:
            return portion
        can = [{n for n, need in zip(portion.people, needs, strict=True) if need == own} for own in needs]
        return replace(portion, people=on_their_seats(portion.people, self._portion(was).people, can))

    def _instead(self, one: Placement) -> bool:
        """In place of a job worth much less, which then finds another place or leaves."""
        job = self.p.job_by_id[one.job]
        mine = self.value.get(one.job, 0.0)
        for value, other_id in self._cheaper(job):
            if value > mine - 20 or value > 0.7 * mine:
                return False
            other = self.p.job_by_id[other_id]
            taken = self.board.remove(other)
            if self._near(one):
                if not self._anew(other_id):
                    self._leave(other_id)
                return True
            self.board.add(other, taken)
        return False

    def _cheaper(self, job: Job) -> list[tuple[float, str]]:
        """Placed jobs of which nothing stays that share a craft or the asset with a job, cheapest first."""
        crafts = {n.craft for t in job.tasks for n in t.needs}
        found = []
        for other_id, portions in self.board.placed.items():
            shares = self.p.job_by_id[other_id].asset == job.asset or crafts & {
                n.craft for p in portions for n in p.task.needs
            }
            if (
                shares
                and other_id != job.id
                and not any((other_id, p.task.id, p.number) in self.stay for p in portions)
            ):
                found.append((self.value.get(other_id, 0.0), other_id))
        return sorted(found)

    def _leave(self, job_id: str) -> None:
        """The job leaves the week, but for what stays."""
        job = self.p.job_by_id[job_id]
        portions = self.board.remove(job)
        kept = [p for p in portions if (job_id, p.task.id, p.number) in self.stay]
        if kept:
            self.board.add(job, kept)
        self.loose = {k: p for k, p in self.loose.items() if k[0] != job_id or k in self.stay}
        self.left.append(job_id)

    def _break_in(self, job_id: str) -> bool:
        """Put a job in where it is worth most: where it fits, or sooner in place of cheaper work, which finds
        another place or leaves."""
        job = self.p.job_by_id.get(job_id)
        if job is None or job_id in self.board.placed:
            return False
        best, instead = self._fit_for(job), None
        gain = self.worth.of(job, best) if best else 0.0
        for value, other_id in self._cheaper(job):
            if value >= self.value[job_id]:
                break
            other = self.p.job_by_id[other_id]
            taken = self.board.remove(other)
            found = self._fit_for(job)
            self.board.add(other, taken)
            if found and self.worth.of(job, found) - self.worth.of(other, taken) > gain + 1e-9:
                best, instead, gain = found, other_id, self.worth.of(job, found) - self.worth.of(other, taken)
        if not best:
            return False
        if instead is None:
            self.board.add(job, best)
            return True
        taken = self.board.remove(self.p.job_by_id[instead])
        self.board.add(job, best)
        self._settle({(instead, p.task.id, p.number) for p in taken} & set(self.before))
        return True

    def _fit_for(self, job: Job) -> list[Portion]:
        """Portions for a job beside what is on the board, without overtime where that is possible."""
        return (
            self.fitter.fit(job, replace(self.freedom, overtime=False))
            or self.fitter.fit(job, self.freedom)
            or []
        )

    # ---------------------------------------------------------------- what came of it

    def _result(self) -> tuple[Placement, ...]:
        out = list(self.loose.values())
        untimed = {p.job for p in self.before.values()} - {p.job for p in self.before.values() if p.start}
        for job_id, portions in self.board.placed.items():
            for p in portions:
                key = (job_id, p.task.id, p.number)
                was = self.before_known.get(key)
                if was is not None and was.start is None:
                    out.append(self.day_alone.as_day(was, self.before[key].people, p))
                elif was is not None and self._same(was, p):
                    out.append(was)
                else:
                    made = placement_of(self.p, self.board, job_id, p, None)
                    out.append(with_day_alone(made) if was is None and job_id in untimed else made)
        return tuple(sorted(out, key=lambda p: p.key))

    def _same(self, was: Placement, p: Portion) -> bool:
        before = self._portion(was)
        return (before.start, before.end, before.people) == (p.start, p.end, p.people)
