"""Lists: every question is answered as a plain reading of the same rows answers it; a file holds exactly what
is seen."""

from __future__ import annotations

import csv
import io
import json
from datetime import date, timedelta
from typing import Any

import pytest
from fastapi.testclient import TestClient
from hypothesis import given
from hypothesis import strategies as st

from nundine.core.gates import GATES
from nundine.core.relative_day import day_of
from nundine.services.listing import rows as list_rows
from tests.api.conftest import Client, Week
from tests.conftest import WEEK
from tests.examples import examples

SIZE = 500


def asked(http: TestClient, question: dict, part: str = "rows", status: int = 200, **more: object):
    query = {"q": json.dumps(question), "week": WEEK, **more}
    answer = http.get(f"/api/lists/backlog/{part}", params=query)
    assert answer.status_code == status, answer.text
    return answer.json()


def all_rows(http: TestClient, question: dict | None = None) -> list[dict]:
    found = asked(http, question or {}, size=SIZE)
    rows = found["rows"]
    while len(rows) < found["counted"]["total"]:
        rows += asked(http, question or {}, size=SIZE, first=len(rows))["rows"]
    return [r["cells"] for r in rows]


@pytest.fixture(scope="module")
def plain() -> dict[str, list[dict]]:
    """All rows once, for a plain reading of them."""
    return {}


TEXTS = ("number", "title", "asset", "asset_key")
NUMBERS = ("priority", "hours")
CHOICES = ("area", "kind", "state", "permit")
DAYS = ("due", "raised", "placed")


def passes(row: dict, one: dict) -> bool:
    """One filter, read plainly."""
    value, how, values = row[one["column"]], one["how"], one["values"]
    if how in ("empty", "not empty"):
        return (value in (None, "")) == (how == "empty")
    if one["column"] in TEXTS:
        text = (value or "").lower()
        return any(v.lower() in text for v in values)
    if one["column"] in CHOICES:
        return (value in values) == (how == "is")
    if one["column"] in ("must", "ready"):
        return ("yes" if value else "no") in values
    low, high = values
    if value is None:
        return False
    if one["column"] in NUMBERS:
        return (not low or value >= float(low)) and (not high or value <= float(high))
    day = value[:10]
    return (not low or day >= low) and (not high or day <= high)


def filters(rows: list[dict]) -> st.SearchStrategy[dict]:
    """Filters made of what stands in the rows, so that they hit."""

    def of(column: str) -> st.SearchStrategy:
        return st.sampled_from(sorted({str(r[column]) for r in rows if r[column] not in (None, "")}))

    def made(column: str, how: str, values: st.SearchStrategy) -> st.SearchStrategy[dict]:
        return values.map(lambda v: {"column": column, "how": how, "values": list(v)})

    none = st.just(())
    pair = lambda one: st.tuples(one | st.just(""), one).map(  # noqa: E731
        lambda p: p if not p[0] else tuple(sorted(p))
    )
    number = lambda one: one.map(float).flatmap(  # noqa: E731
        lambda v: st.sampled_from([("", str(v)), (str(v), ""), (str(v / 2), str(v))])
    )
    parts = [
        made(c, "contains", st.lists(of(c).map(lambda t: t[1:5]), min_size=1, max_size=2)) for c in TEXTS
    ]
    parts += [
        made(c, how, st.lists(of(c), min_size=1, max_size=3)) for c in CHOICES for how in ("is", "is not")
    ]
    parts += [made(c, "between", number(of(c))) for c in NUMBERS]
    parts += [made(c, "between", pair(of(c).map(lambda t: t[:10]))) for c in DAYS if any(r[c] for r in rows)]
    parts += [made(c, how, none) for c in DAYS for how in ("empty", "not empty")]
    yes_or_no = st.lists(st.sampled_from(["yes", "no"]), min_size=1, max_size=2)
    parts += [made(truth, "is", yes_or_no) for truth in ("must", "ready")]
    return st.one_of(parts)


@examples(60)
@given(data=st.data())
def test_filters_words_order_and_groups_are_those_of_a_plain_reading(
    client: Client, plain: dict[str, list[dict]], monkeypatch: pytest.MonkeyPatch, data: st.DataObject
) -> None:
    http = plain.setdefault("http", client("sven"))  # type: ignore[arg-type]
    rows = plain.setdefault("rows", all_rows(http))  # type: ignore[arg-type]
    chosen = data.draw(st.lists(filters(rows), max_size=3))
    find = data.draw(st.sampled_from(["", "", "brake", "gondola in", "T1 rope"]))
    sort = data.draw(st.sampled_from(["priority", "number", "hours", "raised", "asset"]))
    down = data.draw(st.booleans())
    question = {"filters": chosen, "find": find, "sort": [{"column": sort, "down": down}]}
    monkeypatch.setattr(list_rows, "FEW", data.draw(st.sampled_from([1000, 20])))
    found = all_rows(http, question)

    def holds(row: dict) -> bool:
        return all(any(w in str(row[c] or "").lower() for c in TEXTS) for w in find.lower().split())

    expected = [r for r in rows if holds(r) and all(passes(r, f) for f in chosen)]
    assert {r["number"] for r in found} == {r["number"] for r in expected}
    if sort != "number":
        values = [r[sort].lower() if sort == "asset" else r[sort] for r in found]
        assert values == sorted(values, reverse=down)
    total = asked(http, question, size=1)["counted"]
    assert total["total"] == len(expected)
    assert total["sums"]["hours"] == pytest.approx(sum(r["hours"] for r in expected), abs=0.05)
    groups = asked(http, {**question, "group": "kind"}, "groups")
    counted: dict[str, int] = {}
    for r in expected:
        counted[r["kind"]] = counted.get(r["kind"], 0) + 1
    assert {g["value"]: g["count"] for g in groups} == counted
    assert asked(http, question, "keys") == [r["number"] for r in found]


def test_a_page_goes_on_where_the_one_before_ends(client: Client) -> None:
    http = client("sven")
    whole = [r["number"] for r in all_rows(http)]
    pages = [asked(http, {}, first=n, size=70)["rows"] for n in range(0, len(whole), 70)]
    assert [r["key"] for page in pages for r in page] == whole


def test_several_columns_sort_one_after_another_and_empty_days_come_last(client: Client) -> None:
    sort = [{"column": "kind"}, {"column": "due"}]
    rows = all_rows(client("sven"), {"sort": sort})
    keys = [(r["kind"], r["due"] is None, r["due"] or "") for r in rows]
    assert keys == sorted(keys)


@pytest.mark.parametrize(
    ("question", "said"),
    [
        ({"filters": [{"column": "colour", "how": "is", "values": ["red"]}]}, "no column"),
        ({"filters": [{"column": "hours", "how": "contains", "values": ["1"]}]}, "can not be asked"),
        ({"filters": [{"column": "hours", "how": "between", "values": ["many", ""]}]}, "is no number"),
        ({"filters": [{"column": "due", "how": "between", "values": ["someday", ""]}]}, "is no day"),
        ({"filters": [{"column": "due", "how": "between", "values": ["", ""]}]}, "from when"),
        ({"filters": [{"column": "title", "how": "contains", "values": []}]}, "Say what"),
        ({"sort": [{"column": "gates"}]}, "can not be sorted"),
    ],
)
def test_what_can_not_be_asked_says_which_column_and_why(client: Client, question: dict, said: str) -> None:
    http = client("sven")
    answer = http.get("/api/lists/backlog/rows", params={"q": json.dumps(question), "week": WEEK})
    assert answer.status_code in (404, 422)
    assert said in answer.json()["title"]


def test_days_of_a_question_move_with_today_and_with_the_week() -> None:
    today, monday = date(2026, 11, 26), date(2026, 11, 30)
    assert day_of("today", today, monday) == today
    assert day_of("today-7", today, monday) == today - timedelta(days=7)
    assert day_of("week+6", today, monday) == date(2026, 12, 6)
    assert day_of("2028-02-29", today, monday) == date(2028, 2, 29)
    with pytest.raises(ValueError, match="is no day"):
        day_of("2027-02-29", today, monday)


def test_what_stands_in_the_week_and_which_gates_are_shut_can_be_asked(built: Week) -> None:
    rows = all_rows(built.http)
    inside = asked(built.http, {"filters": [{"column": "placed", "how": "not empty"}]}, size=SIZE)
    assert {r["key"] for r in inside["rows"]} == {r["number"] for r in rows if r["placed"]} != set()
    for gate in GATES:
        shut = asked(built.http, {"filters": [{"column": "gates", "how": "is", "values": [gate]}]}, size=SIZE)
        assert {r["key"] for r in shut["rows"]} == {r["number"] for r in rows if gate in r["gates"]}, gate
    assert {r["number"] for r in rows if "permit" in r["gates"]} == {
        r["number"] for r in rows if r["permit"] == "waiting"
    }
    ready = asked(built.http, {"filters": [{"column": "ready", "how": "is", "values": ["yes"]}]}, size=SIZE)
    assert {r["key"] for r in ready["rows"]} == {r["number"] for r in rows if r["ready"]} != set()
    crafts = asked(built.http, {"filters": [{"column": "craft", "how": "is", "values": ["elec"]}]}, size=SIZE)
    assert {r["key"] for r in crafts["rows"]} == {r["number"] for r in rows if "elec" in r["craft"]} != set()


def test_what_is_not_one_thing_may_be_nothing(client: Client) -> None:
    http = client("sven")
    query = {"q": json.dumps({"filters": [{"column": "answer", "how": "is not", "values": ["refused"]}]})}
    shown = http.get("/api/lists/windows/rows", params=query).json()["counted"]["total"]
    whole = http.get("/api/lists/windows/rows", params={"q": "{}"}).json()["counted"]["total"]
    assert shown == whole > 0, "windows without an answer are not refused"


@pytest.mark.parametrize("form", ["csv", "xlsx"])
def test_a_file_holds_exactly_what_is_seen(client: Client, form: str) -> None:
    sven = client("sven")
    question = {
        "filters": [{"column": "must", "how": "is", "values": ["yes"]}],
        "sort": [{"column": "hours", "down": True}],
    }
    columns = ["number", "title", "area", "hours", "must"]
    made = sven.post(
        "/api/lists/backlog/files",
        json={"week": WEEK, "question": question, "columns": columns, "format": form},
    )
    assert made.status_code == 200, made.text
    body = sven.get(f"/api/runs/{made.json()['id']}/file").content
    seen = all_rows(sven, question)
    if form == "csv":
        head, *lines = csv.reader(io.StringIO(body.decode("utf-8-sig")))
    else:
        from openpyxl import load_workbook

        head, *lines = [list(r) for r in load_workbook(io.BytesIO(body)).active.iter_rows(values_only=True)]
    assert head == ["WO", "Work", "Area", "Hours", "Must-work"]
    assert [line[0] for line in lines] == [r["number"] for r in seen]
    assert [float(line[3]) for line in lines] == [r["hours"] for r in seen]
    assert {line[4] for line in lines} == {"yes"}


def test_a_file_holds_cells_that_are_looked_up_beside_the_rows_where_they_are_asked_for(
    client: Client,
) -> None:
    sven = client("sven")
    form = {"week": WEEK, "question": {}, "columns": ["number", "gates", "craft"], "format": "csv"}
    made = sven.post("/api/lists/backlog/files", json=form).json()
    body = sven.get(f"/api/runs/{made['id']}/file").content.decode("utf-8-sig")
    _, *lines = csv.reader(io.StringIO(body))
    shut = {number: gates for number, gates, _ in lines}
    rows = {r["number"]: r for r in all_rows(sven)}
    assert {n for n, gates in shut.items() if gates} == {n for n, r in rows.items() if r["gates"]}
    assert {n for n, _, craft in lines if craft} == {n for n, r in rows.items() if r["craft"]}


SAMPLES = {
    "text": ["a"],
    "number": ["1", "900"],
    "hours": ["1", "900"],
    "money": ["1", "900.5"],
    "day": ["2026-01-01", "today+400"],
    "moment": ["2026-01-01", "today+400"],
    "yes": ["yes"],
}


@pytest.mark.parametrize("who", ["ada", "sven"])
def test_accounts_and_deeds_are_lists_of_administrators(client: Client, who: str) -> None:
    names = [n["name"] for n in client(who).get("/api/lists/names").json()]
    assert ("accounts" in names) == ("deeds" in names) == (who == "ada")


def test_every_list_answers_whatever_its_columns_offer(built: Week, client: Client) -> None:
    http = client("ada")
    for name in [n["name"] for n in http.get("/api/lists/names").json()]:
        base, of_week = f"/api/lists/{name}", {"week": WEEK, "size": 10}

        def ask(part: str, question: dict, base: str = base, of_week: dict = of_week) -> Any:
            params = {**of_week, "q": json.dumps(question)}
            answer = http.get(f"{base}/{part}", params=params)
            assert answer.status_code == 200, f"{base} {question}: {answer.text}"
            return answer.json()

        head = http.get(base, params=of_week).json()
        total = ask("rows", {})["counted"]["total"]
        tried: set[tuple[str, str]] = set()
        for c in head["columns"]:
            if c["can_sort"]:
                assert (
                    ask("rows", {"sort": [{"column": c["name"], "down": True}]})["counted"]["total"] == total
                )
            if c["can_group"]:
                assert sum(g["count"] for g in ask("groups", {"group": c["name"]})) == total
            fresh = [how for how in c["hows"] if (c["kind"], how) not in tried]
            for how in fresh or c["hows"][:1]:  # each column at least once, each way for each kind
                tried.add((c["kind"], how))
                sample = [o["value"] for o in c["choices"][:1]] or SAMPLES.get(c["kind"], ["a"])
                values = [] if "empty" in how else sample[:1] if how != "between" else sample
                found = ask("rows", {"filters": [{"column": c["name"], "how": how, "values": values}]})
                assert 0 <= found["counted"]["total"] <= total


def test_accounts_as_a_list_say_their_roles_and_never_a_secret(client: Client) -> None:
    ada = client("ada")
    client("sven")
    shown = asked_of(
        ada, "accounts", {"filters": [{"column": "roles", "how": "is", "values": ["scheduler"]}]}
    )
    assert {r["cells"]["account"] for r in shown["rows"]} == {"sven", "mila"}
    sven = next(r["cells"] for r in shown["rows"] if r["cells"]["account"] == "sven")
    assert (sven["roles"], sven["sessions"], sven["state"]) == (["scheduler"], 1, "may sign in")
    assert "argon" not in json.dumps(shown) and "hash" not in json.dumps(shown)
    assert client("sven").get("/api/lists/accounts/rows", params={"q": "{}"}).status_code == 403


def asked_of(http: TestClient, name: str, question: dict) -> dict:
    answer = http.get(f"/api/lists/{name}/rows", params={"q": json.dumps(question)})
    assert answer.status_code == 200, answer.text
    return answer.json()


def test_the_tasks_of_a_week_are_a_list_that_knows_who_and_what_nobody_fills(built: Week) -> None:
    http = built.http

    def ask(question: dict, week: str = WEEK) -> dict:
        asked = {"week": week, "q": json.dumps(question)}
        return http.get("/api/lists/tasks/rows", params={**asked, "size": 500}).json()

    whole = ask({})
    review = built.get("/review")["tasks"]
    assert whole["counted"]["total"] == len(review) > 100
    assert [r["key"] for r in whole["rows"]] == [f"{t['day']} {t['job']} {t['task']}" for t in review]
    row = whole["rows"][0]["cells"]
    seated = next(t for t in review if t["job"] == row["number"] and t["what"] == row["task"])
    assert row["people"] == [n or "open" for n in seated["people"]]
    person = next(p["key"] for p in built.get("/crew")["people"] if any(d["work"] for d in p["days"]))
    day = next(
        d for d in built.get()["days"] if built.send(kind="free day", person=person, day=d).status_code == 200
    )
    found = ask({"filters": [{"column": "open", "how": "is", "values": ["yes"]}]})
    assert found["rows"] and {r["cells"]["day"] for r in found["rows"]} == {day}
    assert ask({}, "2027-W20")["counted"]["total"] == 0


def test_what_changed_since_the_week_was_published_is_a_list(published: Week) -> None:
    http = published.http

    def ask(of: str = "", **question: object) -> Any:
        asked = {"week": WEEK, "of": of, "q": json.dumps(question), "size": 500}
        return http.get("/api/lists/changes/rows", params=asked)

    assert ask().json()["counted"]["total"] == 0
    first = ask("1").json()
    assert first["counted"]["total"] == len(published.get("/revisions/1/changes")["added"]) > 100
    row = next(t for t in published.get("/review")["tasks"] if t["seats"][0]["person"])
    published.edit(kind="free day", person=row["seats"][0]["person"], day=row["day"])
    told = published.get("/revisions/0/changes")
    rows = [r["cells"] for r in ask().json()["rows"]]
    assert [r["what"] for r in rows] == ["changed"] * len(told["changed"])
    assert {(r["number"], r["who"], r["who_was"]) for r in rows} == {
        (c["after"]["job"], "open", c["before"]["name"]) for c in told["changed"]
    }
    assert ask("9").status_code == 404
    assert ask("one").status_code == 422
