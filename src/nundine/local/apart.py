"""Web servers and workers that run apart, on as many machines as one likes, beside one database."""

from __future__ import annotations

from nundine.local.database import connect, need_database, port_free
from nundine.local.errors import CannotStart
from nundine.settings import Settings
from nundine.store.base import db
from nundine.store.schema import Held, migrate, to_migrate


def reach_database(settings: Settings) -> None:
    """Connect to the database that is there. Raises CannotStart where there is none, or it does not let us
    in."""
    settings.var.mkdir(parents=True, exist_ok=True)
    if not settings.own_database:
        need_database(settings)
    elif port_free(settings.db_port):
        raise CannotStart(
            f"No database runs at port {settings.db_port} of this machine. Name one in "
            "NUNDINE_DB_HOST, or start all "
            "of Nundine with ./nundine serve (see docs/deploy.md)."
        )
    connect(settings)


def bring_up_to_date() -> list[str]:
    """The names of what was done to the tables. Raises CannotStart where another Nundine is at it."""
    try:
        return migrate()
    except Held as bad:
        raise CannotStart(
            "Another Nundine is bringing the database up to date. Start this one when it has."
        ) from bad


def join_database(settings: Settings) -> None:
    """Connect a web server or worker. Raises CannotStart also where the tables are not of this version."""
    reach_database(settings)
    with db.connection_context():
        differs = to_migrate()
    if differs:
        raise CannotStart(
            f"The tables of the database are of another version ({', '.join(differs[:3])}). Type  "
            "./nundine migrate"
        )
