"""Nundine comes back by itself, and leaves nothing behind: real processes, real signals."""

from __future__ import annotations

import contextlib
import json
import os
import shutil
import signal
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest

from nundine.demo import sign_ins
from nundine.local.errors import CannotStart
from nundine.local.logs import KEEP, LARGE, rotate
from nundine.local.only_one import left_running
from nundine.local.upkeep import LONGEST, SHORTEST, Part
from nundine.settings import ROOT, Settings
from tests.conftest import TODAY, WEEK
from tests.ports import free_port
from tests.started import Started, alive, own_folder, soon, started_in


@pytest.fixture
def var() -> Iterator[Path]:
    made = own_folder()
    yield made
    shutil.rmtree(made, ignore_errors=True)


@pytest.fixture
def nundine(var: Path) -> Iterator[Started]:
    with started_in(var) as made:
        yield made


def test_whatever_dies_is_started_again_and_said_and_the_start_command_killed_takes_all_with_it(
    nundine: Started,
) -> None:
    for what in ("worker", "web server", "database"):
        before = nundine.parts()
        assert set(before) == {"worker", "web server", "database"}
        os.kill(before[what], signal.SIGKILL)
        soon(lambda: nundine.parts().get(what) not in (None, before[what]) and nundine.up())  # noqa: B023
        soon(lambda: f"The {what} runs again." in nundine.text())  # noqa: B023
        assert f"The {what} ended (exit -9); it is started again in" in nundine.text()
    soon(lambda: len(nundine.parts()) == 3)
    parts = nundine.parts()
    nundine.process.kill()
    nundine.process.wait()
    soon(lambda: not any(alive(p) for p in parts.values()))
    nundine.begin("demo")
    soon(nundine.up, 120)
    assert "an earlier start" not in nundine.text()
    second = subprocess.run(
        [sys.executable, "-m", "nundine", "demo"], env=nundine.env, capture_output=True, text=True
    )
    assert second.returncode == 1
    assert f"running already (process {nundine.process.pid})" in " ".join(second.stderr.split())
    reset = subprocess.run(
        [sys.executable, "-m", "nundine", "reset", "--yes"], env=nundine.env, capture_output=True, text=True
    )
    assert reset.returncode == 1
    assert "running already" in reset.stderr
    assert nundine.stop() == 0
    assert nundine.parts() == {}


@pytest.mark.parametrize(
    ("number", "after"),
    [(signal.SIGHUP, 0.6), (signal.SIGTERM, 1.6), (signal.SIGTERM, 3.0), (signal.SIGKILL, 3.0)],
)
def test_a_start_that_is_ended_in_the_middle_leaves_nothing_running_and_the_next_one_works(
    var: Path, number: signal.Signals, after: float
) -> None:
    started = Started(var, "serve")
    time.sleep(after)
    started.process.send_signal(number)
    started.process.wait(40)
    soon(lambda: started.parts() == {})
    started.begin("serve")
    try:
        soon(started.up, 120)
    finally:
        assert started.stop() == 0


DATABASE_ALONE = """
import time
from nundine.local.database import started
from nundine.settings import settings
with started(settings()):
    time.sleep(600)
"""


def test_a_start_that_is_killed_as_its_database_begins_leaves_no_database(var: Path) -> None:
    """In its first tenth of a second the database hears no SIGTERM."""
    here = Settings(var, "127.0.0.1", free_port(), free_port(), TODAY)
    env = {**os.environ, "NUNDINE_VAR": str(var), "NUNDINE_DB_PORT": str(here.db_port)}
    for _ in range(4):
        start = subprocess.Popen([sys.executable, "-c", DATABASE_ALONE], env=env)
        soon(lambda: left_running(here), 60)
        start.kill()
        start.wait()
        soon(lambda: left_running(here) == [], 20)


def test_what_an_earlier_start_left_running_is_ended_and_said(var: Path) -> None:
    orphan = subprocess.Popen(
        [sys.executable, "-c", "import time; time.sleep(600)", "nundine.jobs.worker"],
        env={**os.environ, "NUNDINE_VAR": str(var)},
    )
    other = subprocess.Popen(
        [sys.executable, "-c", "import time; time.sleep(600)", "nundine.jobs.worker"],
        env={**os.environ, "NUNDINE_VAR": "/elsewhere"},
    )
    started = Started(var, "serve")
    try:
        soon(started.up, 120)
        assert orphan.wait(10) == -signal.SIGTERM
        assert (
            f"A worker of an earlier start is still running (process {orphan.pid}); it is ended first."
            in started.text()
        )
        assert other.poll() is None, "what works elsewhere is let be"
    finally:
        other.kill()
        other.wait()
        orphan.kill()
        started.stop()


@pytest.mark.parametrize("held", ["rubbish", "1"])
def test_a_broken_or_foreign_pid_file_stands_in_nobodys_way(var: Path, held: str) -> None:
    (var / "run").mkdir()
    (var / "run" / "db.pid").write_text(held)
    (var / "run" / "lock").write_text("rubbish")
    started = Started(var, "serve")
    try:
        soon(started.up, 120)
        assert ("held no number of a process" in started.text()) == (not held.isdigit())
    finally:
        started.stop()


def test_a_pid_file_that_can_not_be_replaced_is_named(var: Path) -> None:
    (var / "run" / "db.pid").mkdir(parents=True)
    started = Started(var, "serve")
    assert started.process.wait(40) == 1
    assert "db.pid stands in the database's way" in started.text()


def test_waits_grow_while_a_part_keeps_ending_and_start_anew_when_it_is_well() -> None:
    said: list[str] = []

    def fails() -> subprocess.Popen[bytes]:
        raise CannotStart("no room")

    part = Part("worker", fails, subprocess.Popen(["true"]), since=time.monotonic())
    part.process.wait()  # type: ignore[union-attr]
    waits = []
    for _ in range(9):
        part.look(said.append)
        waits.append(part.again_at - time.monotonic())  # type: ignore[operator]
        part.again_at = 0.0
    assert [round(w, 1) for w in waits[:4]] == [SHORTEST, 1.0, 2.0, 4.0]
    assert round(waits[-1]) == LONGEST
    assert "could not be started again (no room)" in said[-1]


def test_large_logs_are_put_aside_while_somebody_writes_them(tmp_path: Path) -> None:
    log = tmp_path / "web.log"
    with log.open("ab", buffering=0) as writer:
        for n in range(KEEP + 2):
            writer.write(b"%d" % n + b"x" * LARGE)
            rotate(tmp_path)
            writer.write(b"next line\n")
            assert log.read_bytes() == b"next line\n"
    older = sorted(p.name for p in tmp_path.iterdir() if p != log)
    assert older == [f"web.log.{n}" for n in range(1, KEEP + 1)]


@pytest.mark.parametrize(
    ("env", "said"),
    [
        ({"NUNDINE_HOST": "0.0.0.0"}, "without TLS"),
        ({"NUNDINE_HOST": "0.0.0.0", "NUNDINE_BEHIND_PROXY": "1", "NUNDINE_NAMES": ""}, "NUNDINE_NAMES"),
        (
            {"NUNDINE_CERTIFICATE": "/nowhere.pem", "NUNDINE_KEY": "/nowhere.key"},
            "NUNDINE_CERTIFICATE must name a file",
        ),
    ],
)
def test_nundine_is_not_served_where_passwords_could_be_read_on_the_way(
    var: Path, env: dict[str, str], said: str
) -> None:
    started = Started(var, "serve", **env)
    assert started.process.wait(40) == 1
    assert said in started.text()
    assert started.parts() == {}


def room(var: Path, size: str) -> bool:
    """A small disk of its own; not everybody may make one."""
    return (
        subprocess.run(
            ["mount", "-t", "tmpfs", "-o", f"size={size}", "none", str(var)], capture_output=True
        ).returncode
        == 0
    )


def test_on_a_full_disk_edits_are_refused_with_the_reason_and_all_goes_on_when_there_is_room(
    var: Path,
) -> None:
    if not room(var, "700m"):
        pytest.skip("this account may not mount a small disk")
    try:
        started = Started(var)
        try:
            soon(started.up, 120)
            ask = signed_in(started)
            job = ask("GET", f"/api/weeks/{WEEK}/backlog?ready=true&size=1")[1]["rows"][0]["number"]
            edit = {"edit": {"kind": "put", "jobs": [job], "day": "2026-12-01"}, "seen": 10**6}
            with contextlib.suppress(OSError), (var / "filler").open("wb") as filler:
                while True:
                    filler.write(bytes(2**20))
            status, told = ask("POST", f"/api/weeks/{WEEK}/edits", edit)
            assert (status, told["code"]) == (507, "no room")
            for _ in range(3):
                assert ask("GET", f"/api/weeks/{WEEK}")[0] == 200, "all can be read"
            (var / "filler").unlink()
            status, told = ask("POST", f"/api/weeks/{WEEK}/edits", edit)
            assert status == 200
            assert told["week"]["edits"] == 1
        finally:
            started.stop()
    finally:
        subprocess.run(["umount", "-l", str(var)], check=True)


def signed_in(started: Started) -> Callable[..., tuple[int, dict]]:
    cookie = ""

    def ask(method: str, path: str, body: object = None) -> tuple[int, dict]:
        nonlocal cookie
        data = json.dumps(body).encode() if body is not None else None
        headers = {"x-nundine": "1", "content-type": "application/json", "cookie": cookie}
        request = urllib.request.Request(started.here.address + path, data, headers, method=method)
        try:
            with urllib.request.urlopen(request, timeout=30) as answer:
                cookie = cookie or answer.headers["set-cookie"].split(";")[0]
                return answer.status, json.loads(answer.read())
        except urllib.error.HTTPError as refused:
            return refused.code, json.loads(refused.read())

    ask("POST", "/api/session", {"name": "sven", "password": sign_ins.passwords(started.here.var)["sven"]})
    return ask


def test_root_steps_down_to_an_account_that_owns_only_the_data(var: Path) -> None:
    if os.geteuid() != 0:
        pytest.skip("only root can step down")
    started = Started(var, "serve")
    try:
        soon(started.up, 120)
        owners = {Path(f"/proc/{p}").stat().st_uid for p in (*started.parts().values(), started.process.pid)}
        if "Nundine runs as root" in started.text():
            assert owners == {0}, "and says so where the account can not reach what it needs"
        else:
            assert 0 not in owners
            assert len(owners) == 1
            assert var.stat().st_uid == 0, "it can not exchange what root put there"
            assert (var / "db").stat().st_uid in owners
            kept = {p.name for p in (ROOT / "src").rglob("__pycache__/engine-*")}
            assert {p.name for p in (var / ".cache" / "nundine").glob("engine-*")} >= kept, (
                "it need not compile again"
            )
    finally:
        assert started.stop() == 0
