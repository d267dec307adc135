"""Where things lie, which ports they use and who may come in, from the environment."""

from __future__ import annotations

import hashlib
import os
import tempfile
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from functools import lru_cache
from pathlib import Path
from zoneinfo import ZoneInfo

ROOT = Path(__file__).resolve().parents[2]
LOOPBACK = ("127.0.0.1", "localhost", "::1")
EVERYWHERE = ("0.0.0.0", "::")


@dataclass(frozen=True)
class Settings:
    """`var` holds all that Nundine writes. Ports are on loopback unless NUNDINE_HOST says otherwise."""

    var: Path
    host: str
    port: int
    db_port: int
    today: date | None
    workers: int = 1
    behind_proxy: bool = False
    """A reverse proxy stands before Nundine and speaks TLS with browsers."""
    proxies: str = "127.0.0.1"
    """Addresses of proxies whose word on where a request comes from is taken."""
    certificate: Path | None = None
    key: Path | None = None
    """For TLS of Nundine's own."""
    db_host: str | None = None
    """Where a database runs that others look after; none: Nundine runs one of its own on this machine."""
    db_user: str = "nundine"
    db_name: str = "nundine"
    db_password: str | None = None
    db_ca: Path | None = None
    """Certificates in PEM by which the database is known; with them it is spoken to by TLS alone."""
    names: tuple[str, ...] = ()
    """Names under which browsers may call, beside loopback's and the host's own."""

    @property
    def on_loopback(self) -> bool:
        return self.host in LOOPBACK

    @property
    def own_database(self) -> bool:
        """Whether Nundine runs the database itself."""
        return self.db_host is None

    @property
    def tls(self) -> bool:
        return self.certificate is not None

    @property
    def secure(self) -> bool:
        """Whether browsers speak TLS with us."""
        return self.tls or self.behind_proxy

    @property
    def allowed_names(self) -> frozenset[str]:
        own = () if self.host in EVERYWHERE else (self.host,)
        return frozenset({*LOOPBACK, *own, *self.names})

    @property
    def address(self) -> str:
        """Where a browser on this machine finds Nundine."""
        host = "127.0.0.1" if self.host in EVERYWHERE else self.host
        return f"{'https' if self.tls else 'http'}://{f'[{host}]' if ':' in host else host}:{self.port}"

    @property
    def public(self) -> str:
        """Where browsers find Nundine, for links in what is handed out."""
        return f"https://{self.names[0]}" if self.behind_proxy and self.names else self.address

    @property
    def web(self) -> Path:
        return ROOT / "web" / "dist"

    @property
    def socket(self) -> Path:
        """The database's socket; in the temporary folder where the path would be too long for one."""
        near = self.var / "run" / "db.sock"
        if len(str(near)) <= 100:
            return near
        name = hashlib.sha256(str(self.var).encode()).hexdigest()[:12]
        return Path(tempfile.gettempdir()) / f"nundine-{name}" / "db.sock"

    def now(self) -> datetime:
        """The moment, on the pinned day where NUNDINE_TODAY names one; late in the evening three hours
        earlier then, so that it is that day in Europe too."""
        real = datetime.now(UTC)
        if self.today is None:
            return real
        if real.hour >= 21:
            real -= timedelta(hours=3)
        return real.replace(year=self.today.year, month=self.today.month, day=self.today.day)

    def local(self, zone: str) -> datetime:
        """The moment as clocks of a time zone show it, on the pinned day there where NUNDINE_TODAY names
        one."""
        real = datetime.now(ZoneInfo(zone))
        return (
            real
            if self.today is None
            else real.replace(year=self.today.year, month=self.today.month, day=self.today.day)
        )

    def day(self, zone: str) -> date:
        """Today in a time zone."""
        return self.local(zone).date()


@lru_cache(maxsize=8)
def _folder(name: str, _seen_from: str) -> Path:
    """A folder by its whole path; the settings are asked for at every request."""
    return Path(name).resolve()


def settings() -> Settings:
    """As the environment says: NUNDINE_VAR, NUNDINE_HOST, NUNDINE_PORT, NUNDINE_DB_PORT, NUNDINE_TODAY,
    NUNDINE_WORKERS (of one build side by side: one proves, the others search; one processor is left for
    the rest), NUNDINE_DB_HOST, NUNDINE_DB_USER, NUNDINE_DB_NAME, NUNDINE_DB_PASSWORD or
    NUNDINE_DB_PASSWORD_FILE, NUNDINE_DB_CA (a database that others look after), NUNDINE_BEHIND_PROXY,
    NUNDINE_PROXIES, NUNDINE_CERTIFICATE, NUNDINE_KEY, NUNDINE_NAMES (see docs/deploy.md)."""
    get = os.environ.get
    certificate, key = get("NUNDINE_CERTIFICATE"), get("NUNDINE_KEY")
    db_ca, db_password_file = get("NUNDINE_DB_CA"), get("NUNDINE_DB_PASSWORD_FILE")
    today = get("NUNDINE_TODAY")
    return Settings(
        var=_folder(get("NUNDINE_VAR") or str(ROOT / "var"), os.getcwd()),
        host=get("NUNDINE_HOST") or "127.0.0.1",
        port=int(get("NUNDINE_PORT") or 8470),
        db_port=int(get("NUNDINE_DB_PORT") or (3306 if get("NUNDINE_DB_HOST") else 33470)),
        db_host=get("NUNDINE_DB_HOST") or None,
        db_user=get("NUNDINE_DB_USER") or "nundine",
        db_name=get("NUNDINE_DB_NAME") or "nundine",
        db_password=Path(db_password_file).read_text().strip()
        if db_password_file
        else get("NUNDINE_DB_PASSWORD"),
        db_ca=Path(db_ca) if db_ca else None,
        today=date.fromisoformat(today) if today else None,
        workers=int(get("NUNDINE_WORKERS") or max(1, (os.cpu_count() or 1) - 1)),
        behind_proxy=get("NUNDINE_BEHIND_PROXY", "").lower() in ("1", "yes", "true"),
        proxies=get("NUNDINE_PROXIES") or "127.0.0.1",
        certificate=Path(certificate) if certificate else None,
        key=Path(key) if key else None,
        names=tuple(n.strip().lower() for n in get("NUNDINE_NAMES", "").split(",") if n.strip()),
    )
