"""A scheduler's job, once through, in a real browser. The tests of this file follow one another on one
week."""

from __future__ import annotations

import io
import re
from pathlib import Path

import icalendar
import pypdf
import pytest
from playwright.sync_api import Page, expect

from tests.ui.conftest import NOTHING_PLACED, Open, agreed, pick, shown

pytestmark = pytest.mark.screen


def build(page: Page, seconds: int = 3) -> None:
    """A build that is ready to be compared; it may be so since an earlier try of a story."""
    page.keyboard.press("b")
    asked, ready = page.get_by_label("Seconds to search"), shown(page, "What would change")
    expect(asked.or_(ready).first).to_be_visible()
    if asked.is_visible():
        asked.fill(str(seconds))
        page.get_by_role("button", name="Start building").click()
    expect(ready).to_be_visible(timeout=120_000)


def test_a_wrong_password_is_refused_in_words(address: str, page: Page) -> None:
    page.goto(address)
    page.get_by_label("Name").fill("sven")
    page.get_by_label("Password").fill("not this one")
    page.get_by_role("button", name="Sign in").click()
    expect(shown(page, "do not go together")).to_be_visible()


def test_a_file_with_errors_names_the_rows_and_brings_nothing_in(open_as: Open, tmp_path: Path) -> None:
    page = open_as("sven")
    file = tmp_path / "work_orders.csv"
    file.write_text(
        "number,title,asset,kind,raised\n"
        "WO-9001,Good,N1-1,corrective,2026-11-01\n"
        "WO-9002,Bad,moon,corective,2026-11-01\n"
    )
    page.get_by_role("link", name="Files").click()
    page.get_by_text("Nundine's own tables").click()
    page.set_input_files("input[type=file]", file)
    page.get_by_role("button", name="Bring in").click()
    errors = page.get_by_role("table", name="Errors")
    expect(errors.get_by_role("row", name=re.compile("work_orders.csv 3 kind .*corective"))).to_be_visible()
    expect(errors.get_by_role("row", name=re.compile("work_orders.csv 3 asset .*moon"))).to_be_visible()
    file.write_text("number,title,asset,kind,raised\nWO-9001,Good,N1-1,corrective,2026-11-01\n")
    page.reload()
    page.get_by_text("Nundine's own tables").click()
    page.set_input_files("input[type=file]", file)
    page.get_by_role("button", name="Bring in").click()
    expect(shown(page, "Brought in", exact=True)).to_be_visible()
    page.get_by_role("link", name="Week").click()
    expect(shown(page, re.compile(r"^\d{3} jobs"))).to_be_visible()
    page.keyboard.press("/")
    page.keyboard.type("WO-9001")
    expect(page.get_by_role("grid", name="Backlog").get_by_role("row")).to_have_count(2)


def test_the_backlog_is_searched_sorted_and_opened_by_keyboard(open_as: Open) -> None:
    page = open_as("sven", "gather")
    table = page.get_by_role("grid", name="Backlog")
    expect(shown(page, re.compile(r"^\d{3} jobs"))).to_be_visible()
    page.get_by_role("columnheader", name="WO").get_by_role("button").first.click()
    expect(table.get_by_role("row").nth(1)).to_contain_text("WO-1800")
    page.keyboard.press("/")
    page.keyboard.type("gondola brake")
    expect(table.get_by_role("row").nth(1)).to_contain_text("Brake test")
    page.keyboard.press("Escape")
    for _ in range(3):
        page.keyboard.press("ArrowDown")
    page.keyboard.press("ArrowUp")
    page.keyboard.press("Enter")
    side = page.get_by_role("complementary")
    expect(side.get_by_role("heading", name="Not in the week")).to_be_visible()
    expect(side.get_by_role("heading", name="Tasks")).to_be_visible()


def test_a_build_is_watched_compared_and_accepted(open_as: Open) -> None:
    page = open_as("sven", "balance")
    build(page)
    expect(shown(page, re.compile("proven to be at least"))).to_be_visible()
    page.get_by_role("button", name="Accept").click()
    expect(shown(page, re.compile("at least .* of what any schedule could hold"))).to_be_visible()
    expect(page.get_by_role("link", name=re.compile("Balance .*of hours placed"))).not_to_have_text(
        NOTHING_PLACED
    )


def test_a_job_is_moved_by_the_menu_and_the_move_undone_by_a_key(open_as: Open) -> None:
    page = open_as("sven", "balance")
    page.get_by_role("gridcell", name=re.compile("^Vehicle mechanic, Mon 30 Nov")).click()
    side = page.get_by_role("complementary")
    expect(side.get_by_role("heading", name="Vehicle mechanic, Mon 30 Nov")).to_be_visible()
    before = page.get_by_role("gridcell", name=re.compile("^Vehicle mechanic, Mon 30 Nov")).text_content()
    side.get_by_role("button", name="Move to").click()
    page.get_by_role("menuitem", name="Fri 4 Dec").click()
    expect(shown(page, re.compile("Move WO-.* to Fri 4 Dec"))).to_be_visible()
    expect(page.get_by_role("gridcell", name=re.compile("^Vehicle mechanic, Mon 30 Nov"))).not_to_have_text(
        before
    )
    page.keyboard.press("z")
    expect(page.get_by_role("gridcell", name=re.compile("^Vehicle mechanic, Mon 30 Nov"))).to_have_text(
        before
    )


def test_a_job_is_dragged_to_another_day(open_as: Open) -> None:
    page = open_as("sven", "balance")
    tank = page.get_by_role("gridcell", name=re.compile("^Vehicle mechanic, Tue 1 Dec"))
    tank.click()
    before = tank.text_content()
    page.locator(".job").first.drag_to(
        page.get_by_role("gridcell", name=re.compile("^Vehicle mechanic, Thu 3 Dec"))
    )
    expect(tank).not_to_have_text(before)
    page.keyboard.press("z")
    expect(tank).to_have_text(before)


def test_why_a_job_is_not_in_is_one_click_away(open_as: Open) -> None:
    page = open_as("sven", "gather")
    page.get_by_role("button", name="Not in").click()
    page.get_by_role("grid", name="Backlog").get_by_role("row").nth(1).get_by_role("gridcell").nth(2).click()
    side = page.get_by_role("complementary")
    expect(side.get_by_role("heading", name="Not in the week")).to_be_visible()
    expect(
        side.get_by_text(
            re.compile(
                r"^(gate|hours|not yet|order|outranked|nobody|tool|too long|no window|window|held back|fits"
                r"|overtime)"
            )
        )
    ).not_to_have_count(0)


def test_another_browser_sees_an_edit_and_is_told_who_made_it(open_as: Open) -> None:
    sven, mila = open_as("sven", "balance"), open_as("mila", "balance")
    cell = re.compile("^Welder, Mon 30 Nov")
    for page in (sven, mila):
        page.get_by_role("gridcell", name=cell).click()
    before = mila.get_by_role("gridcell", name=cell).text_content()
    sven.get_by_role("complementary").get_by_role("button", name="Take out").click()
    expect(mila.get_by_role("gridcell", name=cell)).not_to_have_text(before)
    expect(mila.get_by_text(re.compile("Sven Ostrova: Take WO-"))).to_be_visible()
    sven.keyboard.press("z")
    expect(mila.get_by_role("gridcell", name=cell)).to_have_text(before)


def test_a_sick_day_is_one_key_and_its_deficit_stays_until_others_have_the_work(open_as: Open) -> None:
    page = open_as("sven", "crew")
    cell = page.get_by_role("gridcell", name=re.compile("^Katya Orlova, Wed 2 Dec: .* [1-9] jobs?"))
    cell.click()
    page.keyboard.press("s")
    sick = page.get_by_role(
        "gridcell", name=re.compile("^Katya Orlova, Wed 2 Dec: away, sick.*without anybody")
    )
    expect(sick).to_be_visible()
    expect(shown(page, re.compile("▲ .*broken rule"))).to_be_visible()
    page.get_by_role("button", name="Open the seats").click()
    expect(
        page.get_by_role("gridcell", name=re.compile("^Katya Orlova, Wed 2 Dec: away, sick, 0 jobs"))
    ).to_be_visible()


def test_an_open_seat_goes_to_the_best_person_by_keyboard(open_as: Open) -> None:
    page = open_as("sven", "crew")
    page.get_by_role("gridcell", name=re.compile("^Ilse Brandner, .* [1-9] jobs?")).first.click()
    page.get_by_role("complementary").get_by_role("button", name="Take off").first.click()
    expect(shown(page, re.compile("Open a seat of WO-"))).to_be_visible()
    before = int(
        re.search(r"(\d+) open", page.get_by_role("link", name=re.compile("Crew .* open seat")).inner_text())[
            1
        ]
    )
    for _ in range(before):
        page.keyboard.press("t")
        expect(page.get_by_role("heading", name="Who can take this seat")).to_be_visible()
        page.wait_for_timeout(400)
        if page.get_by_role("button", name=re.compile("^Give G")).count():
            break
    page.keyboard.press("g")
    expect(shown(page, re.compile("Give a seat of WO-"))).to_be_visible()
    expect(page.get_by_role("link", name=re.compile(f"Crew {before - 1} open seat"))).to_be_visible()


def test_operations_record_an_answer_and_can_not_edit_the_week(open_as: Open) -> None:
    page = open_as("olivia", "agree")
    expect(page.get_by_role("button", name=re.compile("Build"))).to_have_count(0)
    expect(shown(page, re.compile(r"\d+ to be answered"))).to_be_visible()
    page.keyboard.press("ArrowDown")
    side = page.get_by_role("complementary")
    side.get_by_label("Remark").fill("Fine if done before opening")
    side.get_by_role("button", name="Agreed").click()
    expect(side.get_by_text("recorded by Olivia Thorne")).to_be_visible()


def test_a_reader_sees_the_week_and_no_control_that_edits(open_as: Open) -> None:
    page = open_as("rene", "balance")
    expect(page.get_by_role("gridcell", name=re.compile("^Welder, Mon 30 Nov"))).to_be_visible()
    for name in ("Build", "Undo", "Take out", "Move to"):
        expect(page.get_by_role("button", name=re.compile(f"^{name}"))).to_have_count(0)
    expect(page.get_by_role("link", name="Files")).to_have_count(0)


def test_a_screen_for_others_says_whose_it_is_and_leads_back(open_as: Open) -> None:
    page = open_as("rene", "balance")
    for path in ("/setup", "/files"):
        page.goto(path)
        expect(page.get_by_role("heading", name="This screen is not for your role, reader")).to_be_visible()
        page.get_by_role("link", name="To the week").click()
        expect(page.get_by_role("complementary", name="Publish and hand out")).to_be_visible()


def test_the_week_is_agreed_published_and_handed_out(open_as: Open) -> None:
    page = open_as("sven", "agree")
    agreed(page)
    page.keyboard.press("5")
    expect(page.get_by_role("grid", name="Changes")).to_contain_text("new")
    page.get_by_role("button", name="Publish revision 1").click()
    expect(page.get_by_role("heading", name="Revision 1 is out")).to_be_visible()
    expect(page.get_by_role("heading", name="No difference")).to_be_visible()
    pick(page.get_by_label("Person"), "Ilse Brandner")
    with page.expect_download() as sheet:
        page.get_by_role("link", name="Crew sheet", exact=True).click()
    text = "".join(
        p.extract_text() for p in pypdf.PdfReader(io.BytesIO(Path(sheet.value.path()).read_bytes())).pages
    )
    assert "Ilse Brandner" in text
    with page.expect_download() as calendar:
        page.get_by_role("link", name="Calendar", exact=True).click()
    events = icalendar.Calendar.from_ical(Path(calendar.value.path()).read_bytes()).walk("VEVENT")
    assert events
    assert all(str(e["summary"]).split()[0] in text for e in events)
    assert len(set(re.findall(r"WO-\d+", text))) == len({str(e["summary"]).split()[0] for e in events})


def test_a_supervisor_reports_work_done_and_compliance_follows(open_as: Open) -> None:
    page = open_as("karl", "run")
    row = page.get_by_role("grid", name="Tasks of the week").get_by_role("row").nth(1)
    row.get_by_role("button", name="Start").click()
    expect(row).to_contain_text("under way")
    row.get_by_role("button", name="Done").click()
    expect(row).to_contain_text("✓ done")
    expect(shown(page, re.compile(r"^(?!0 )[\d.]+ h of "))).to_be_visible()


def test_asks_are_worked_out_for_the_meeting(open_as: Open) -> None:
    page = open_as("sven", "agree")
    asks = page.get_by_role("region", name="Asks")
    asks.get_by_role("button", name="Work out the asks").click()
    tried = re.compile("confirmed by building again|tried by putting jobs in")  # by how much time there is
    expect(asks.get_by_text(tried).first).to_be_visible(timeout=120_000)
    expect(asks.get_by_text(re.compile(r"lets in [\d.]+ h of work")).first).to_be_visible()


def test_somebody_calls_in_sick_and_the_published_week_is_mended_with_a_key(open_as: Open) -> None:
    page = open_as("sven", "crew")
    cell = page.get_by_role(
        "gridcell", name=re.compile(r"^[^:]*, Tue 1 Dec: [\d.]+ h, .*, [2-9] jobs\b")
    ).first
    person = (cell.text_content() or "").split(",")[0]
    cell.click()
    page.keyboard.press("s")
    expect(shown(page, re.compile("is away on Tue 1 Dec"))).to_be_visible()
    page.keyboard.press("m")
    drawer = page.get_by_role("dialog", name="Mend week 49")
    expect(drawer.get_by_role("heading", name=re.compile(r"\d+ moves? of published work"))).to_be_visible()
    expect(drawer.get_by_role("listitem").first).to_contain_text("WO-")
    drawer.get_by_role("button", name="Mend", exact=True).click()
    expect(shown(page, re.compile("Mend the week"))).to_be_visible()
    expect(page.get_by_role("gridcell", name=f"{person}, Tue 1 Dec: away, sick, 0 jobs")).to_be_visible()
    expect(page.get_by_text(re.compile("of work without anybody"))).to_have_count(0)
    page.keyboard.press("z")
    expect(shown(page, re.compile("Undo: Mend the week"))).to_be_visible()


def test_the_parameters_of_the_engine_are_set_and_kept(open_as: Open) -> None:
    page = open_as("sven", "balance")
    page.get_by_role("link", name="Set-up").click()
    page.get_by_label("Price of overtime").fill("35")
    page.get_by_role("button", name="Save").click()
    expect(shown(page, "Saved.")).to_be_visible()
    page.reload()
    expect(page.get_by_label("Price of overtime")).to_have_value("35")
    expect(page.get_by_role("button", name="Save")).to_be_disabled()


def test_shortcuts_are_listed_and_single_letters_can_be_switched_off(open_as: Open) -> None:
    page = open_as("sven", "balance")
    page.keyboard.press("?")
    dialog = page.get_by_role("dialog", name="Keyboard")
    expect(dialog.get_by_text("Build the week")).to_be_visible()
    letters = dialog.get_by_role("switch")
    letters.click()
    if letters.is_checked():  # a click on what is still being drawn is no click
        letters.click()
    expect(letters).not_to_be_checked()
    page.keyboard.press("Escape")
    expect(dialog).not_to_be_visible()
    page.keyboard.press("b")
    expect(page.get_by_label("Seconds to search")).to_have_count(0)
    page.keyboard.press("Control+k")
    page.get_by_label("Command, job, person or asset").fill("build the")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Seconds to search")).to_be_visible()
