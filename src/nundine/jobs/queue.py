"""The queue: huey on the same MariaDB server, in a database of its own. Messages are ids only, so its small
columns do."""

from __future__ import annotations

from functools import lru_cache

from huey import crontab
from huey.contrib.sql_huey import SqlHuey
from playhouse.pool import PooledMySQLDatabase

from nundine.local.database import password
from nundine.services.admin import cleaning
from nundine.services.background import runs
from nundine.services.exchange.foreign import bring_in
from nundine.services.week import asks, builds, crew_sheets, proofs, tidiness
from nundine.services.work import ageing
from nundine.settings import settings
from nundine.store.base import db


class Queue:
    """The tasks, bound to one connected queue; its tables are made where they are missing."""

    def __init__(self) -> None:
        here = settings()
        secret = password(here.var)
        self.db = PooledMySQLDatabase(
            "nundine_jobs",
            mariadb=True,
            max_connections=20,
            stale_timeout=240,
            host="127.0.0.1",
            port=here.db_port,
            user="nundine",
            password=secret,
            charset="utf8mb4",
        )
        with self.db.connection_context():
            self.huey = SqlHuey("nundine", database=self.db)
        self.build = self.huey.task(name="build")(_build)
        self.asks = self.huey.task(name="asks")(_asks)
        self.tidiness = self.huey.task(name="tidiness")(_tidiness)
        self.bringing = self.huey.task(name="bringing")(_bringing)
        self.handout = self.huey.task(name="handout")(_handout)
        self.growing = self.huey.periodic_task(crontab(minute="*"), name="grow older")(_grow_older)
        self.cleaning = self.huey.periodic_task(crontab(minute="17"), name="clean")(_clean)
        self.proofs = self.huey.task(name="proofs")(_proofs)


def _build(build_id: int) -> None:
    with db.connection_context():
        builds.run_build(build_id)


def _proofs() -> None:
    with db.connection_context():
        proofs.prove_waiting()


def _clean() -> None:
    """Each hour: what is of no use any more goes."""
    with db.connection_context():
        cleaning.clean()


def _grow_older() -> None:
    """Each minute: at the site's midnight, and when Nundine was off then, priorities are computed for the new
    day."""
    with db.connection_context():
        ageing.grow_older()


def _handout(id_: int) -> None:
    with db.connection_context():
        crew_sheets.make(id_)


def _bringing(id_: int) -> None:
    with db.connection_context():
        bring_in.run(id_)


def _asks(build_id: int) -> None:
    with db.connection_context():
        asks.run_asks(build_id)


def _tidiness(build_id: int) -> None:
    with db.connection_context():
        tidiness.run_tidiness(build_id)


@lru_cache(maxsize=1)
def queue() -> Queue:
    """The one queue of this process."""
    return Queue()


def enqueue_build(build_id: int) -> None:
    """Hand a build to the worker."""
    here = queue()
    with here.db.connection_context():
        here.build(build_id)


def enqueue_bringing(id_: int) -> None:
    """Have a file brought in."""
    here = queue()
    with here.db.connection_context():
        here.bringing(id_)


def enqueue_handouts(ids: list[int]) -> None:
    """Have crew sheets laid out."""
    here = queue()
    with here.db.connection_context():
        for id_ in ids:
            here.handout(id_)


def enqueue_asks(build_id: int) -> None:
    """Have the asks of a week worked out."""
    here = queue()
    with here.db.connection_context():
        here.asks(build_id)


def enqueue_tidiness(build_id: int) -> None:
    """Have a week built by other prices."""
    here = queue()
    with here.db.connection_context():
        here.tidiness(build_id)


def enqueue_proofs() -> None:
    """Have the bounds proven that were asked for."""
    here = queue()
    with here.db.connection_context():
        here.proofs()


AGAIN = {"build": enqueue_build, "asks": enqueue_asks, "tidiness": enqueue_tidiness}
"""How background work of each kind is handed over."""


def enqueue_waiting() -> None:
    """Hand over once more what waits: a worker that was lost may have taken it off the queue. Twice does no
    harm."""
    with db.connection_context():
        waiting = runs.waiting()
    for id_, kind in waiting:
        AGAIN[kind](id_)
