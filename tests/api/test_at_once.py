"""Several people, or several tabs of one, at one moment: nothing is lost, nothing doubled, each gets an
answer."""

from __future__ import annotations

import threading
from collections.abc import Callable

import peewee
import pytest

from nundine.services import retrying
from nundine.services.background import runs
from nundine.services.errors import Busy
from nundine.services.retrying import patiently
from nundine.services.week import builds
from nundine.services.week.state import load_state
from nundine.store.account import Account
from nundine.store.base import db
from nundine.store.run import Run
from nundine.store.site import Craft
from nundine.store.work_order import WorkOrder
from tests.api.conftest import Client, Week
from tests.conftest import WEEK


def at_once(*works: Callable[[], object]) -> list[object]:
    """What each gives, all begun at one moment; an exception is what one gives too."""
    gate, out = threading.Barrier(len(works)), [None] * len(works)

    def run(n: int, work: Callable[[], object]) -> None:
        gate.wait()
        try:
            out[n] = work()
        except Exception as bad:
            out[n] = bad

    threads = [threading.Thread(target=run, args=(n, work)) for n, work in enumerate(works)]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    return out


ORDER = {
    "order": {"title": "Handrail loose", "asset": "N1", "kind": "safety"},
    "revision": None,
    "tasks": [{"task": "10", "title": "Fix", "hours": "1", "needs": "hand"}],
}


def test_wos_made_at_one_moment_each_get_a_number_of_their_own(client: Client) -> None:
    clients = [client(name) for name in ("sven", "mila", "mila", "sven")]
    before = WorkOrder.select().count()

    def send(http):
        """Sent again while the answer is that somebody else is at it, as that answer says."""
        for _ in range(20):
            made = http.post("/api/orders", json=ORDER)
            if made.status_code != 409:
                break
        return made

    def make(http) -> list[str]:
        made = [send(http) for _ in range(6)]
        assert {m.status_code for m in made} == {200}, [m.text for m in made]
        return [m.json()["number"] for m in made]

    numbers = [n for made in at_once(*(lambda c=c: make(c) for c in clients)) for n in made]
    assert len(set(numbers)) == len(numbers) == 24
    assert WorkOrder.select().where(WorkOrder.number.in_(numbers)).count() == 24
    assert WorkOrder.select().count() == before + 24


def test_break_ins_of_one_moment_are_all_there(client: Client) -> None:
    form = {
        "title": "Gearbox screams",
        "asset": "N1-1",
        "hours": 1,
        "craft": "mech",
        "people": 1,
        "urgency": "now",
    }
    clients = [client(name) for name in ("sven", "mila", "sven")]
    made = at_once(*(lambda c=c: c.post(f"/api/weeks/{WEEK}/break-ins", json=form) for c in clients))
    assert {m.status_code for m in made} == {200}
    assert len({m.json()["number"] for m in made}) == 3
    assert WorkOrder.select().where(WorkOrder.title == "Gearbox screams").count() == 3


def test_a_number_that_two_want_goes_to_one_of_them(client: Client) -> None:
    clients = [client(name) for name in ("sven", "mila")]
    form = {**ORDER, "order": {**ORDER["order"], "number": "X-1"}}
    forms = [{**form, "order": {**form["order"], "title": f"of {n}"}} for n in range(2)]
    made = at_once(
        *(lambda c=c, f=f: c.post("/api/orders", json=f) for c, f in zip(clients, forms, strict=True))
    )
    assert sorted(m.status_code for m in made) == [200, 422]
    winner = next(n for n, m in enumerate(made) if m.status_code == 200)
    assert WorkOrder.get(WorkOrder.number == "X-1").title == f"of {winner}"


def test_of_two_changes_of_one_wo_one_is_told_that_the_other_came_first(client: Client) -> None:
    number = client("sven").post("/api/orders", json=ORDER).json()["number"]
    clients = [client(name) for name in ("sven", "mila")]
    for n in range(5):
        seen = clients[0].get(f"/api/orders/{number}").json()
        forms = [
            {
                **{k: seen[k] for k in ("tasks", "revision")},
                "order": {**seen["order"], "title": f"{n} of {w}"},
            }
            for w in range(2)
        ]
        made = at_once(
            *(lambda c=c, f=f: c.post("/api/orders", json=f) for c, f in zip(clients, forms, strict=True))
        )
        assert sorted(m.status_code for m in made) == [200, 409], [m.text for m in made]
        winner = next(w for w, m in enumerate(made) if m.status_code == 200)
        assert WorkOrder.get(WorkOrder.number == number).title == f"{n} of {winner}"


def test_keys_that_a_language_holds_equal_are_two_records(week: Week) -> None:
    def table(*numbers: str) -> dict:
        rows = [f"{n},Title of {i},N1,corrective,2026-11-01" for i, n in enumerate(numbers)]
        text = "\n".join(["number,title,asset,kind,raised", *rows])
        return {"files": ("work_orders.csv", text.encode(), "text/csv")}

    keys = ("ABC-1", "abc-1", "Müller", "Muller", "🚠", "🚡")
    answer = week.http.post("/api/imports", files=table(*keys))
    assert answer.status_code == 200, answer.text
    assert answer.json()["report"]["kinds"]["work_orders"]["new"] == len(keys)
    told = dict(
        WorkOrder.select(WorkOrder.number, WorkOrder.title).where(WorkOrder.number.in_(keys)).tuples()
    )
    assert told == {n: f"Title of {i}" for i, n in enumerate(keys)}
    again = week.http.post("/api/imports", files=table(*keys)).json()["report"]["kinds"]["work_orders"]
    assert (again["new"], again["unchanged"]) == (0, len(keys))
    for n in ("ABC-1", "abc-1"):
        assert week.http.get(f"/api/orders/{n}").json()["order"]["title"] == told[n]


def test_another_tab_of_ones_own_is_told_what_was_changed_since_it_looked(built: Week) -> None:
    seen = built.get()["edits"]
    job = built.get("/tanks/mech/2026-12-01")["jobs"][0]
    built.edit(kind="move", keys=job["keys"], day="2026-12-04")
    refused = built.send(seen=seen, kind="pin", keys=job["keys"], on=True)
    assert (refused.status_code, refused.json()["code"]) == (409, "changed")
    assert built.send(kind="pin", keys=job["keys"], on=True).status_code == 200, "having looked again"


def test_a_build_accepted_after_others_edited_books_nobody_twice_and_keeps_what_can_stay(
    week: Week, client: Client
) -> None:
    built = week.build(seconds=1.0, accept=False)
    mila = Week(client("mila"))
    jobs = [r["number"] for r in mila.get("/backlog", ready=True, size=30)["rows"]][4:24:2]
    for n, job in enumerate(jobs):
        mila.edit(kind="put", jobs=[job], day=f"2026-12-0{1 + n % 4}")
    before = {(c["code"], c["text"]) for c in week.get()["conflicts"]}
    taken = week.http.post(f"{week.base}/builds/{built['id']}/accept").json()
    after = {(c["code"], c["text"]) for c in taken["week"]["conflicts"]}
    assert after <= before, after - before
    placed = {k[0] for k in load_state(WEEK).rows}
    assert set(jobs) <= placed
    assert len(taken["left"]) < 0.3 * len(built["changes"]["added"]), "most of the build stands"
    assert set(taken["to_fit"]) == set(taken["left"]) - placed
    preview = week.http.post(f"{week.base}/mend", json={"put_in": taken["to_fit"][:50]})
    assert preview.status_code == 200, "and the rest can be fitted in at once"


def test_two_builds_asked_for_at_once_are_one(week: Week, nobody_works: None) -> None:
    url = f"{week.base}/builds"
    made = at_once(*(lambda: week.http.post(url, json={"seconds": 1.0}) for _ in range(3)))
    assert sorted(m.status_code for m in made) == [200, 422, 422]
    assert Run.select().where(Run.kind == "build").count() == 1


def test_a_build_that_was_dropped_stays_dropped(week: Week, monkeypatch: pytest.MonkeyPatch) -> None:
    state = load_state(WEEK)
    row = builds.ask(state, Account.get(Account.name == "sven"), 0.2, None, None, None)
    run = builds.build

    def dropped_meanwhile(*args: object, **kwargs: object):
        builds.drop(builds.find(state.week, row.id))
        return run(*args, **kwargs)

    monkeypatch.setattr(builds, "build", dropped_meanwhile)
    runs.work_on(row.id)
    assert builds.standing(Run.get_by_id(row.id)) == "dropped"
    assert week.http.post(f"{week.base}/builds/{row.id}/accept").status_code == 422
    assert week.http.post(f"{week.base}/builds/{row.id}/drop").json()["code"] == "build"


def test_two_imports_of_one_file_at_once_both_end_and_bring_it_in_once(client: Client) -> None:
    rows = "\n".join(f"IMP-{n},Bolts,N1,corrective,2026-11-01" for n in range(40))
    body = f"number,title,asset,kind,raised\n{rows}".encode()

    def bring(http) -> dict:
        answer = http.post("/api/imports", files={"files": ("work_orders.csv", body, "text/csv")})
        assert answer.status_code == 200, answer.text
        return answer.json()["report"]["kinds"]["work_orders"]

    found = at_once(lambda c=client("sven"): bring(c), lambda c=client("mila"): bring(c))
    assert sorted(f["new"] for f in found) == [0, 40]
    assert WorkOrder.select().where(WorkOrder.number.startswith("IMP-")).count() == 40


def test_two_who_lock_each_other_out_both_come_through(demo: None) -> None:
    """A real deadlock: each holds what the other waits for; the database gives one up, and it is done
    again."""
    first, second = list(Craft.select().order_by(Craft.id).limit(2))
    meet = threading.Barrier(2)
    tries: list[str] = []

    def swap(name: str, a: Craft, b: Craft) -> str:
        def work() -> str:
            tries.append(name)
            with db.atomic():
                Craft.update(name=f"{a.name} {name}").where(Craft.id == a.id).execute()
                if tries.count(name) == 1:
                    meet.wait(20)
                Craft.update(name=f"{b.name} {name}").where(Craft.id == b.id).execute()
            return name

        with db.connection_context():
            return patiently(work)

    assert at_once(lambda: swap("x", first, second), lambda: swap("y", second, first)) == ["x", "y"]
    assert len(tries) == 3, "one of them was done twice"
    names = {c.name[-1] for c in Craft.select().where(Craft.id.in_([first.id, second.id]))}
    assert len(names) == 1, "and what one did stands whole"


def test_what_stays_busy_is_told_as_busy_and_other_errors_as_they_are(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.setattr(retrying, "PAUSE", 0.0)
    asked: list[int] = []

    def never() -> None:
        asked.append(1)
        raise peewee.OperationalError(1205, "Lock wait timeout exceeded")

    with pytest.raises(Busy, match="nothing was changed"):
        patiently(never)
    assert len(asked) == retrying.TRIES

    def gone() -> None:
        raise peewee.OperationalError(2013, "Lost connection")

    with pytest.raises(peewee.OperationalError):
        patiently(gone)
