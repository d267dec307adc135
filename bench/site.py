"""A demo site of its own for a measurement: database, worker and web server, and a signed-in scheduler's
requests."""

from __future__ import annotations

import json
import statistics
import tempfile
import time
import urllib.error
import urllib.request
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

from tests.conftest import PASSWORDS, TODAY, WEEK
from tests.ports import free_port

from nundine.demo import world
from nundine.local.running import running
from nundine.settings import Settings
from nundine.store.base import db


class Site:
    """A signed-in scheduler's requests."""

    def __init__(self, address: str, name: str = "sven") -> None:
        self.address, self.cookie = address, ""
        answer = self.open("POST", "/api/session", {"name": name, "password": PASSWORDS[name]})
        self.cookie = answer.headers["set-cookie"].split(";")[0]

    def open(self, method: str, path: str, body: object = None):  # type: ignore[no-untyped-def]
        headers = {"x-nundine": "1", "content-type": "application/json", "cookie": self.cookie}
        data = json.dumps(body).encode() if body is not None else None
        try:
            return urllib.request.urlopen(
                urllib.request.Request(self.address + path, data, headers, method=method), timeout=60
            )
        except urllib.error.HTTPError as bad:
            raise RuntimeError(f"{method} {path}: {bad.code} {bad.read().decode()}") from bad

    def get(self, path: str) -> dict:
        return json.load(self.open("GET", f"/api/weeks/{WEEK}{path}"))

    def post(self, path: str, body: object) -> dict:
        text = self.open("POST", f"/api/weeks/{WEEK}{path}", body).read()
        return json.loads(text) if text else {}


def milliseconds(work: Callable[[], object], times: int) -> list[float]:
    out = []
    for _ in range(times):
        began = time.perf_counter()
        work()
        out.append(1000 * (time.perf_counter() - began))
    return out


@contextmanager
def demo_site() -> Iterator[tuple[Site, float]]:
    """The site, and the median of its health check in ms: the baseline of the run."""
    with tempfile.TemporaryDirectory(prefix="nundine-bench-", ignore_cleanup_errors=True) as folder:

        def prepare() -> None:
            with db.connection_context():
                world.make(TODAY, PASSWORDS)

        with running(
            Settings(Path(folder), "127.0.0.1", free_port(), free_port(), TODAY), prepare=prepare
        ) as now:
            site = Site(now.address)
            yield site, statistics.median(milliseconds(lambda: site.open("GET", "/api/health").read(), 30))
