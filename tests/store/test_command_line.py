"""The command line as one types it: files in and out, exit codes, and sentences that say what to do."""

from __future__ import annotations

import json
import os
import socket
import subprocess
import sys
from importlib import import_module
from pathlib import Path

from nundine.cli import ROOMS, app
from nundine.core.week.files import problem_document
from tests.weeks import random_week


def nundine(*words: object, **env: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [sys.executable, "-m", "nundine", *map(str, words)],
        capture_output=True,
        text=True,
        env={**os.environ, **env},
    )


def test_a_problem_file_is_solved_and_its_plan_passes_the_check(tmp_path: Path) -> None:
    problem, plan = tmp_path / "problem.json", tmp_path / "plan.json"
    problem.write_text(json.dumps(problem_document(random_week(2, 8, 25))))
    assert nundine("solve", problem, "-o", plan, "--iterations", 20).returncode == 0
    checked = nundine("check", problem, plan)
    assert checked.returncode == 0
    assert "broken rules 0" in checked.stdout
    document = json.loads(plan.read_text())
    assert document["format"] == "nundine-plan/1"
    assert document["value"] <= document["bound"]
    printed = nundine("solve", problem, "--iterations", 20)
    assert json.loads(printed.stdout)["placements"] == document["placements"]


def test_a_command_loads_what_it_needs_and_a_start_does_not_wait_for_the_rest() -> None:
    def loaded_by(command: str) -> set[str]:
        run = (
            "import atexit, sys; sys.argv = ['nundine', sys.argv[1], '--help']; "
            "heavy = {'fastapi', 'numba', 'peewee', 'weasyprint', 'nundine.demo.world'}; "
            "atexit.register(lambda: print('loaded', *heavy & set(sys.modules))); "
            "from nundine.cli import main; main()"
        )
        out = subprocess.run([sys.executable, "-c", run, command], capture_output=True, text=True).stdout
        return set(out.strip().splitlines()[-1].split()[1:])

    assert not loaded_by("check") - {"numba"}
    assert loaded_by("demo") == {"peewee"}
    assert "fastapi" in loaded_by("openapi")


def test_each_command_is_looked_for_in_the_module_that_has_it() -> None:
    for room, commands in ROOMS.items():
        module = f"nundine.cli.{room}"
        import_module(module)
        own = [c for c in app.registered_commands if c.callback and c.callback.__module__ == module]
        assert {c.name or c.callback.__name__ for c in own if c.callback} == set(commands)


def test_a_plan_that_breaks_a_rule_ends_with_exit_3(tmp_path: Path) -> None:
    problem, plan = tmp_path / "problem.json", tmp_path / "plan.json"
    problem.write_text(json.dumps(problem_document(random_week(2, 8, 25))))
    nundine("solve", problem, "-o", plan, "--iterations", 5)
    document = json.loads(plan.read_text())
    document["placements"].append(document["placements"][0])
    plan.write_text(json.dumps(document))
    assert nundine("check", problem, plan).returncode == 3


def test_a_bad_file_ends_with_exit_2_and_the_path_of_each_error(tmp_path: Path) -> None:
    problem = tmp_path / "problem.json"
    document = problem_document(random_week(2, 4, 5))
    document["jobs"][1]["priority"] = "high"
    problem.write_text(json.dumps(document))
    refused = nundine("solve", problem)
    assert refused.returncode == 2
    assert "$.jobs[1].priority: must be a number" in refused.stderr
    problem.write_text("{")
    assert "is not JSON" in nundine("solve", problem).stderr
    assert "can not be read" in nundine("solve", tmp_path / "none.json").stderr


def test_a_port_that_is_taken_is_told_in_a_sentence_with_the_command_to_type(tmp_path: Path) -> None:
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = taken.getsockname()[1]
        refused = nundine("serve", NUNDINE_VAR=str(tmp_path), NUNDINE_PORT=str(port))
    assert refused.returncode == 1
    assert f"Port {port} is taken" in refused.stderr
    assert f"NUNDINE_PORT={port + 1} ./nundine" in refused.stderr.replace("\n", " ")


def solved(tmp_path: Path, seed: int = 2) -> tuple[Path, Path]:
    problem, plan = tmp_path / "problem.json", tmp_path / "plan.json"
    problem.write_text(json.dumps(problem_document(random_week(seed, 8, 25))))
    nundine("solve", problem, "-o", plan, "--iterations", 20)
    return problem, plan


def test_a_plan_is_mended_after_somebody_fell_sick_and_the_moves_are_told_in_words(tmp_path: Path) -> None:
    problem, plan = solved(tmp_path)
    document = json.loads(problem.read_text())
    who = json.loads(plan.read_text())["placements"][0]["people"][0]["id"]
    day = json.loads(plan.read_text())["placements"][0]["day"]
    for person in document["people"]:
        if person["id"] == who:
            person["hours"] = [h for h in person["hours"] if h["day"] != day]
    problem.write_text(json.dumps(document))
    again = tmp_path / "again.json"
    mended = nundine("mend", problem, plan, "-o", again)
    assert mended.returncode == 0
    assert "moves" in mended.stderr
    assert not [
        p
        for p in json.loads(again.read_text())["placements"]
        if p["day"] == day and who in [s["id"] for s in p["people"]]
    ]
    assert nundine("mend", problem, plan, "--put-in", "WO-9999").returncode == 2


def test_every_job_left_out_is_explained_and_asks_are_ranked(tmp_path: Path) -> None:
    problem, plan = solved(tmp_path)
    left = {j["id"] for j in json.loads(problem.read_text())["jobs"]} - {
        p["job"] for p in json.loads(plan.read_text())["placements"]
    }
    told = json.loads(nundine("explain", problem, plan).stdout)
    assert {n["job"] for n in told["not_placed"]} == left
    asked = json.loads(nundine("asks", problem, plan, "--seconds", 5).stdout)["asks"]
    worths = [a["value"] for a in asked if a["confirmed"]]
    assert worths == sorted(worths, reverse=True)


def test_a_bad_problem_file_names_every_error_by_its_place(tmp_path: Path) -> None:
    problem, _ = solved(tmp_path)
    document = json.loads(problem.read_text())
    document["jobs"][3]["tasks"][0]["hours"] = -1
    document["people"][1]["hours"] = "always"
    problem.write_text(json.dumps(document))
    refused = nundine("solve", problem)
    assert refused.returncode == 2
    assert "$.people[1].hours" in refused.stderr
