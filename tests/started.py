"""`nundine COMMAND` as somebody starts it: its words, its parts, its end."""

from __future__ import annotations

import contextlib
import os
import shutil
import signal
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Callable, Iterator
from pathlib import Path

from nundine.local.only_one import left_running
from nundine.settings import Settings
from tests.conftest import TODAY
from tests.ports import free_port


def alive(process: int) -> bool:
    try:
        return Path(f"/proc/{process}/stat").read_text().rpartition(")")[2].split()[0] != "Z"
    except OSError:
        return False


def soon(what: Callable[[], object], seconds: float = 90) -> object:
    """Wait until it is so, and give it."""
    until = time.monotonic() + seconds
    while time.monotonic() < until:
        found = what()
        if found:
            return found
        time.sleep(0.05)
    raise AssertionError("it did not come to be")


def _as_from_a_terminal() -> None:
    """No signal is ignored, whatever the tests were started by."""
    for number in (signal.SIGHUP, signal.SIGINT, signal.SIGTERM):
        signal.signal(number, signal.SIG_DFL)


class Started:
    """`nundine COMMAND` as somebody starts it."""

    def __init__(self, var: Path, *command: str, **env: str) -> None:
        self.here = Settings(var, "127.0.0.1", free_port(), free_port(), TODAY)
        self.env = {
            **os.environ,
            "NUNDINE_VAR": str(var),
            "NUNDINE_PORT": str(self.here.port),
            "NUNDINE_DB_PORT": str(self.here.db_port),
            "NUNDINE_TODAY": TODAY.isoformat(),
            **env,
        }
        self.begin(*(command or ("demo",)))

    def begin(self, *command: str) -> None:
        self.said = self.here.var / f"said-{time.monotonic_ns()}"
        with self.said.open("wb") as out:
            self.process = subprocess.Popen(
                [sys.executable, "-m", "nundine", *command],
                env=self.env,
                stdout=out,
                stderr=out,
                preexec_fn=_as_from_a_terminal,
            )

    def text(self) -> str:
        return " ".join(self.said.read_text().split())

    def up(self) -> bool:
        with (
            contextlib.suppress(OSError),
            urllib.request.urlopen(f"{self.here.address}/api/health", timeout=2),
        ):
            return True
        return False

    def parts(self) -> dict[str, int]:
        return {one.what: one.process for one in left_running(self.here)}

    def stop(self) -> int:
        if self.process.poll() is None:
            self.process.send_signal(signal.SIGINT)
        return self.process.wait(40)


@contextlib.contextmanager
def started_in(var: Path, *command: str) -> Iterator[Started]:
    """Running for the time of the block, in a folder that goes with it."""
    made = Started(var, *command)
    try:
        soon(made.up, 180)
        yield made
    finally:
        made.stop()
        shutil.rmtree(var, ignore_errors=True)


def own_folder() -> Path:
    """A new folder in memory, if there is such a thing, which any account may look into."""
    memory = Path("/dev/shm")
    var = Path(tempfile.mkdtemp(prefix="nundine-started-", dir=memory if memory.is_dir() else None))
    var.chmod(0o755)
    return var
