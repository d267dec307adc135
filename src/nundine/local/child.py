"""Processes that end with the one that started them, however that ends: a closed terminal, SIGTERM,
SIGKILL."""

from __future__ import annotations

import ctypes
import os
import signal
import subprocess
from collections.abc import Callable
from pathlib import Path

PR_SET_PDEATHSIG = 1
"""prctl(2): the signal that a process gets when its parent dies."""
_libc = ctypes.CDLL(None, use_errno=True)


def _with_parent() -> Callable[[], None]:
    """To be called in the child before its program begins."""
    parent = os.getpid()

    def bind() -> None:
        _libc.prctl(PR_SET_PDEATHSIG, int(signal.SIGKILL), 0, 0, 0)
        if os.getppid() != parent:  # it died before we could ask to be told
            os._exit(1)

    return bind


def start_child(
    command: list[str],
    log: Path,
    env: dict[str, str] | None = None,
    told: int = subprocess.DEVNULL,
) -> subprocess.Popen[bytes]:
    """Start a program in a session of its own, its output added to `log`; it is killed when this process is
    gone. `told` is what it reads.

    It is not asked to end first: MariaDB hears no SIGTERM in the first tenth of a second, and would go on for
    ever. What it had promised to keep, it finds in its log when it starts again.
    """
    with log.open("ab") as out:
        return subprocess.Popen(
            command,
            env=env,
            stdout=out,
            stderr=out,
            stdin=told,
            start_new_session=True,
            preexec_fn=_with_parent(),
        )


def end_child(process: subprocess.Popen[bytes], seconds: float) -> None:
    """End it as it is meant to be ended, by force when it takes longer than that."""
    if process.poll() is None:
        process.send_signal(signal.SIGTERM)
        try:
            process.wait(seconds)
        except subprocess.TimeoutExpired:
            process.kill()
            process.wait()
