"""What a process loads as it begins."""

from __future__ import annotations

import subprocess
import sys


def test_a_web_process_begins_without_the_solvers_which_take_seconds_to_load() -> None:
    solvers = {"numba", "ortools", "scipy.optimize"}
    said = f"import sys, nundine.api.served; print(*sorted({solvers} & set(sys.modules)))"
    out = subprocess.run([sys.executable, "-c", said], capture_output=True, text=True, check=True)
    assert out.stdout.strip() == ""
