"""All tables in the order in which they may be made, and the migrations that make them."""

from __future__ import annotations

from pathlib import Path

from playhouse.migrations import Runner

from nundine.store import (
    account,
    asset,
    belonging,
    beside,
    buying,
    desk,
    foreign,
    job_plan,
    ledger,
    meter,
    number,
    part,
    permit,
    preventive,
    request,
    roster,
    run,
    shutdown,
    site,
    view,
    week,
    work_order,
)
from nundine.store.base import Table, db
from nundine.store.stepwise import bring_up

TABLES: tuple[type[Table], ...] = (
    belonging.Site,
    site.Area,
    site.Way,
    site.Craft,
    site.Tool,
    asset.Asset,
    asset.AssetWindow,
    meter.Meter,
    meter.Reading,
    shutdown.Shutdown,
    roster.Person,
    roster.PersonCraft,
    roster.PersonCertificate,
    roster.ShiftPattern,
    roster.PatternShift,
    roster.RosterLine,
    roster.Absence,
    roster.OvertimeOffer,
    roster.ExtraShift,
    roster.Loan,
    job_plan.JobPlan,
    job_plan.PlanTask,
    job_plan.PlanEdition,
    work_order.WorkOrder,
    work_order.Task,
    work_order.CrewNeed,
    work_order.TaskAfter,
    work_order.TaskTool,
    permit.PermitKind,
    permit.Permit,
    part.Storeroom,
    part.Part,
    part.AssetPart,
    part.Movement,
    part.Stock,
    part.PartNeed,
    buying.BuyRequest,
    buying.BuyLine,
    buying.Purchase,
    buying.PurchaseLine,
    account.Role,
    account.Account,
    account.AccountRole,
    account.SignedIn,
    account.SignInTry,
    account.KnownBrowser,
    request.WorkRequest,
    preventive.PreventivePlan,
    preventive.Service,
    preventive.Occurrence,
    week.Week,
    week.Placement,
    week.Seat,
    number.Counter,
    run.Run,
    run.RunFile,
    ledger.LedgerEntry,
    ledger.LedgerChange,
    week.Revision,
    week.Handout,
    week.Closing,
    week.Event,
    foreign.SavedMapping,
    view.View,
    foreign.Bringing,
    foreign.OrderChange,
    beside.Attachment,
    beside.Note,
    beside.Printing,
    desk.DeskWeek,
)

MIGRATIONS = Path(__file__).parent / "migrations"


PATIENCE = 120
"""Seconds for which another process may be at the tables."""


class Held(Exception):
    """Another process is bringing the tables up to date."""


def migrate() -> list[str]:
    """Bring the database to the newest tables, one process at a time; gives the names of the migrations
    applied. Raises Held where another is at it for too long."""
    with db.connection_context():
        name = f"migrate {db.database}"
        (got,) = db.execute_sql("SELECT GET_LOCK(%s, %s)", (name, PATIENCE)).fetchone()
        if not got:
            raise Held
        try:
            done = bring_up(Runner(db, str(MIGRATIONS)))
        except BaseException:
            db.manual_close()  # the lock goes with the connection, of which nothing can be asked any more
            raise
        db.execute_sql("SELECT RELEASE_LOCK(%s)", (name,))
        return done


def to_migrate() -> list[str]:
    """Names of the migrations that the database lacks, or has beyond ours; inside the caller's connection."""
    return [str(m.name) for m in Runner(db, str(MIGRATIONS)).status() if not m.applied or m.path is None]


def table_statements() -> list[str]:
    """The SQL that makes all tables, as the models stand now."""
    statements = []
    for table in TABLES:
        schema = table._schema
        for context in [schema._create_table(safe=False), *schema._create_indexes(safe=False)]:
            sql, values = context.query()
            assert not values, f"{table.__name__}: a statement of the schema has values"
            statements.append(sql)
    return statements
