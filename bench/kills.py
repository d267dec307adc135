"""`./nundine bench kills [TIMES] [--from N] [--resume]`: server, worker and database killed in the middle of
edits and builds.

A thousand times unless told otherwise, in pieces of twenty; how far it is stands in a file below var, so that
`--resume` goes on where an earlier run was ended. `--from` begins with that kill.
"""

from __future__ import annotations

import argparse
import json
import os
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from nundine.settings import settings

PIECE = 20


def _piece(first: int, times: int) -> str | None:
    """Kills `first` to `first + times - 1`, as the test of the store does them. None if all went well, else
    what was told."""
    with tempfile.TemporaryDirectory(prefix="nundine-kills-", ignore_cleanup_errors=True) as folder:
        env = {
            **os.environ,
            "NUNDINE_KILLS": str(times),
            "NUNDINE_KILLS_FROM": str(first),
            "NUNDINE_VAR": folder,
        }
        command = [
            sys.executable,
            "-m",
            "pytest",
            "-q",
            "-p",
            "no:cacheprovider",
            "tests/store/test_killed.py",
        ]
        done = subprocess.run(command, env=env, capture_output=True, text=True)
    return None if done.returncode == 0 else done.stdout[-3000:]


def main(asked: list[str]) -> int:
    """No acknowledged edit is lost and no half plan is left. Gives 1 if one was."""
    parser = argparse.ArgumentParser(prog="./nundine bench kills")
    parser.add_argument("times", type=int, nargs="?", default=1000)
    parser.add_argument("--from", type=int, dest="first", default=0)
    parser.add_argument("--resume", action="store_true")
    given = parser.parse_args(asked)
    kept: Path = settings().var / "kills.json"
    done = (
        json.loads(kept.read_text()) if given.resume and kept.exists() else {"next": given.first, "bad": []}
    )
    while done["next"] < given.times:
        first, began = done["next"], time.monotonic()
        times = min(PIECE, given.times - first)
        told = _piece(first, times)
        done["next"] = first + times
        if told is not None:
            done["bad"].append({"first": first, "told": told})
        kept.parent.mkdir(parents=True, exist_ok=True)
        kept.write_text(json.dumps(done))
        went = "nothing lost" if told is None else "FAILED"
        print(f"kills {first + 1} to {first + times}: {went}, {time.monotonic() - began:.0f} s", flush=True)
    for bad in done["bad"]:
        print(f"\nkills from {bad['first'] + 1}:\n{bad['told']}")
    print(f"{done['next']} kills; {len(done['bad'])} pieces of {PIECE} in which something was lost or left.")
    return 1 if done["bad"] else 0
