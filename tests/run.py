"""Everything that a change must pass: `./nundine test [--quick] [pytest's own arguments]`.

Quick: formatting, types, layers, core with few examples, and the first rule of each part of the API. In full
also files and the command line, kills, the front end's checks and the screens in a real browser. Tests run in
two processes side by side, each with databases of its own.
"""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import tempfile
import time
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
MEMORY = Path("/dev/shm")
TWO = ["-n", "2"]
SIDE_BY_SIDE = [*TWO, "--dist", "loadfile", "--no-loadscope-reorder"]
"""Files in their order: those of `tests/store` are few and take longest, so they begin."""
QUICK = ["tests/api", "tests/core", "tests/published"]
FEW = [*QUICK, "-m", "not long", "--few", "1"]
"""Of each part of the API its first rule: whoever breaks a part mostly breaks that."""
REST = ["tests/store", "tests/formats"]


def step(name: str, command: list[str], cwd: Path = ROOT, env: dict[str, str] | None = None) -> bool:
    began = time.monotonic()
    done = subprocess.run(command, cwd=cwd, env=env)
    print(
        f"-- {name}: {'passed' if done.returncode == 0 else 'FAILED'} in {time.monotonic() - began:.0f} s",
        flush=True,
    )
    return done.returncode == 0


def main() -> int:
    quick = "--quick" in sys.argv
    more = [a for a in sys.argv[1:] if a != "--quick"]
    python = sys.executable
    var = Path(tempfile.mkdtemp(prefix="nundine-test-", dir=MEMORY if MEMORY.is_dir() else None))
    env = {**os.environ, "NUNDINE_VAR": str(var), "NUNDINE_TODAY": "2026-11-23"}
    if quick:
        env["NUNDINE_FEW_EXAMPLES"] = "yes"
    good = True
    try:
        if not more:
            good &= step("format", [python, "-m", "ruff", "format", "--check", "-q", "."])
            good &= step("lint", [python, "-m", "ruff", "check", "-q", "."])
            good &= step("types", [python, "-m", "mypy", "src/nundine"])
            good &= step("layers", [str(Path(python).parent / "lint-imports")])
            if not quick:
                good &= step("front end", ["npm", "run", "-s", "check"], ROOT / "web")
                good &= step("front end tests", ["npm", "run", "-s", "test"], ROOT / "web")
        pytest = [python, "-m", "pytest", "--durations=40", "--durations-min=8"]
        if more:
            good &= step("tests", [*pytest, *more], env=env)
        else:
            good &= step(
                "tests",
                [*pytest, *SIDE_BY_SIDE, *(FEW if quick else REST + QUICK)],
                env=env,
            )
            if not quick:
                good &= step("screens", [*pytest, *TWO, "tests/ui"], env=env)
    finally:
        shutil.rmtree(var, ignore_errors=True)
    return 0 if good else 1


if __name__ == "__main__":
    raise SystemExit(main())
