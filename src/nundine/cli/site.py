"""Commands about the site: start it, fill it, empty it."""

from __future__ import annotations

import os
import pwd
import secrets
import shutil
from pathlib import Path
from typing import Annotated, Any

import typer
from rich.console import Console
from rich.table import Table

from nundine.cli.app import BAD_FILE, FAILED, app, console, say
from nundine.demo import sign_ins
from nundine.local import backup as backups
from nundine.local.database import connect, port_free, private_database
from nundine.local.errors import CannotStart
from nundine.local.only_one import alone
from nundine.local.running import keep_running, running
from nundine.local.seal import BadKey, new_identity
from nundine.local.stopping import stoppable
from nundine.local.unprivileged import step_down
from nundine.services.admin import accounts, second_factor, sites
from nundine.services.admin.sites import make_site
from nundine.services.background import runs
from nundine.services.errors import Refused
from nundine.services.exchange.exporting import export_xlsx
from nundine.services.exchange.importing import run_import
from nundine.settings import Settings, settings
from nundine.standins import meter_logger, supplier
from nundine.store.base import db
from nundine.store.belonging import Site, each_site
from nundine.store.schema import migrate


def _here() -> Settings:
    """Where we are, as whom we are to be."""
    here = settings()
    here.var.mkdir(parents=True, exist_ok=True)
    step_down(here)
    return here


def _fail(bad: Exception) -> int:
    return say(str(bad), FAILED)


def _tell_what_was_cut_off(process: int | None) -> None:
    with db.connection_context():
        for _ in each_site():
            runs.cut_off(process)


def _prepare_demo(var: Path) -> None:
    with db.connection_context():
        if sign_ins.is_empty():
            from nundine.demo import world  # takes a second to load, which only the first start needs

            past = os.environ.get("NUNDINE_DEMO_PAST") != "no"
            world.make(settings().day(sign_ins.ZONE), sign_ins.passwords(var), past=past)
    folder = var / "demo-exports"
    if not folder.exists():
        from nundine.demo import exports  # the same

        exports.write(folder, sign_ins.demo_week(settings().day(sign_ins.ZONE)))


def prepare_site() -> None:
    """The site and the first administrator, at first start."""
    with db.connection_context():
        if Site.select().exists():
            return
        secret = secrets.token_urlsafe(12)
        with db.atomic():
            make_site(
                os.environ.get("NUNDINE_SITE", "My site"),
                os.environ.get("NUNDINE_TIMEZONE", "Europe/Zurich"),
            )
            accounts.create("admin", "Administrator", secret, "administrator")
        path = settings().var / "first-sign-in"
        with os.fdopen(os.open(path, os.O_CREAT | os.O_WRONLY | os.O_TRUNC, 0o600), "w") as out:
            out.write(f"admin {secret}\n")
        console.print(
            f"First administrator: name admin, password {secret} (kept in {path})",
            markup=False,
            highlight=False,
        )


@app.command()
def demo() -> None:
    """Start everything with the demo world, and print the address and the sign-ins."""
    here = _here()
    try:
        with (
            stoppable(),
            running(here, prepare=lambda: _prepare_demo(here.var), cut_off=_tell_what_was_cut_off) as now,
        ):
            table = Table("name", "password", "who", box=None)
            for name, full_name, role in sign_ins.SIGN_INS:
                table.add_row(name, sign_ins.passwords(here.var)[name], f"{full_name}, {role}")
            print(f"\nNundine is at {now.address}  ({sign_ins.SITE}, invented; Ctrl-C stops it)\n")
            Console().print(table, markup=False, highlight=False)
            print(f"Exports of other systems to bring in, of two weeks: {here.var / 'demo-exports'}\n")
            keep_running(now)
    except CannotStart as bad:
        raise SystemExit(_fail(bad)) from bad


@app.command()
def serve() -> None:
    """Start everything without demo data."""
    here = _here()
    try:
        with stoppable(), running(here, prepare=prepare_site, cut_off=_tell_what_was_cut_off) as now:
            print(f"Nundine is at {now.address}  (Ctrl-C stops it)")
            keep_running(now)
    except CannotStart as bad:
        raise SystemExit(_fail(bad)) from bad


def _need_own_database(here: Settings) -> None:
    if not here.own_database:
        raise SystemExit(
            say(
                f"The database at {here.db_host} is looked after by others: use its own tools for this.",
                FAILED,
            )
        )


@app.command()
def reset(yes: Annotated[bool, typer.Option("--yes", help="Do not ask.")] = False) -> None:
    """Throw all data away and start anew next time."""
    here = settings()
    _need_own_database(here)
    if not yes and not typer.confirm(f"Throw away all data below {here.var}?"):
        raise SystemExit(FAILED)
    here.var.mkdir(parents=True, exist_ok=True)
    try:
        with alone(here):
            for folder in (
                *here.var.glob("db.part*"),
                *(here.var / n for n in ("db", "run", "demo-exports")),
            ):
                shutil.rmtree(folder, ignore_errors=True)
            for name in ("database-password", "demo-sign-ins.json", "first-sign-in", "answering"):
                (here.var / name).unlink(missing_ok=True)
    except CannotStart as bad:
        raise SystemExit(_fail(bad)) from bad
    print("All data is gone. The next ./nundine demo or ./nundine serve starts anew.")


def _with_database(work: Any) -> Any:
    """Run with the database that is up, or start it for the time being."""
    here = _here()
    connect(here)
    try:
        if not here.own_database or not port_free(here.db_port):
            with db.connection_context():
                return work()
        with private_database(here):
            connect(here)
            migrate()
            prepare_site()
            with db.connection_context():
                return work()
    except CannotStart as bad:
        raise SystemExit(_fail(bad)) from bad


def _unwritable(file: Path, bad: OSError) -> str:
    who = pwd.getpwuid(os.geteuid()).pw_name
    return (
        f"{file} can not be written by the account {who} ({bad.strerror}). Choose a folder that "
        "it may write to."
    )


@app.command(name="import")
def import_files(
    files: list[Path], dry_run: Annotated[bool, typer.Option("--dry-run", help="Only report.")] = False
) -> None:
    """Bring in CSV or XLSX files: all or nothing. Exit 2 if a row is wrong."""
    missing = [f for f in files if not f.is_file()]
    if missing:
        raise SystemExit(say(f"{missing[0]}: there is no such file.", BAD_FILE))
    given = [(f.name, f.read_bytes()) for f in files]
    report = _with_database(lambda: run_import(given, dry_run=dry_run))
    for name, counts in report.kinds.items():
        print(f"{name}: {counts['new']} new, {counts['changed']} changed, {counts['unchanged']} unchanged")
    for error in report.errors:
        where = ", ".join(
            x for x in (error.file, f"row {error.row}" if error.row else "", error.column or "") if x
        )
        console.print(f"{where}: {error.reason}", markup=False, highlight=False)
    if report.errors:
        raise SystemExit(say(f"{len(report.errors)} errors; nothing was brought in.", BAD_FILE))
    print("Brought in." if report.done else "This is what would be brought in; nothing was changed.")


@app.command(name="export")
def export_file(output: Path) -> None:
    """Write everything that can be imported to one XLSX."""
    body = _with_database(export_xlsx)
    try:
        output.write_bytes(body)
    except OSError as bad:
        raise SystemExit(say(_unwritable(output, bad), FAILED)) from bad
    print(f"Written: {output}")


@app.command()
def backup(
    file: Path, to: Annotated[str | None, typer.Option(help="Public key (age1...) to encrypt for.")] = None
) -> None:
    """Write everything to one signed file, as it is at one moment; Nundine may be in use."""
    _need_own_database(settings())
    try:
        size = backups.backup(_here(), file.resolve(), to)
    except PermissionError as bad:
        raise SystemExit(say(_unwritable(file, bad), FAILED)) from bad
    except (CannotStart, BadKey) as bad:
        raise SystemExit(_fail(bad)) from bad
    print(
        f"Written: {file} ({size / 2**20:.1f} MB). Only you can read it; it holds names and password hashes."
    )


@app.command()
def restore(
    file: Path,
    yes: Annotated[bool, typer.Option("--yes", help="Do not ask.")] = False,
    key: Annotated[Path | None, typer.Option(help="backup-key of the Nundine that wrote it.")] = None,
    unsigned: Annotated[bool, typer.Option("--unsigned", help="Take it without a signature.")] = False,
    identity: Annotated[Path | None, typer.Option(help="Secret key of an encrypted backup.")] = None,
) -> None:
    """Put everything back as it was in a backup; what is there now goes. Nundine must be stopped."""
    here = settings()
    _need_own_database(here)
    if not yes and not typer.confirm(f"Replace all data in {here.var} by {file}?"):
        raise SystemExit(FAILED)
    here = _here()
    try:
        backups.restore(here, file, key=key, unsigned=unsigned, identity=identity)
    except (backups.BadBackup, BadKey) as bad:
        raise SystemExit(say(str(bad), BAD_FILE)) from bad
    except CannotStart as bad:
        raise SystemExit(_fail(bad)) from bad
    print(f"Restored from {file}.")


@app.command(name="backup-keys")
def backup_keys(file: Path) -> None:
    """Make keys for encrypted backups: the secret one into FILE, which you keep elsewhere; the public one is
    printed."""
    try:
        print(new_identity(file))
    except BadKey as bad:
        raise SystemExit(_fail(bad)) from bad


@app.command()
def account(name: str, full_name: str, role: str) -> None:
    """Make an account and print its password. Roles: administrator, scheduler, planner, supervisor,
    operations, storekeeper, technician, reader."""
    secret = secrets.token_urlsafe(10)
    try:
        _with_database(lambda: accounts.create(name, full_name, secret, role))
    except Refused as bad:
        raise SystemExit(_fail(bad)) from bad
    print(f"{full_name} may sign in as {name.lower()} with the password {secret}")


@app.command()
def site(key: str, name: str, timezone: str) -> None:
    """Make another site; its KEY stands in addresses: a to z, digits, dashes."""
    try:
        _with_database(lambda: sites.make(None, key, name, timezone))
    except Refused as bad:
        raise SystemExit(_fail(bad)) from bad
    print(f"{name} is there, at /at/{key.lower()}/")


@app.command(name="factor-off")
def factor_off(name: str) -> None:
    """Take the second factor off an account whose telephone is lost."""
    try:
        _with_database(lambda: second_factor.take_off(accounts.find(name.lower()), None))
    except Refused as bad:
        raise SystemExit(_fail(bad)) from bad
    print(f"{name.lower()} signs in by password alone until a second factor is set up again.")


@app.command()
def feed() -> None:
    """Write what a simulated logger reads of the meters today, and what a simulated supplier says of orders;
    the worker takes it in within the hour."""

    def write() -> None:
        for one in each_site():
            today = settings().day(one.timezone)
            read = meter_logger.write_file(today)
            print(f"{one.name}: {read or 'every meter was read today, or too seldom to guess'}")
            said = supplier.write_file(today)
            print(f"{one.name}: {said or 'the supplier has nothing new to say'}")

    _with_database(write)
