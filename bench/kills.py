"""`./nundine bench kills [TIMES]`: server, worker and database killed in the middle of edits and builds, a thousand times unless told otherwise."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile


def main(asked: list[str]) -> int:
    """The test of the store, run longer: no acknowledged edit is lost and no half plan is left. Gives pytest's exit code."""
    times = int(asked[0]) if asked else 1000
    with tempfile.TemporaryDirectory(prefix="nundine-kills-", ignore_cleanup_errors=True) as folder:
        env = {**os.environ, "NUNDINE_KILLS": str(times), "NUNDINE_VAR": folder}
        return subprocess.run(
            [sys.executable, "-m", "pytest", "-q", "tests/store/test_killed.py"], env=env, check=False
        ).returncode
