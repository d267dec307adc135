"""Moving from a tank, giving a day's work to others, mending what has its day alone: whole jobs, and what is
left is told."""

from __future__ import annotations

from tests.api.conftest import Week

RULES = {"order", "earliest", "latest", "window", "one job"}


def broken(week: Week) -> set[tuple[str, str]]:
    return {(c["code"], c["text"]) for c in week.get()["conflicts"]}


def jobs_of_a_full_tank(week: Week, least: int = 3) -> tuple[str, list[dict]]:
    """A day and jobs of a tank on it that have tasks outside of it."""
    now = week.get()
    for craft in now["crafts"]:
        for day in now["days"][:4]:
            jobs = [j for j in week.get(f"/tanks/{craft['key']}/{day}")["jobs"] if j["others"]]
            if len(jobs) >= least:
                return day, jobs[:6]
    raise AssertionError("no tank has jobs with tasks elsewhere")


def test_jobs_moved_from_a_tank_go_whole_and_keep_the_order_of_their_tasks(built: Week) -> None:
    _, jobs = jobs_of_a_full_tank(built)
    keys = [k for j in jobs for k in j["keys"]]
    after = built.edit(kind="move", keys=keys, day="2026-12-05")
    assert not [c for c in after["conflicts"] if "earlier day" in c["text"]]
    moved = {(p["job"], p["task"]): p for a in built.get("/agree")["assets"] for p in a["placements"]}
    assert all(moved[(k[0], k[1])]["day"] == "2026-12-05" for k in keys)
    built.edit(kind="undo")
    assert broken(built) == set()


def test_only_the_tasks_of_the_tank_move_if_that_is_asked(built: Week) -> None:
    _, jobs = jobs_of_a_full_tank(built)
    built.edit(kind="move", keys=jobs[0]["keys"], day="2026-12-05", whole=False)
    tasks = {p["task"]: p["day"] for p in built.get(f"/jobs/{jobs[0]['job']}")["placements"]}
    assert {t for t, day in tasks.items() if day == "2026-12-05"} == {k[1] for k in jobs[0]["keys"]}
    assert "these tasks alone" in built.get("/log")[0]["label"]


def test_what_is_pinned_stays_behind_and_is_named(built: Week) -> None:
    _, jobs = jobs_of_a_full_tank(built)
    job = jobs[0]
    placed = built.get(f"/jobs/{job['job']}")["placements"]
    others = [
        [job["job"], p["task"], p["portion"]]
        for p in placed
        if [job["job"], p["task"], p["portion"]] not in job["keys"]
    ]
    built.edit(kind="pin", keys=others[:1], on=True)
    built.edit(kind="move", keys=job["keys"], day="2026-12-05")
    assert f"{job['job']} task {others[0][1]} stays, pinned or begun" in built.get("/log")[0]["label"]


def test_a_job_whose_parts_come_later_is_a_conflict_on_a_day_alone_and_mend_moves_it(week: Week) -> None:
    job = next(j for j in week.get("/backlog", ready=True, placed=False, size=200)["rows"] if j["hours"] < 8)
    order = week.http.get(f"/api/orders/{job['number']}").json()
    order["order"]["parts_ready"] = "2026-12-03"
    saved = week.http.post("/api/orders", json={k: order[k] for k in ("order", "tasks", "revision")})
    assert saved.status_code == 200, saved.text
    week.edit(kind="put", jobs=[job["number"]], day="2026-12-04")
    keys = [
        [job["number"], p["task"], p["portion"]] for p in week.get(f"/jobs/{job['number']}")["placements"]
    ]
    after = week.edit(kind="move", keys=keys, day="2026-12-01")
    assert {c["code"] for c in after["conflicts"]} == {"earliest"}
    assert week.get("/agree")["conflicts"]
    week.edit(kind="mend", put_in=[])
    assert not [c for c in week.get()["conflicts"] if c["code"] in RULES]
    assert {p["day"] for p in week.get(f"/jobs/{job['number']}")["placements"]} <= {
        f"2026-12-0{n}" for n in range(3, 7)
    }


def test_mending_that_can_do_nothing_says_what_keeps_it(week: Week) -> None:
    job = week.get("/backlog", ready=True, placed=False, size=5)["rows"][0]["number"]
    week.edit(kind="put", jobs=[job], day="2026-12-06")
    keys = [[job, p["task"], p["portion"]] for p in week.get(f"/jobs/{job}")["placements"]]
    week.edit(kind="pin", keys=keys, on=True)
    assert week.get()["conflicts"], "nobody of its craft works on that Sunday"
    found = week.http.post(f"{week.base}/mend", json={"put_in": []}).json()
    assert found["moves"] == []
    assert all("is pinned" in c["why"] for c in found["conflicts"])
    refused = week.send(kind="mend", put_in=[])
    assert (refused.status_code, refused.json()["code"]) == (422, "nothing")
    assert "is pinned" in refused.json()["title"]


def somebody_with_work(week: Week, several: bool) -> tuple[dict, dict]:
    """A person and a day with work, in a craft that several people or nobody else could do."""
    people = week.get("/crew")["people"]
    for p in people:
        alike = [
            x for x in people if any(c["craft"] == p["craft"] for c in x["crafts"]) and x["key"] != p["key"]
        ]
        day = next((d for d in p["days"] if d["work"]), None)
        if day and bool(alike) == several:
            return p, day
    raise AssertionError("nobody")


def test_work_given_to_others_says_how_much_went_to_whom_and_what_is_left_and_why(built: Week) -> None:
    for p in built.get("/crew")["people"]:
        day = next((d for d in p["days"] if len(d["work"]) > 1), None)
        if day is None:
            continue
        built.edit(kind="absence", person=p["key"], day=day["day"], reason="sick")
        answer = built.send(kind="cover day", person=p["key"], day=day["day"])
        if answer.status_code == 200 and answer.json()["notes"]:
            break
        built.edit(kind="undo")
    said = answer.json()
    given = len(day["work"]) - len(said["notes"])
    assert said["label"].startswith(f"Give {given} of {len(day['work'])} seats of {p['name']}")
    assert all("(" in note for note in said["notes"])
    left = next(x for x in built.get("/crew")["people"] if x["key"] == p["key"])
    held = next(d for d in left["days"] if d["day"] == day["day"])
    assert len(held["work"]) == len(said["notes"]), "what nobody can take stays in sight"


def test_work_that_nobody_can_take_is_refused_with_why_and_nothing_moves(built: Week) -> None:
    p, day = somebody_with_work(built, True)
    crafts = [c["craft"] for c in p["crafts"]]
    for x in built.get("/crew")["people"]:
        others = [[c["craft"], c["level"]] for c in x["crafts"] if c["craft"] not in crafts] or [["hand", 1]]
        if x["key"] != p["key"] and any(c["craft"] in crafts for c in x["crafts"]) and "hand" not in crafts:
            built.edit(kind="skills", person=x["key"], crafts=others, certificates=[])
    before = built.get()["edits"]
    refused = built.send(kind="cover day", person=p["key"], day=day["day"])
    assert (refused.status_code, refused.json()["code"]) == (422, "nobody")
    assert "nobody else has its craft" in refused.json()["title"]
    assert built.get()["edits"] == before
