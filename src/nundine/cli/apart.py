"""Commands that start web servers and workers apart, beside a database that is there."""

from __future__ import annotations

import os
from collections.abc import Callable

from nundine.api import served
from nundine.api.app import create_app
from nundine.cli.app import FAILED, app, say
from nundine.cli.site import prepare_site
from nundine.jobs import worker as worker_process
from nundine.local.apart import bring_up_to_date, join_database, reach_database
from nundine.local.errors import CannotStart
from nundine.local.may_serve import need_port, need_safe_host
from nundine.local.unprivileged import step_down
from nundine.settings import Settings, settings
from nundine.store.base import db


def _go(work: Callable[[Settings], None]) -> None:
    here = settings()
    here.var.mkdir(parents=True, exist_ok=True)
    if here.own_database:
        step_down(here)
    try:
        work(here)
    except CannotStart as bad:
        raise SystemExit(say(str(bad), FAILED)) from bad


@app.command()
def migrate() -> None:
    """Bring the database's tables up to date; the first time, make the site and its administrator."""

    def work(here: Settings) -> None:
        reach_database(here)
        done = bring_up_to_date()
        prepare_site()
        db.close_all()
        print(f"Brought up to date: {', '.join(done)}." if done else "The tables are up to date.")

    _go(work)


@app.command()
def web() -> None:
    """Start a web server alone; others may run beside it."""

    def work(here: Settings) -> None:
        need_safe_host(here)
        need_port(here)
        join_database(here)
        print(f"The web server is at {here.address}  (process {os.getpid()}; Ctrl-C stops it)", flush=True)
        served.serve(create_app(), here)

    _go(work)


@app.command()
def worker() -> None:
    """Start a worker alone, which does what is asked for in the background; others may run beside it."""

    def work(here: Settings) -> None:
        join_database(here)
        print(f"The worker waits for work  (process {os.getpid()}; Ctrl-C stops it)", flush=True)
        worker_process.work()

    _go(work)
