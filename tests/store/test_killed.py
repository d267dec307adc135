"""Server, worker or database killed in the middle: no acknowledged edit is lost, and no half plan is left."""

from __future__ import annotations

import contextlib
import http.client
import json
import os
import signal
import subprocess
import sys
import threading
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from pathlib import Path
from random import Random

import pytest

from nundine.demo import sign_ins
from nundine.local.database import connect
from nundine.services.cache import forget
from nundine.settings import Settings
from nundine.store.base import db
from nundine.store.placement import load_placements
from nundine.store.week import Week
from nundine.store.work_order import CrewNeed, Task, WorkOrder
from tests.conftest import TODAY, WEEK
from tests.ports import free_port
from tests.replay import commands_of, said_by_log

FIRST, TIMES = int(os.environ.get("NUNDINE_KILLS_FROM", "0")), int(os.environ.get("NUNDINE_KILLS", "10"))
"""A long run is cut into pieces; each kill has its own dice."""
GONE = (OSError, ValueError, http.client.HTTPException)
"""How it looks when the other side is gone, before an answer or in the middle of one."""
PARTS = ("mariadbd", "nundine.api.served", "nundine.jobs.worker")


class Nundine:
    """`nundine demo` in a folder of its own, started again after each kill."""

    def __init__(self, var: Path) -> None:
        self.here = Settings(var, "127.0.0.1", free_port(), free_port(), TODAY)
        self.address, self.cookie = f"http://127.0.0.1:{self.here.port}", ""

    def start(self) -> None:
        env = {
            **os.environ,
            "NUNDINE_VAR": str(self.here.var),
            "NUNDINE_PORT": str(self.here.port),
            "NUNDINE_DB_PORT": str(self.here.db_port),
            "NUNDINE_TODAY": TODAY.isoformat(),
        }
        said = self.here.var / "said"
        with said.open("wb") as out:
            command = [sys.executable, "-m", "nundine", "demo"]
            self.process = subprocess.Popen(command, env=env, stdout=out, stderr=out)
        for _ in range(1800):
            assert self.process.poll() is None, f"it did not start: {said.read_text()}"
            if self.answers():
                return
            time.sleep(0.1)
        raise AssertionError("it did not become healthy")

    def sign_in(self) -> None:
        answer = self.send(
            "POST", "/api/session", {"name": "sven", "password": sign_ins.passwords(self.here.var)["sven"]}
        )
        self.cookie = answer.headers["set-cookie"].split(";")[0]
        answer.close()

    def send(self, method: str, path: str, body: object = None):  # type: ignore[no-untyped-def]
        headers = {"x-nundine": "1", "content-type": "application/json", "cookie": self.cookie}
        data = json.dumps(body).encode() if body is not None else None
        return urllib.request.urlopen(
            urllib.request.Request(self.address + path, data, headers, method=method), timeout=60
        )

    def ask(self, method: str, path: str, body: object = None) -> dict:
        with self.send(method, f"/api/weeks/{WEEK}{path}", body) as answer:
            text = answer.read()
        return json.loads(text) if text else {}

    def part(self, part: str) -> int | None:
        """The number of one of its processes, while it runs."""
        for child in Path(f"/proc/{self.process.pid}/task/{self.process.pid}/children").read_text().split():
            with contextlib.suppress(OSError):
                if part in Path(f"/proc/{child}/cmdline").read_text().replace("\0", " "):
                    return int(child)
        return None

    def kill(self, part: str) -> None:
        """kill -9 of one of its processes."""
        found = self.part(part)
        assert found is not None, f"{part} does not run"
        os.kill(found, signal.SIGKILL)
        self.killed = found

    def wait(self) -> None:
        """Until all of it runs again, by itself."""
        for _ in range(600):
            assert self.process.poll() is None, "it ended with one of its parts"
            if all(self.part(p) not in (None, self.killed) for p in PARTS) and self.answers():
                return
            time.sleep(0.05)
        raise AssertionError("what was killed is not started again")

    def answers(self) -> bool:
        try:
            urllib.request.urlopen(f"{self.address}/api/health", timeout=2).close()
        except OSError:
            return False
        return True

    def stop(self) -> None:
        """As by Ctrl-C, again until it hears: right after its start it may not listen yet."""
        for _ in range(60):
            if self.process.poll() is not None:
                return
            self.process.send_signal(signal.SIGINT)
            with contextlib.suppress(subprocess.TimeoutExpired):
                self.process.wait(1)


@pytest.fixture
def nundine(tmp_path: Path, database: Settings) -> Iterator[Nundine]:
    made = Nundine(tmp_path / "var")
    made.here.var.mkdir()
    made.start()
    try:
        yield made
    finally:
        made.stop()
        db.close_all()
        connect(database)
        forget()


def edit_until(nundine: Nundine, over: threading.Event, acknowledged: list[int], seed: int) -> None:
    """Put jobs in, move and take them out, as fast as it answers, until it does not answer any more."""
    r = Random(seed)
    try:
        ready = [row["number"] for row in nundine.ask("GET", "/backlog?ready=true&size=200")["rows"]]
        days = nundine.ask("GET", "")["days"]
        while not over.is_set():
            job = r.choice(ready)
            edit: dict[str, object] = {"kind": "put", "jobs": [job], "day": r.choice(days)}
            if r.random() < 0.3:
                edit = {"kind": "take out", "jobs": [job]}
            try:
                acknowledged.append(
                    nundine.ask("POST", "/edits", {"edit": edit, "seen": 10**6})["week"]["edits"]
                )
            except urllib.error.HTTPError as refused:
                if refused.code >= 500:
                    return
    except GONE:
        return


def look(here: Settings) -> int:
    """What is stored is what all commands together say, each placement has all its seats. Gives the count of
    edits."""
    db.close_all()
    connect(here)
    with db.connection_context():
        week = Week.get(Week.name == WEEK)
        assert [c.seq for c in commands_of(week)] == list(range(1, week.edits + 1))
        stored = load_placements(week)
        assert stored == said_by_log(week)
        seats = {
            (t["job"], t["number"]): sum(n.people for n in CrewNeed.select().where(CrewNeed.task == t["id"]))
            for t in Task.select(Task.id, Task.number, WorkOrder.number.alias("job")).join(WorkOrder).dicts()
            if (t["job"], t["number"], 1) in stored
        }
        assert all(len(row["people"]) == seats[key[:2]] for key, row in stored.items())
        count = int(week.edits)
    db.close_all()
    return count


def test_killing_server_worker_or_database_ten_times_loses_no_acknowledged_edit_and_leaves_no_half_plan(
    nundine: Nundine,
) -> None:
    r, most = Random(1 + FIRST), 0
    for n in range(FIRST, FIRST + TIMES):
        nundine.sign_in()
        over, acknowledged = threading.Event(), [most]
        build = start_build(nundine, 0.3 if n % 4 == 3 else 3.0)
        editor = threading.Thread(target=edit_until, args=(nundine, over, acknowledged, n))
        editor.start()
        time.sleep(0.3 + r.random() * 0.7)
        if n % 4 == 3 and build is not None:
            accept_when_ready(nundine, build, acknowledged)
        nundine.kill(PARTS[n % 3])
        over.set()
        editor.join()
        nundine.wait()
        count = look(nundine.here)
        assert count >= max(acknowledged), f"an acknowledged edit is lost (kill {n} of {PARTS[n % 3]})"
        most = count
        if n % 5 == 4:  # waits grow with each end of a part
            nundine.stop()
            nundine.start()


def start_build(nundine: Nundine, seconds: float) -> int | None:
    """A build on its way; None while one from before the kill still waits for its worker."""
    try:
        return int(nundine.ask("POST", "/builds", {"seconds": seconds})["id"])
    except urllib.error.HTTPError as refused:
        assert refused.code == 422
        return None


def accept_when_ready(nundine: Nundine, build: int, acknowledged: list[int]) -> None:
    """Accept a build in a thread of its own, so that the kill comes in the middle of it."""
    for _ in range(100):
        if nundine.ask("GET", "/builds/latest")["state"] == "ready":
            break
        time.sleep(0.05)

    def accept() -> None:
        with contextlib.suppress(*GONE):
            acknowledged.append(nundine.ask("POST", f"/builds/{build}/accept", {}).get("edits", 0))

    threading.Thread(target=accept, daemon=True).start()
    time.sleep(0.15)
