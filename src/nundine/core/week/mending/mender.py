"""The course of a mending."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace

from nundine.core.week.board.board import Portion
from nundine.core.week.building.build import placement_of, with_day_alone
from nundine.core.week.check import Broken
from nundine.core.week.mending.standing import Key, Standing
from nundine.core.week.mending.ways import Ways
from nundine.core.week.moves import Move, moves_between
from nundine.core.week.problem import Job, Placement

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


class Mender:
    """Takes off what breaks a rule, places it again, brings it nearer to what was promised, and puts in what
    is wanted."""

    def __init__(self, week: Standing) -> None:
        self.week, self.ways = week, Ways(week)

    def run(self, wanted: list[str]) -> Mended:
        released = self._released()
        for key, one in sorted(self.week.before.items()):
            if one.start is not None and key not in released:
                self.week.board.add(self.week.p.job_by_id[one.job], [self.week.portion(one)])
        self._lay_untimed(released)
        self._settle(released)
        not_in = [job_id for job_id in wanted if not self._break_in(job_id)]
        for _ in range(4):
            broken = self.week.broken(self._result())
            again = self._to_release(broken)
            if not again:
                break
            for key in again:
                self.week.off(key)
            self._settle(again)
        placements = self._result()
        conflicts = [b for b in self.week.broken(placements) if b.code not in SOFT]
        moves = moves_between(self.week.before.values(), placements)
        return Mended(placements, moves, tuple(sorted(set(self.week.left))), tuple(not_in), tuple(conflicts))

    def _lay_untimed(self, released: set[Key]) -> None:
        """Put what has its day alone on the board, dearest first, tasks in order; what finds no time stays
        loose."""
        untimed = [k for k, p in self.week.before.items() if p.start is None and k not in released]
        for key in self.week.in_order(untimed):
            found = self.week.day_alone.hours_for(self.week.before_known[key])
            if found is not None:
                self.week.on(key[0], found)
            else:
                self.week.loose[key] = self.week.before[key]

    def _released(self) -> set[Key]:
        """Placements that have to change so that no hard rule is broken: of each broken rule the cheapest
        that may."""
        gone = {
            p.key
            for p in self.week.before.values()
            if any(s.id is not None and s.id not in self.week.p.person_by_id for s in p.people)
        }
        broken = self.week.broken(tuple(self.week.before_known.values()))
        return self._to_release(broken) | (gone - self.week.stay)

    def _to_release(self, broken: Iterable[Broken]) -> set[Key]:
        out: set[Key] = set()
        for b in broken:
            may = [k for k in b.keys if k not in self.week.stay]
            if b.code in SOFT or not may or out & set(b.keys):
                continue
            out.add(min(may, key=lambda k: (k not in self.week.loose, self.week.value.get(k[0], 0.0), k)))
        return out

    def _settle(self, released: set[Key]) -> None:
        """Place each released portion again, dearest job first, tasks in their order; a job that cannot stay
        whole leaves."""
        self.week.settled = set()
        for key in self.week.in_order(released):
            if key[0] in self.week.left or key[0] in self.week.settled:
                continue
            one = self.week.before[key]
            if not (
                self.ways.near(one)
                or self.ways.swap(one)
                or self.ways.with_rest(one)
                or self.ways.anew(one.job, key)
                or self.ways.anew(one.job)
                or self.ways.instead(one)
            ):
                self.week.leave(key[0])
        self._back()

    def _back(self) -> None:
        """Bring what has changed nearer to what was promised where that is free now, until nothing comes
        nearer."""
        for _ in range(4):
            changed = sorted(self.week.changed(), key=lambda key: (self.week.promised(key).start, key))
            if not sum(self._nearer(key) for key in [*reversed(changed), *changed]):
                return

    def _nearer(self, key: Key) -> bool:
        """Whether one portion found a place that is a smaller change than the one it has."""
        now, was, one = self.week.off(key), self.week.promised(key), self.week.before[key]
        assert now is not None
        if now.end - now.start == was.end - was.start and self.ways.near(
            one, below=self.week.places.cost(was, now, one.day)
        ):
            return True
        self.week.on(key[0], now)
        return False

    def _break_in(self, job_id: str) -> bool:
        """Put a job in where it is worth most: where it fits, or sooner in place of cheaper work, which finds
        another place or leaves."""
        job = self.week.p.job_by_id.get(job_id)
        if job is None or job_id in self.week.board.placed:
            return False
        best, instead = self._fit_for(job), None
        gain = self.week.worth.of(job, best) if best else 0.0
        for value, other_id in self.ways.cheaper(job):
            if value >= self.week.value[job_id]:
                break
            other = self.week.p.job_by_id[other_id]
            taken = self.week.board.remove(other)
            found = self._fit_for(job)
            self.week.board.add(other, taken)
            more = self.week.worth.of(job, found) - self.week.worth.of(other, taken) if found else 0.0
            if found and more > gain + 1e-9:
                best, instead, gain = found, other_id, more
        if not best:
            return False
        if instead is None:
            self.week.board.add(job, best)
            return True
        taken = self.week.board.remove(self.week.p.job_by_id[instead])
        self.week.board.add(job, best)
        self._settle({(instead, p.task.id, p.number) for p in taken} & set(self.week.before))
        return True

    def _fit_for(self, job: Job) -> list[Portion]:
        """Portions for a job beside what is on the board, without overtime where that is possible."""
        return (
            self.week.fitter.fit(job, replace(self.week.freedom, overtime=False))
            or self.week.fitter.fit(job, self.week.freedom)
            or []
        )

    def _result(self) -> tuple[Placement, ...]:
        out = list(self.week.loose.values())
        before = self.week.before.values()
        untimed = {p.job for p in before} - {p.job for p in before if p.start}
        for job_id, portions in self.week.board.placed.items():
            for p in portions:
                key = (job_id, p.task.id, p.number)
                was = self.week.before_known.get(key)
                if was is not None and was.start is None:
                    out.append(self.week.day_alone.as_day(was, self.week.before[key].people, p))
                elif was is not None and self.week.same(was, p):
                    out.append(was)
                else:
                    made = placement_of(self.week.p, self.week.board, job_id, p, None)
                    out.append(with_day_alone(made) if was is None and job_id in untimed else made)
        return tuple(sorted(out, key=lambda p: p.key))
