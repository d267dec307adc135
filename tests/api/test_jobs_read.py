"""Jobs of a week as they are read from the database, whole or by their numbers."""

from __future__ import annotations

from random import Random
from zoneinfo import ZoneInfo

from nundine.store.asset import Asset
from nundine.store.reading.jobs import load_jobs
from nundine.store.reading.rows import keys_of, keys_of_each
from nundine.store.site import Area, Craft, Tool
from nundine.store.week import Week as StoredWeek
from nundine.store.work_order import WorkOrder
from tests.api.conftest import Week
from tests.conftest import WEEK

ZONE = ZoneInfo("Europe/Zurich")


def test_jobs_read_by_their_numbers_are_those_of_the_whole_week(built: Week) -> None:
    week = StoredWeek.get(StoredWeek.name == WEEK)
    whole = {job.id: job for job in load_jobs(week, ZONE)}
    everything = [number for (number,) in WorkOrder.select(WorkOrder.number).tuples()]
    assert whole.keys() < set(everything), "not every WO may be built"
    for seed in range(5):
        some = set(Random(seed).sample(everything, 40))
        found = load_jobs(week, ZONE, only=some)
        assert {job.id: job for job in found} == {n: job for n, job in whole.items() if n in some}
        assert [job.id for job in found] == sorted(job.id for job in found)


def test_a_wo_that_no_build_may_take_is_read_where_it_is_asked_for_by_name(built: Week) -> None:
    week = StoredWeek.get(StoredWeek.name == WEEK)
    whole = {job.id for job in load_jobs(week, ZONE)}
    waiting = WorkOrder.parts_unknown | WorkOrder.parts_ready.is_null(False)
    held = WorkOrder.get(waiting & WorkOrder.planned & WorkOrder.number.not_in(sorted(whole)))
    (job,) = load_jobs(week, ZONE, {held.number}, {held.number})
    asset = Asset.get(Asset.id == held.asset_id)
    assert (job.id, job.asset, job.area) == (held.number, asset.key, asset.area.key)


def test_keys_of_several_tables_are_those_of_each(demo: None) -> None:
    assert keys_of_each(Craft, Tool, Area) == (keys_of(Craft), keys_of(Tool), keys_of(Area))
