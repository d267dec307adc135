"""The week by hand: days from any first one, load by crew and person, work given, days away, reports. The
tests of this file follow one another on one week."""

from __future__ import annotations

import io
import re
from collections.abc import Iterator
from pathlib import Path

import pypdf
import pytest
from playwright.sync_api import Locator, Page, expect

from tests.ui.conftest import NOTHING_PLACED, Open, pick, running_demo, shown
from tests.ui.test_story import build

pytestmark = pytest.mark.screen


@pytest.fixture(scope="module")
def address(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    """A world of their own: the stories begin with a week that nobody has touched."""
    yield from running_demo(tmp_path_factory)


def side(page: Page) -> Locator:
    return page.get_by_role("complementary")


def told(page: Page, words: str | re.Pattern[str]) -> None:
    expect(page.get_by_text(words).first).to_be_visible()


def test_a_job_goes_in_on_a_day_at_a_time_and_to_a_person_by_name_alone(open_as: Open) -> None:
    page = open_as("sven", "gather")
    page.get_by_role("grid", name="Backlog").wait_for()
    build(page)
    page.get_by_role("button", name=re.compile("^Accept")).click()
    # a page that is left at once takes back what it asks for
    placed = page.get_by_role("link", name=re.compile("Balance .*of hours placed"))
    expect(placed).not_to_have_text(NOTHING_PLACED)
    page.goto("/week/2026-W49/gather?find=pump")
    rows = page.get_by_role("grid", name="Backlog").get_by_role("row")
    rows.nth(1).wait_for()
    page.keyboard.press("Escape")
    for n in range(1, 12):
        rows.nth(n).click()
        put = side(page).get_by_role("form", name=re.compile("on a day$"))
        out = side(page).get_by_role("button", name="Take out")
        expect(put.or_(out).first).to_be_visible()
        if put.is_visible():
            break
    put.get_by_label("Day").select_option(label="Wed 2 Dec")
    put.get_by_label("Start").fill("9:30")
    put.get_by_role("button", name="On this day").click()
    told(page, re.compile(r"^Put WO-\d+ in on Wed 2 Dec at 09:30"))
    expect(side(page).get_by_text(re.compile("Wed 2 Dec, 09:30–")).first).to_be_visible()
    page.keyboard.press("z")


def test_boards_begin_on_any_day_and_what_is_done_there_is_done_in_the_week_of_that_day(
    open_as: Open,
) -> None:
    page = open_as("sven", "balance")
    board = page.get_by_role("grid", name="Hours by craft and day")
    expect(board.get_by_role("columnheader").nth(1)).to_have_text("Mon 30 Nov")
    page.get_by_role("button", name=re.compile("30 Nov – 6 Dec")).click()
    page.get_by_label("First day of the board").fill("3.12.")
    page.keyboard.press("Enter")
    expect(board.get_by_role("columnheader").nth(1)).to_have_text("Thu 3 Dec")
    page.keyboard.press(".")
    expect(board.get_by_role("columnheader").nth(7)).to_have_text("Thu 10 Dec")
    page.get_by_role("gridcell", name=re.compile("^Ropeway mechanic, Fri 4 Dec")).click()
    first = side(page).locator(".job button").first
    number = re.search(r"WO-\d+", first.inner_text()).group()  # type: ignore[union-attr]
    side(page).get_by_role("button", name="Move to ▾").click()
    page.get_by_role("menuitem", name=re.compile("Tue 8 Dec")).first.click()
    told(page, f"Move {number} to Tue 8 Dec")
    page.get_by_role("gridcell", name=re.compile("^Ropeway mechanic, Tue 8 Dec")).click()
    expect(side(page).get_by_text(number)).to_be_visible()
    expect(page).to_have_url(re.compile("tank=mech%7E2026-12-08"))
    page.reload()
    expect(board.get_by_role("columnheader").nth(1)).to_have_text("Fri 4 Dec")
    expect(side(page).get_by_role("heading", name="Ropeway mechanic, Tue 8 Dec")).to_be_visible()


def test_load_is_seen_by_crew_and_by_person_and_folds_back(open_as: Open) -> None:
    page = open_as("sven", "balance")
    page.keyboard.press("l")
    board = page.get_by_role("grid", name="Hours by crew and day")
    expect(board.get_by_role("rowheader", name=re.compile("Middle 1"))).to_be_visible()
    board.get_by_role("button", name=re.compile("Middle 1")).click()
    expect(board.get_by_role("rowheader", name=re.compile("Marit Solberg"))).to_be_visible()
    page.get_by_role("gridcell", name=re.compile("^Marit Solberg, Tue 1 Dec: [0-9.]+ h free")).click()
    expect(side(page).get_by_role("heading", name="Marit Solberg")).to_be_visible()
    page.keyboard.press("r")
    expect(board.get_by_role("rowheader", name=re.compile("Marit Solberg"))).to_be_hidden()
    page.keyboard.press("l")
    expect(page.get_by_role("grid", name="Hours by craft and day")).to_be_visible()


def test_one_persons_days_are_a_list_and_a_sheet_and_days_away_are_one_gesture(open_as: Open) -> None:
    page = open_as("sven", "crew")
    page.get_by_role("button", name="Marit Solberg").click()
    expect(side(page).get_by_role("heading", name=re.compile("^Mon 30 Nov"))).to_be_visible()
    with page.expect_download() as got:
        side(page).get_by_role("link", name="Sheet of these days").click()
    text = "".join(p.extract_text() for p in pypdf.PdfReader(io.BytesIO(got.value.path().read_bytes())).pages)
    assert "Marit Solberg" in text and "Mon 30 Nov to Sun 6 Dec" in text
    page.keyboard.press("a")
    form = side(page).get_by_role("form", name="Away")
    form.get_by_label("From", exact=True).fill("2 Dec")
    form.get_by_label("To", exact=True).fill("4 Dec")
    form.get_by_label("Reason").select_option("leave")
    page.keyboard.press("Enter")
    told(page, "Marit Solberg is away from Wed 2 Dec to Fri 4 Dec")
    open_work = side(page).get_by_role("region", name="Falls open")
    expect(open_work).to_contain_text("of work without anybody, Wed 2 Dec to Fri 4 Dec")
    open_work.get_by_role("button", name="Open the seats").click()
    told(page, "Open the seats of Marit Solberg from Wed 2 Dec to Fri 4 Dec")
    expect(open_work).to_be_hidden()


def test_a_selection_is_given_to_a_crew_with_hours_and_breaks_seen_first(open_as: Open) -> None:
    page = open_as("sven", "balance")
    page.get_by_role("gridcell", name=re.compile("^Ropeway mechanic, Wed 2 Dec")).click()
    side(page).locator(".job").first.wait_for()
    for key in "xjxjxjx":
        page.keyboard.press(key)
    page.keyboard.press("g")
    panel = page.get_by_role("dialog", name="Give 4 jobs")
    give = panel.get_by_role("button", name=re.compile("^Give [0-9]+ seat"))
    despite = panel.get_by_role("checkbox", name=re.compile("^give all the same"))
    for crew in ("middle 1, crew", "north 1, crew", "lake 1, crew"):
        panel.get_by_label("To whom").fill(crew)
        expect(give.or_(panel.get_by_text(re.compile("would stay$"))).first).to_be_visible()
        if give.is_visible():
            break
        if despite.is_visible():
            despite.check()
            give.wait_for()
            break
    expect(panel.get_by_role("table", name="Hours by day")).to_be_visible()
    page.keyboard.press("Enter")
    told(page, re.compile(r"^Give \d+ seats? to crew"))
    expect(panel).to_be_hidden()
    page.keyboard.press("z")
    told(page, re.compile("Undo"))


def test_crew_and_agree_spread_out_three_days_or_one_with_an_hour_ruler(open_as: Open) -> None:
    page = open_as("sven", "crew")
    heads = page.get_by_role("grid", name="People by day").get_by_role("columnheader")
    expect(heads).to_have_count(8)
    page.keyboard.press("Shift+D")
    expect(heads).to_have_count(4)
    page.get_by_role("button", name="Days after").click()
    expect(heads.nth(1)).to_contain_text("Thu 3 Dec")
    page.keyboard.press("3")
    expect(page.locator(".agree").get_by_text("Thu 3 Dec", exact=True)).to_be_visible()
    expect(page.get_by_text("Mon 30", exact=True)).to_be_hidden()
    page.keyboard.press("d")
    expect(page.locator(".agree .tick", has_text="13")).to_be_visible()
    page.keyboard.press("d")
    expect(shown(page, "Mon 30", exact=True)).to_be_visible()


def test_many_tasks_are_reported_at_once_with_hours_by_person(open_as: Open) -> None:
    page = open_as("sven", "run")
    rows = page.get_by_role("grid", name="Tasks of the week").get_by_role("row")
    rows.nth(1).wait_for()
    page.keyboard.press(" ")
    page.keyboard.press("ArrowDown")
    page.keyboard.press(" ")
    page.keyboard.press("r")
    panel = page.get_by_role("dialog", name="Report 2 tasks")
    for hours in panel.get_by_role("group").first.get_by_label(re.compile("^Hours of ")).all():
        hours.fill("1:45")
    panel.get_by_label(re.compile("went$")).nth(1).select_option("in part")
    panel.get_by_label(re.compile("^Hours left of")).fill("90m")
    panel.get_by_role("button", name="Report 2 tasks").click()
    told(page, "2 tasks are reported")
    expect(rows.filter(has_text="1.75 of")).not_to_have_count(0)
    expect(rows.filter(has_text="under way")).not_to_have_count(0)


def test_a_list_of_bare_letters_dates_and_capitals_comes_in_with_new_assets_listed_before(
    open_as: Open, tmp_path: Path
) -> None:
    page = open_as("sven")
    file = tmp_path / "old.csv"
    lines = [f"{n % 28 + 1:02}.05.2026;{'XYZ'[n % 3]};REPLACE SEAL {n};K;{n}.50" for n in range(60)]
    file.write_text("\n".join(["DAY;MCH;TXT;TYP;CST", *lines]))
    page.get_by_role("link", name="Files").click()
    page.set_input_files("input[type=file]", file)
    reading = side(page)
    expect(reading.get_by_text("2 columns to choose")).to_be_visible()
    reading.get_by_label("Hours if missing", exact=True).fill("1:30")
    pick(reading.get_by_label("Craft if missing"), "mech")
    new = reading.get_by_role("region", name="New here")
    new.get_by_role("checkbox", name="make the 3 unknown assets").check()
    pick(new.get_by_label("Area of new assets"), "north")
    expect(new).to_contain_text("3 assets will be made")
    pick(reading.get_by_label("kind of work K means"), "corrective")
    page.get_by_role("button", name="Compare with what is here").click()
    differs = page.get_by_role("grid", name="What differs")
    expect(differs.get_by_role("row").filter(has_text=re.compile("^made|made asset"))).to_have_count(3)
    page.get_by_role("button", name="Bring in").click()
    told(page, re.compile("60 new WOs.* 3 assets, areas and crafts made"))
    page.goto("/week/2026-W49/gather?find=replace%20seal%207")
    page.get_by_role("grid", name="Backlog").get_by_role("row").nth(1).click()
    expect(side(page).get_by_text(re.compile("≈ Guessed: "))).to_contain_text("craft")


def test_an_asset_is_chosen_in_the_tree_and_back_leads_to_what_was_typed(open_as: Open) -> None:
    page = open_as("sven", "gather")
    page.get_by_role("grid", name="Backlog").wait_for()
    page.keyboard.press("w")
    form = page.get_by_role("dialog", name="New WO")
    form.get_by_label("Title").fill("Look at the hinge")
    form.get_by_role("button", name="Tree").click()
    tree = page.get_by_role("dialog", name="Which asset?")
    tree.get_by_label("Find in the tree").fill("larch cabins")
    expect(tree.get_by_text("Larch gondola · N1")).to_be_visible()
    page.keyboard.press("Enter")
    expect(form.get_by_label("Asset", exact=True)).to_have_value(re.compile("Larch gondola, cabins"))
    form.get_by_role("button", name="Tree").click()
    page.keyboard.press("Escape")
    expect(form.get_by_label("Title")).to_have_value("Look at the hinge")
    expect(form.get_by_label("Asset", exact=True)).to_have_value(re.compile("Larch gondola, cabins"))
