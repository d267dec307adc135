"""Crew sheets: made once for a revision and kept with it, of one person at once, of a draft when asked
for."""

from __future__ import annotations

import io

import pypdf
import pytest

from nundine.services.background import runs
from nundine.services.week import crew_sheets, proofs
from nundine.services.week.seat_lines import lines
from nundine.services.week.state import find_week, load_state
from nundine.settings import settings
from nundine.store.run import Run
from nundine.store.week import Handout
from tests.api.conftest import Week
from tests.conftest import WEEK

pytestmark = pytest.mark.long


@pytest.fixture
def left_waiting() -> set[str]:
    """Sheets are made."""
    return {proofs.KIND}


def text_of(body: bytes) -> str:
    return "\n".join(page.extract_text() for page in pypdf.PdfReader(io.BytesIO(body)).pages)


def sheets(week: Week, **query: object) -> bytes:
    answer = week.http.get(f"{week.base}/sheets.pdf", params={"by": "person", **query})
    assert answer.status_code == 200, answer.text
    return answer.content


def test_publishing_has_the_sheets_made_and_an_edit_does_not_make_them_again(published: Week) -> None:
    assert published.http.post(f"{published.base}/revisions").status_code == 200
    number = published.get()["revision"]
    rows = list(Handout.select().where(Handout.revision == number).order_by(Handout.by))
    assert [(r.by, r.made is not None) for r in rows] == [("crew", True), ("person", True)]
    before = sheets(published)
    job = published.get("/tanks/mech/2026-12-01")["jobs"][0]
    published.edit(kind="take out", jobs=[job["job"]])
    assert sheets(published) == before, "what is out is what was published"
    assert job["job"] in text_of(before)
    assert job["job"] not in text_of(sheets(published, draft=True))
    assert Handout.select().where(Handout.revision == number).count() == 2


def test_sheets_of_a_revision_of_long_ago_are_made_when_they_are_asked_for(published: Week) -> None:
    Handout.delete().execute()
    assert text_of(sheets(published, by="crew", areas=["north"]))
    assert Handout.select().count() == 1


def test_sheets_of_some_areas_hold_their_people_alone(published: Week) -> None:
    people = {p["name"]: p["area"] for p in published.get("/crew")["people"] for d in p["days"] if d["work"]}
    pages = pypdf.PdfReader(io.BytesIO(sheets(published, areas=["north"]))).pages
    heads = [next((n for n in page.extract_text().splitlines()[:3] if n in people), None) for page in pages]
    assert {people[name] for name in heads if name} == {"north"}
    assert set(heads) >= {n for n, area in people.items() if area == "north"}


def test_one_persons_sheet_holds_that_persons_work(published: Week) -> None:
    person = next(p for p in published.get("/crew")["people"] for d in p["days"] if d["work"])
    told = text_of(sheets(published, only=person["key"]))
    work = {w["job"] for d in person["days"] for w in d["work"]}
    assert person["name"] in told
    assert all(job in told for job in work)


def test_a_sheet_and_a_calendar_lead_back_to_the_job_at_its_site(published: Week) -> None:
    line = next(r for r in lines(load_state(WEEK)) if r.person and r.start)
    address = f"{settings().public}/week/{WEEK}/gather?job={line.job}"
    calendar = published.http.get(f"{published.base}/calendars/{line.person}.ics").text
    assert address in calendar.replace("\r\n ", "")
    sheet = sheets(published, only=line.person)
    links = [
        str(a.get_object()["/A"]["/URI"])
        for page in pypdf.PdfReader(io.BytesIO(sheet)).pages
        for a in page.get("/Annots", ())
    ]
    assert address in links


def test_a_sheet_is_laid_out_once_however_often_it_is_asked_for(published: Week) -> None:
    Handout.delete().execute()
    week = find_week(published.get()["week"])
    (first,) = crew_sheets.to_make(week, 1, ("north",), ("crew",))
    assert crew_sheets.to_make(week, 1, ("north",), ("crew",)) == [], "it waits already"
    runs.work_on(first.id)
    made = Handout.get().made
    runs.work_on(first.id)
    assert Handout.get().made == made is not None
    assert crew_sheets.to_make(week, 1, ("north",), ("crew",)) == []


def test_sheets_whose_making_was_cut_off_are_made_again_after_the_next_start(published: Week) -> None:
    Handout.delete().execute()
    week = find_week(published.get()["week"])
    (first,) = crew_sheets.to_make(week, 1, (), ("crew",))
    Run.update(state="running").where(Run.id == first.id).execute()
    assert crew_sheets.to_make(week, 1, (), ("crew",)) == [], "somebody is at it"
    runs.cut_off()
    assert len(crew_sheets.to_make(week, 1, (), ("crew",))) == 1


def test_sheets_of_an_area_that_is_not_there_are_refused_by_name(published: Week) -> None:
    refused = published.http.get(f"{published.base}/sheets.pdf", params={"areas": ["x" * 500]})
    assert (refused.status_code, refused.json()["field"]) == (422, "areas")
