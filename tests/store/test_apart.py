"""Web servers and workers run apart, several of each, against one database that is given by settings: two
people edit through different servers, and whichever worker comes first does the work."""

from __future__ import annotations

import os
import subprocess
import sys
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import httpx
import pytest

from nundine.local.database import password, root_connection
from nundine.settings import Settings
from nundine.store.schema import TABLES
from tests.conftest import PASSWORDS, WEEK, worlds
from tests.ports import free_port

PATIENCE = 90.0


def given(here: Settings, folder: Path, **more: str) -> dict[str, str]:
    """Settings of a process that runs apart: a folder of its own, and the database by its address."""
    folder.mkdir(exist_ok=True)
    return {
        **os.environ,
        "NUNDINE_VAR": str(folder),
        "NUNDINE_DB_HOST": "127.0.0.1",
        "NUNDINE_DB_PORT": str(here.db_port),
        "NUNDINE_DB_PASSWORD": password(here.var),
        **more,
    }


@contextmanager
def started(*command: str, env: dict[str, str]) -> Iterator[subprocess.Popen[bytes]]:
    log = Path(env["NUNDINE_VAR"]) / f"{command[0]}.log"
    with log.open("wb") as out:
        process = subprocess.Popen(
            [sys.executable, "-m", "nundine", *command], env=env, stdout=out, stderr=out
        )
    try:
        yield process
    finally:
        if process.poll() is None:
            process.terminate()
            process.wait(30)


class Person:
    """Somebody at a browser that one of the servers answers."""

    def __init__(self, port: int, name: str) -> None:
        self.http = httpx.Client(
            base_url=f"http://127.0.0.1:{port}", headers={"x-nundine": "1"}, timeout=PATIENCE
        )
        until(lambda: self._answers())
        answer = self.http.post("/api/session", json={"name": name, "password": PASSWORDS[name]})
        assert answer.status_code == 200, answer.text

    def _answers(self) -> bool:
        try:
            return self.http.get("/api/health").status_code == 200
        except httpx.TransportError:
            return False

    def week(self, path: str = "", **query: Any) -> Any:
        return self.http.get(f"/api/weeks/{WEEK}{path}", params=query).json()

    def put(self, job: str, day: str) -> httpx.Response:
        edit = {"kind": "put", "jobs": [job], "day": day}
        body = {"edit": edit, "seen": self.week()["edits"]}
        return self.http.post(f"/api/weeks/{WEEK}/edits", json=body)


def until(true: Any) -> None:
    began = time.monotonic()
    while not true():
        assert time.monotonic() - began < PATIENCE, "it did not come in time"
        time.sleep(0.1)


@pytest.fixture
def apart(demo: None, here: Settings, tmp_path: Path) -> Iterator[tuple[Person, Person, list[Any]]]:
    """Two web servers with a person at each, and two workers, none of which shares a folder."""
    ports = [free_port(), free_port()]
    webs = [given(here, tmp_path / f"web{n}", NUNDINE_PORT=str(p)) for n, p in enumerate(ports)]
    works = [given(here, tmp_path / f"worker{n}") for n in range(2)]
    with (
        started("web", env=webs[0]), started("web", env=webs[1]),
        started("worker", env=works[0]) as first, started("worker", env=works[1]) as second,
    ):  # fmt: skip
        yield Person(ports[0], "sven"), Person(ports[1], "mila"), [first, second]
    worlds[0].written |= {str(t._meta.table_name) for t in TABLES}  # by others, unseen from here


def test_two_people_edit_through_two_servers_and_either_worker_builds(
    apart: tuple[Person, Person, list[Any]],
) -> None:
    sven, mila, (first, _) = apart
    jobs = [r["number"] for r in sven.week("/backlog", ready=True, size=20)["rows"]][:12]
    sides = [threading.Thread(target=all_put, args=(who, jobs[n::2])) for n, who in enumerate((sven, mila))]
    for side in sides:
        side.start()
    for side in sides:
        side.join()
    assert sven.week()["edits"] == mila.week()["edits"] == len(jobs)
    assert sven.week()["tanks"] == mila.week()["tanks"]
    assert sum(t["jobs"] for t in sven.week()["tanks"]) >= len(jobs)

    first.kill()
    made = sven.http.post(f"/api/weeks/{WEEK}/builds", json={"seconds": 0.5}).json()
    until(lambda: mila.week("/builds/latest")["state"] == "ready")
    accepted = mila.http.post(f"/api/weeks/{WEEK}/builds/{made['id']}/accept")
    assert accepted.status_code == 200, accepted.text
    assert sven.week()["edits"] == len(jobs) + 1, "the other server knows of it"


def all_put(who: Person, jobs: list[str]) -> None:
    """Put jobs in one after another; where the other took the same person's day meanwhile, once more."""
    for n, job in enumerate(jobs):
        for _ in range(10):
            answer = who.put(job, f"2026-12-0{1 + n % 4}")
            if answer.status_code != 409:
                break
        assert answer.status_code == 200, answer.text


def test_tables_of_another_version_are_refused_and_migrating_brings_them_up_to_date(
    database: Settings, tmp_path: Path
) -> None:
    with root_connection(database) as root, root.cursor() as cursor:
        for name in ("elsewhere", "elsewhere_jobs"):
            cursor.execute(f"CREATE OR REPLACE DATABASE {name}")
            cursor.execute(f"GRANT ALL ON {name}.* TO 'nundine'@'127.0.0.1'")
    env = given(database, tmp_path / "one", NUNDINE_DB_NAME="elsewhere")

    def run(command: str, **more: str) -> subprocess.CompletedProcess[str]:
        return subprocess.run(
            [sys.executable, "-m", "nundine", command], env={**env, **more}, capture_output=True, text=True
        )

    try:
        refused = run("worker")
        assert refused.returncode == 1 and "./nundine migrate" in refused.stderr
        assert "0001_first_tables" in run("migrate").stdout
        assert "up to date" in run("migrate").stdout
        wrong = run("worker", NUNDINE_DB_PASSWORD="wrong")
        assert wrong.returncode == 1 and "NUNDINE_DB_PASSWORD" in wrong.stderr
    finally:
        with root_connection(database) as root, root.cursor() as cursor:
            for name in ("elsewhere", "elsewhere_jobs"):
                cursor.execute(f"DROP DATABASE {name}")


def test_a_database_that_speaks_no_tls_is_refused_where_tls_was_asked_for(
    database: Settings, tmp_path: Path
) -> None:
    ca = tmp_path / "ca.pem"
    ca.write_text("")
    env = given(database, tmp_path / "one", NUNDINE_DB_CA=str(ca))
    done = subprocess.run(
        [sys.executable, "-m", "nundine", "migrate"], env=env, capture_output=True, text=True
    )
    assert done.returncode == 1 and "NUNDINE_DB_CA" in done.stderr
