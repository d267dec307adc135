"""What is seen is printed: sheets of work orders, lists; what came in lately is told, and read again."""

from __future__ import annotations

import io
import json

import pypdf
import pytest
from fastapi.testclient import TestClient

from tests.api.conftest import Client, Week
from tests.conftest import WEEK


def text_of(pdf: bytes) -> str:
    return "\n".join(p.extract_text() for p in pypdf.PdfReader(io.BytesIO(pdf)).pages)


def file_of(http: TestClient, run: dict) -> bytes:
    found = http.get(f"/api/runs/{run['id']}").json()
    assert found["state"] == "done", found["error"]
    return http.get(f"/api/runs/{run['id']}/file").content


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
    assert names[next(p for x in job["placements"] for p in x["people"] if p)] in text
    one = built.http.get(f"{built.base}/order-sheet.pdf", params={"number": jobs[0]})
    assert one.headers["content-type"] == "application/pdf" and job["title"] in text_of(one.content)


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
