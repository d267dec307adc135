"""Everything that runs: database, worker, web server; started in order, kept running, stopped together."""

from __future__ import annotations

import contextlib
import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from pathlib import Path
from subprocess import Popen

from peewee import PeeweeException

from nundine.local.apart import bring_up_to_date
from nundine.local.child import end_child
from nundine.local.database import PrivateDatabase, connect, need_database, started
from nundine.local.errors import CannotStart
from nundine.local.logs import rotate
from nundine.local.may_serve import need_port, need_safe_host
from nundine.local.only_one import alone, say
from nundine.local.programs import PATIENCE, WebServer, program, web_server
from nundine.local.upkeep import Part
from nundine.settings import Settings
from nundine.store.base import db

BETWEEN_ROTATIONS = 60.0


@dataclass
class Running:
    """The address, the parts that serve it, and the folder of their logs."""

    address: str
    parts: list[Part]
    logs: Path


CutOff = Callable[[int | None], None]
"""Told the process of a worker that is gone, or None where nobody can be at work."""


def _parts(
    settings: Settings, database: PrivateDatabase | None, web: WebServer, cut_off: CutOff
) -> list[Part]:
    """The database where it is our own, worker and web server. A worker that lost its database begins
    anew."""

    def start_worker() -> Popen[bytes]:
        gone = worker.process.pid if worker.process is not None else None
        try:
            if gone is not None or database is not None:
                cut_off(gone)
        except PeeweeException as bad:
            raise CannotStart(f"the database does not answer: {bad}") from bad
        finally:
            db.close_all()
        return program(settings, "worker", "nundine.jobs.worker")

    worker = Part("worker", start_worker)
    served = [worker, Part("web server", web.start)]
    if database is None:
        return served
    own = database

    def start_database() -> Popen[bytes]:
        own.start()
        assert own.process is not None
        return own.process

    def end_worker() -> None:
        if worker.process is not None:
            end_child(worker.process, PATIENCE)

    return [Part("database", start_database, own.process, end_worker, time.monotonic()), *served]


@contextlib.contextmanager
def running(
    settings: Settings,
    *,
    prepare: Callable[[], None] | None = None,
    cut_off: CutOff = lambda _: None,
    in_memory: bool = False,
) -> Iterator[Running]:
    """All of it for the time of the block. `prepare` is called once the tables are there, `cut_off` before
    each start of the worker.

    Raises
    ------
    CannotStart
        With what is wrong and what to type.
    """
    settings = replace(settings)
    need_safe_host(settings)
    settings.var.mkdir(parents=True, exist_ok=True)
    with alone(settings):
        need_port(settings)
        with web_server(settings) as web, _database(settings, in_memory) as database:
            connect(settings)
            bring_up_to_date()
            if prepare is not None:
                prepare()
            parts = _parts(settings, database, web, cut_off)
            served = parts[-2:]
            try:
                for part in served:
                    part.begin()
                yield Running(settings.address, parts, settings.var / "run")
            finally:
                for part in reversed(served):
                    if part.process is not None:
                        end_child(part.process, PATIENCE)


@contextlib.contextmanager
def _database(settings: Settings, in_memory: bool) -> Iterator[PrivateDatabase | None]:
    """Our own database for the time of the block; None where others look after it, and it lets us in."""
    if settings.own_database:
        with started(settings, in_memory) as database:
            yield database
    else:
        need_database(settings)
        yield None


def keep_running(now: Running) -> None:
    """Look after the parts and their logs until told to stop."""
    rotate_at = 0.0
    while True:
        for part in now.parts:
            part.look(say)
        if time.monotonic() > rotate_at:
            rotate(now.logs)
            rotate_at = time.monotonic() + BETWEEN_ROTATIONS
        time.sleep(0.2)
