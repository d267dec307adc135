"""What is seen is printed: sheets of work orders, lists; what came in lately is told, and read again."""

from __future__ import annotations

import io
import json

import pypdf
import pytest
from fastapi.testclient import TestClient

from tests.api.conftest import Client, Week
from tests.api.test_orders import ORDER, made
from tests.conftest import WEEK


def text_of(pdf: bytes) -> str:
    return "\n".join(p.extract_text() for p in pypdf.PdfReader(io.BytesIO(pdf)).pages)


def file_of(http: TestClient, run: dict) -> bytes:
    found = http.get(f"/api/runs/{run['id']}").json()
    assert found["state"] == "done", found["error"]
    return http.get(f"/api/runs/{run['id']}/file").content


@pytest.mark.long
def test_sheets_of_chosen_work_orders_come_in_the_order_that_was_given_with_tasks_and_people(
    built: Week,
) -> None:
    jobs = [j["job"] for j in built.get("/tanks/mech/2026-12-01")["jobs"]][:3][::-1]
    text = text_of(
        file_of(built.http, built.http.post(f"{built.base}/order-sheets", json={"numbers": jobs}).json())
    )
    places = [text.index(number) for number in jobs]
    assert places == sorted(places)
    job = built.get(f"/jobs/{jobs[0]}")
    assert job["title"] in text and job["tasks"][0]["title"] in text
    names = {p["key"]: p["name"] for p in built.get("/crew")["people"]}
    assert names[next(p for x in job["placements"] for p in x["people"] if p)] in " ".join(text.split())
    one = built.http.get(f"{built.base}/order-sheet.pdf", params={"number": jobs[0]})
    assert one.headers["content-type"] == "application/pdf" and job["title"] in text_of(one.content)


def pages_of(built: Week, numbers: list[str], **paper: object) -> list[str]:
    asked = {"numbers": numbers, **paper}
    body = file_of(built.http, built.http.post(f"{built.base}/order-sheets", json=asked).json())
    return [p.extract_text() for p in pypdf.PdfReader(io.BytesIO(body)).pages]


def test_a_sheet_says_which_parts_a_task_needs_and_where_they_lie(built: Week) -> None:
    stock = {"kind": "receipt", "part": "BE-1003", "storeroom": "main", "shelf": "Q-7", "quantity": 99}
    assert built.http.post("/api/parts/movements", json={"lines": [stock]}).json()["failed"] == []
    task = {"task": "10", "title": "It", "hours": "1", "needs": "mech", "parts": 'BE-1003 x2; "rags" x3 may'}
    number = made(built.http, tasks=[task])
    (page,) = pages_of(built, [number])
    words = " ".join(page.split())
    assert "parts: 2 pcs BE-1003 Ball bearing 6206 (main Q-7); 3 rags, may be used" in words


def test_sheets_are_laid_out_short_and_by_answerable_crew_each_on_pages_of_its_own(built: Week) -> None:
    crews = ("North 1", "", "North 1", "Lake 2")
    numbers = [made(built.http, {**ORDER, "crew": crew}) for crew in crews]
    full = pages_of(built, numbers)
    assert len(full) == 4
    assert "Checked by" in full[0]
    short = pages_of(built, numbers, short=True)
    assert len(short) == 1
    assert "Checked by" not in short[0]
    lake, north, none = pages_of(built, numbers, short=True, by="crew")
    assert "Lake 2" in lake and numbers[3] in lake
    assert north.index("North 1") < north.index(numbers[0]) < north.index(numbers[2])
    assert "No crew is answerable" in none and numbers[1] in none


def test_sheets_by_day_begin_with_what_comes_first_in_the_week(built: Week) -> None:
    jobs = [j["job"] for day in (2, 4, 1) for j in built.get(f"/tanks/mech/2026-12-0{day}")["jobs"][:1]]
    text = "\n".join(pages_of(built, jobs, by="day"))
    first = {n: min(p["day"] for p in built.get(f"/jobs/{n}")["placements"]) for n in jobs}
    places = [text.index(n) for n in sorted(jobs, key=lambda n: first[n])]
    assert places == sorted(places)


def test_a_wo_says_when_its_sheet_was_printed_last(built: Week) -> None:
    number = made(built.http)
    assert built.http.get(f"/api/orders/{number}/beside").json()["printed"] is None
    pages_of(built, [number])
    assert built.http.get(f"/api/orders/{number}/beside").json()["printed"].startswith("2026-11-23")
    asked = json.dumps({"find": number})
    rows = built.http.get("/api/lists/work orders/rows", params={"q": asked}).json()["rows"]
    assert rows[0]["cells"]["printed"].startswith("2026-11-23")


@pytest.mark.parametrize(("numbers", "status"), [(["WO-none"], 404), ([], 422)])
def test_sheets_of_what_is_not_there_are_refused(built: Week, numbers: list[str], status: int) -> None:
    if numbers:
        assert (
            built.http.get(f"{built.base}/order-sheet.pdf", params={"number": numbers[0]}).status_code
            == status
        )
    else:
        assert built.http.post(f"{built.base}/order-sheets", json={"numbers": []}).status_code == status


def test_a_list_goes_on_paper_as_it_is_seen(client: Client) -> None:
    http = client("sven")
    question = {"filters": [{"column": "title", "how": "contains", "values": ["Grip"]}]}
    form = {"week": WEEK, "question": question, "columns": ["number", "title", "hours"], "format": "pdf"}
    text = text_of(file_of(http, http.post("/api/lists/backlog/files", json=form).json()))
    rows = http.get("/api/lists/backlog/rows", params={"week": WEEK, "q": json.dumps(question)})
    assert text.count("Grip") == rows.json()["counted"]["total"]
    assert "Hours" in text and "Asset" not in text


def test_what_came_in_lately_is_told_with_its_report_and_an_export_is_read_again_as_it_was(
    client: Client,
) -> None:
    http = client("sven")
    bad = ("work_orders.csv", b"number,title,asset,kind,raised\nWO-1,T,moon,corrective,2026-11-01\n")
    http.post("/api/imports", files={"files": bad})
    text = "order;machine;craft;hours;title\nY-1;N1;mech;2;Grease\n"
    one = http.post("/api/foreign", files={"file": ("week.csv", text.encode())}).json()
    mapping = {**one["mapping"], "name": "Halls", "chain": False}
    http.post(f"/api/foreign/{one['id']}/bring-in", json={"mapping": mapping, "decision": {}})
    newest, before = http.get("/api/imports/lately").json()[:2]
    assert (newest["label"], newest["by"], newest["state"]) == ("week.csv", "Sven Ostrova", "done")
    assert newest["counts"] == [{"what": "new WOs", "count": 1}]
    assert (before["state"], before["fault_count"], before["faults"][0]["column"]) == ("refused", 1, "asset")
    again = http.get(f"/api/foreign/{newest['file']}/again").json()
    assert (again["mapping"]["name"], again["mapping"]["chain"]) == ("Halls", False)
    assert client("mila").get(f"/api/foreign/{newest['file']}/again").status_code == 404


def test_what_would_be_taken_out_is_seen_before(client: Client) -> None:
    told = client("rene").get("/api/imports/exports/assets/preview").json()
    assert told["columns"][:3] == ["asset", "name", "area"]
    assert len(told["rows"]) == 25 < told["total"]
