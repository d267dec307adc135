"""All tables in the order in which they may be made, and the migrations that make them."""

from __future__ import annotations

from pathlib import Path

from playhouse.migrations import Runner

from nundine.store import account, asset, foreign, ledger, number, roster, site, week, work_order
from nundine.store.base import Table, db

TABLES: tuple[type[Table], ...] = (
    site.Site,
    site.Area,
    site.Way,
    site.Craft,
    site.Tool,
    asset.Asset,
    asset.AssetWindow,
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
    work_order.WorkOrder,
    work_order.Task,
    work_order.CrewNeed,
    work_order.TaskAfter,
    work_order.TaskTool,
    account.Role,
    account.Account,
    account.AccountRole,
    account.SignedIn,
    account.SignInTry,
    account.KnownBrowser,
    week.Week,
    week.Placement,
    week.Seat,
    number.Counter,
    ledger.LedgerEntry,
    ledger.LedgerChange,
    week.Revision,
    week.Handout,
    week.Closing,
    week.Build,
    week.Proof,
    week.Event,
    foreign.SavedMapping,
    foreign.Bringing,
    foreign.OrderChange,
)

MIGRATIONS = Path(__file__).parent / "migrations"


def migrate() -> list[str]:
    """Bring the database to the newest tables; gives the names of the migrations applied."""
    with db.connection_context():
        return [str(getattr(m, "name", m)) for m in Runner(db, str(MIGRATIONS)).up() or []]


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
