"""The queue: huey on the same MariaDB, in a database of its own. Messages are the numbers of runs, so
its small columns do.

All kinds of background work are known here, since the modules that do it are loaded.
"""

from __future__ import annotations

from functools import lru_cache

from huey import crontab
from huey.contrib.sql_huey import SqlHuey
from playhouse.pool import PooledMySQLDatabase

from nundine.local.database import queue_name, way_in
from nundine.services import all_lists
from nundine.services.admin import cleaning
from nundine.services.background import periodic, runs
from nundine.services.exchange import exporting, importing
from nundine.services.exchange.foreign import bring_in
from nundine.services.listing import exporting as list_files
from nundine.services.parts import supplier_feed
from nundine.services.preventive import meter_feed, raising, sheets
from nundine.services.week import asks, builds, crew_sheets, proofs, tidiness
from nundine.services.work import ageing, order_sheets
from nundine.settings import settings
from nundine.store.base import db
from nundine.store.belonging import at_site, each_site
from nundine.store.run import Run

DOING = (
    ageing, asks, bring_in, builds, cleaning, crew_sheets, exporting, importing, list_files, meter_feed,
    order_sheets, proofs, raising, sheets, supplier_feed, tidiness,
)  # fmt: skip
"""The modules that declare background work."""
assert all_lists.DECLARING  # files of lists are written here


class Queue:
    """The tasks, bound to one connected queue; its tables are made where they are missing."""

    def __init__(self) -> None:
        here = settings()
        self.db = PooledMySQLDatabase(
            queue_name(here), mariadb=True, max_connections=20, stale_timeout=240, **way_in(here)
        )
        with self.db.connection_context():
            self.huey = SqlHuey("nundine", database=self.db)
        self.run = self.huey.task(name="run")(work_on)
        self.looking_after = self.huey.periodic_task(crontab(minute="*"), name="look after runs")(look_after)


def work_on(run_id: int) -> None:
    """What a worker does with a run, at the site that it belongs to."""
    with db.connection_context():
        where = Run.of_all_sites(Run.site).where(Run.id == run_id).scalar()
        if where is not None:
            with at_site(where):
                runs.work_on(run_id)


def look_after() -> None:
    """Each minute: runs whose worker is gone are told so, what is due is begun, and what nobody took is
    handed over once more. Twice does no harm."""
    ids: list[int] = []
    with db.connection_context():
        for _ in each_site():
            runs.find_dead()
            ids += [run.id for run in periodic.due()]
            ids += runs.waiting(runs.FORGOTTEN)
    _send(ids)


@lru_cache(maxsize=1)
def queue() -> Queue:
    """The one queue of this process."""
    return Queue()


def hand_over(*asked: Run | None) -> None:
    """Give runs to the workers, once they are in the database."""
    _send([run.id for run in asked if run is not None])


def _send(ids: list[int]) -> None:
    if not ids:
        return
    here = queue()
    with here.db.connection_context():
        for id_ in ids:
            here.run(id_)


def hand_over_waiting() -> None:
    """Give over once more what waits: a worker that was lost may have taken it off the queue."""
    with db.connection_context():
        ids = [id_ for _ in each_site() for id_ in runs.waiting()]
    _send(ids)
