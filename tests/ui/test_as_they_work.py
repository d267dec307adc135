"""What schedulers, supervisors and operations met in a day's work. The tests of this file follow one another
on one week."""

from __future__ import annotations

import re
from collections.abc import Iterator

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.ui.conftest import Open, agreed, pick, published, running_demo, shown
from tests.ui.test_story import build

pytestmark = pytest.mark.screen
WEEK = "2026-W49"


@pytest.fixture(scope="module")
def address(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    """A world of their own: the stories begin with a week that nobody has touched."""
    yield from running_demo(tmp_path_factory)


def side(page: Page) -> Locator:
    return page.get_by_role("complementary")


def pick_a_tank(page: Page) -> Locator:
    tank = page.get_by_role("gridcell", name=re.compile("^Electrician, Wed 2 Dec"))
    tank.click()
    expect(side(page).get_by_role("heading", name="Electrician, Wed 2 Dec")).to_be_visible()
    return tank


def test_before_a_build_agree_shows_the_assets_on_which_work_waits(open_as: Open) -> None:
    page = open_as("olivia", "agree")
    expect(shown(page, "Larch gondola", exact=True)).to_be_visible()
    expect(page.get_by_text(re.compile(r"◆ \d+ waiting, [\d.]+ h")).first).to_be_visible()
    page.get_by_label("Find an asset").fill("saddle")
    expect(page.get_by_role("listitem")).to_have_count(3)
    page.get_by_label("Show").select_option("Where work waits")
    expect(page.get_by_role("listitem").first).to_contain_text("waiting")


def test_a_window_is_drawn_with_typed_times_and_what_can_not_be_read_is_refused_in_words(
    open_as: Open,
) -> None:
    page = open_as("sven", "agree")
    page.get_by_label("Find an asset").fill("nursery")
    page.keyboard.press("Enter")
    page.keyboard.press("v")
    form = page.get_by_role("form", name="Window")
    start, end = form.get_by_label("From", exact=True), form.get_by_label("To", exact=True)
    start.fill("2 Dec 20:15")
    end.fill("the evening")
    page.keyboard.press("Enter")
    expect(form.get_by_text(re.compile("“the evening” can not be read"))).to_be_visible()
    end.fill("22")
    page.keyboard.press("Tab")
    expect(start).to_have_value(re.compile(r"^Wed 2 Dec( 2026)? 20:15$"))
    expect(end).to_have_value(re.compile(r" 22:00$"))
    end.fill("2 Dec 22:30")
    page.keyboard.press("Enter")
    expect(shown(page, "Draw a run window of Nursery carpet on Wed 2 Dec 20:15")).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("must run Wed 2 Dec, 20:15–22:30"))).to_be_visible()
    page.keyboard.press("z")


def test_a_wo_keeps_the_date_that_was_typed_and_shows_its_asset_at_once(open_as: Open) -> None:
    page = open_as("sven", "gather")
    number = (
        page.get_by_role("grid", name="Backlog")
        .get_by_role("row")
        .nth(3)
        .get_by_role("gridcell")
        .nth(2)
        .inner_text()
    )
    page.goto(f"/week/{WEEK}/gather?job={number}")
    page.get_by_role("button", name="Change", exact=True).click()
    form = page.get_by_role("dialog", name=number)
    expect(form.get_by_label("Asset", exact=True)).not_to_have_value("")
    form.get_by_label("Not before").fill("1.12.")
    form.get_by_label("Due", exact=True).fill("Fri 4 Dec 2026 16:00")
    page.keyboard.press("Enter")
    expect(form).to_be_hidden()
    expect(side(page).get_by_text("not before Tue 1 Dec")).to_be_visible()
    expect(side(page).get_by_text(re.compile("due Fri 4 Dec"))).to_be_visible()


def test_a_wo_of_two_tasks_is_planned_from_the_keyboard_and_knows_no_code(open_as: Open) -> None:
    page = open_as("sven", "gather")
    page.get_by_role("grid", name="Backlog").wait_for()
    page.keyboard.press("w")
    form = page.get_by_role("dialog", name="New WO")
    for key in (
        "Change the rope guard", "Tab", "Tab", "larch gondola drive", "Tab", "Tab", "Tab",
        "Tab", "Tab", "Tab", "w50", "Tab", "Tab", "Tab", "Tab", "Tab", "Tab",
        "Tab", "Take it off", "Tab", "1:30", "Tab", "Tab", "2", "Tab", "mech", "Tab", "level 2", "Tab", "Tab",
    ):  # fmt: skip
        page.keyboard.press(key) if key == "Tab" else page.keyboard.type(key)
    page.keyboard.press("Enter")
    page.keyboard.type("elec")
    form.get_by_role("button", name="One more task").press("Enter")
    page.keyboard.type("Put it back")
    page.keyboard.press("Tab")
    page.keyboard.type("90m")
    expect(form.get_by_role("checkbox", name="task 10")).to_be_checked()
    form.get_by_label("Hours to wait after task 10 before task 20").fill("0:30")
    page.keyboard.press("Enter")
    expect(form).to_be_hidden()
    told = side(page)
    expect(told.get_by_role("heading", name="Change the rope guard")).to_be_visible()
    expect(told.get_by_text(re.compile("due Mon 7 Dec"))).to_be_visible()
    expect(told.get_by_text("2 ropeway mechanic level 2; 1 electrician")).to_have_count(2)
    expect(told.get_by_text(re.compile(r"after 10 \+ 0.5 h"))).to_be_visible()


def test_what_is_looked_at_comes_back_after_another_step_and_after_a_reload(open_as: Open) -> None:
    page = open_as("sven", "gather")
    page.get_by_role("grid", name="Backlog").wait_for()
    page.keyboard.press("/")
    page.keyboard.type("chair")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Must", exact=True).click()
    rows = page.get_by_role("grid", name="Backlog").get_by_role("row")
    expect(rows.nth(1)).to_contain_text("Chair inspection")
    page.keyboard.press("2")
    pick_a_tank(page)
    page.keyboard.press("1")
    expect(page.get_by_label("Search: the backlog")).to_have_value("chair")
    page.keyboard.press("2")
    expect(side(page).get_by_role("heading", name="Electrician, Wed 2 Dec")).to_be_visible()
    page.wait_for_url(re.compile("find=chair.*tank=elec"))
    page.reload()
    expect(side(page).get_by_role("heading", name="Electrician, Wed 2 Dec")).to_be_visible()
    page.get_by_role("link", name=re.compile("Gather")).click()
    expect(page.get_by_label("Search: the backlog")).to_have_value("chair")
    expect(page.get_by_role("button", name="Must", exact=True)).to_have_attribute("aria-pressed", "true")


def test_the_strip_the_list_and_the_build_say_the_same_number_of_ready_jobs(open_as: Open) -> None:
    page = open_as("sven", "gather")
    strip = page.get_by_role("link", name=re.compile(r"Gather \d+ ready"))
    expect(strip).to_be_visible()
    whole = strip.text_content()
    pick(page.get_by_label("Areas that I look at"), "Lake side")
    page.keyboard.press("Escape")
    expect(strip).not_to_have_text(whole)
    total = re.search(r"(\d+) ready", strip.inner_text())[1]
    page.get_by_role("button", name="Ready", exact=True).click()
    expect(shown(page, re.compile(f"^{total} jobs"))).to_be_visible()
    page.get_by_role("button", name="Build").click()
    expect(shown(page, f"{total} jobs are offered")).to_be_visible()
    page.keyboard.press("Escape")
    pick(page.get_by_label("Areas that I look at"), "Lake side")
    expect(strip).to_have_text(whole)


def test_a_job_goes_to_a_day_of_next_week_whose_board_shows_it_at_once(open_as: Open) -> None:
    page = open_as("sven", "balance")
    build(page)
    page.get_by_role("button", name="Accept").click()
    expect(shown(page, re.compile("at least .* of what any schedule could hold"))).to_be_visible()
    pick_a_tank(page)
    job = page.locator(".job .soft").first.inner_text().split(" ")[0]
    side(page).get_by_role("button", name="Move to").click()
    expect(page.get_by_role("menuitem", name="Next week")).to_be_visible()
    for _ in range(5):  # the menu may still be moving under the pointer
        page.mouse.move(600, 400)
        page.get_by_role("menuitem", name="Next week").hover()
        page.wait_for_timeout(300)
        if page.get_by_role("menuitem", name="Wed 9 Dec").is_visible():
            break
    page.get_by_role("menuitem", name="Wed 9 Dec").click()
    expect(shown(page, f"Move {job} to Wed 9 Dec")).to_be_visible()
    page.get_by_role("button", name="Open 2026-W50").click()
    expect(page.get_by_role("heading", name="2026-W50")).to_be_visible()
    page.get_by_role("gridcell", name=re.compile("Wed 9 Dec.*[1-9] job")).first.click()
    expect(side(page).get_by_text(job)).to_be_visible()
    page.goto(f"/week/{WEEK}/balance")
    expect(page.get_by_role("gridcell").first).to_be_visible()
    page.keyboard.press("z")
    expect(shown(page, f"Undo: Move {job} to Wed 9 Dec")).to_be_visible()


def test_a_job_moved_from_a_tank_takes_its_other_tasks_along_and_breaks_no_order(open_as: Open) -> None:
    page = open_as("sven", "balance")
    pick_a_tank(page)
    side(page).get_by_role("button", name="Move to").click()
    page.get_by_role("menuitem", name="Sat 5 Dec", exact=True).click()
    expect(shown(page, re.compile("Move WO-.* to Sat 5 Dec"))).to_be_visible()
    page.keyboard.press("3")
    expect(side(page).get_by_text("earlier day")).to_have_count(0)
    page.keyboard.press("z")


def test_the_buttons_of_a_long_tank_stay_in_reach(open_as: Open) -> None:
    page = open_as("sven", "balance")
    page.get_by_role("gridcell", name=re.compile("^Ropeway mechanic, Mon 30 Nov")).click()
    page.locator(".job").last.scroll_into_view_if_needed()
    expect(side(page).get_by_role("button", name="Move to")).to_be_in_viewport()


def test_in_a_days_zoom_two_people_on_one_task_stand_under_each_other(open_as: Open) -> None:
    page = open_as("sven", "crew")
    page.get_by_role("columnheader", name=re.compile("Tue 1 Dec")).get_by_role("button").click()
    expect(page.get_by_role("button", name="1 day", pressed=True)).to_be_visible()
    where: dict[str, set[float]] = {}
    for block in page.locator(".clockline .block:not(.away)").all():
        where.setdefault(block.get_attribute("title") or "", set()).add(round(block.bounding_box()["x"]))
    shared = [xs for xs in where.values() if len(xs) >= 1]
    assert shared and all(len(xs) == 1 for xs in shared)
    assert len(where) < page.locator(".clockline .block:not(.away)").count(), "some task has two people"
    expect(page.locator(".ruler span").first).to_have_text("06")


def test_hours_away_show_each_reason(open_as: Open) -> None:
    page = open_as("sven", "crew")
    cell = page.get_by_role("gridcell", name=re.compile("^Marit Solberg, Tue 1 Dec"))
    cell.click()
    for reason, start, end in (("training", "08:00", "10:00"), ("leave", "13", "14")):
        page.keyboard.press("h")
        form = page.get_by_role("form", name="Hours by hand")
        form.get_by_label("From").fill(start)
        form.get_by_label("To", exact=True).fill(end)
        form.get_by_label("Reason").select_option(reason)
        form.get_by_role("button", name="Write it down").click()
        expect(form).to_be_hidden()
    expect(cell.locator(".block.away")).to_have_text(["training", "leave"])
    expect(side(page).get_by_text(re.compile("away for a part: training and leave"))).to_be_visible()


def test_work_given_to_others_says_to_whom_it_went_and_what_is_left(open_as: Open) -> None:
    page = open_as("sven", "crew")
    page.get_by_role("gridcell", name=re.compile("^Marit Solberg, Wed 2 Dec")).click()
    page.keyboard.press("s")
    expect(side(page).get_by_text(re.compile("of work without anybody"))).to_be_visible()
    page.keyboard.press("c")
    told = page.get_by_text(
        re.compile(r"Give \d+ of \d+ seats of Marit Solberg on Wed 2 Dec|Nobody can take any work of Marit")
    )
    expect(told.first).to_be_visible()


def test_a_click_on_a_wo_number_in_run_opens_the_job_and_the_order_of_tasks_holds(open_as: Open) -> None:
    page = open_as("sven", "agree")
    agreed(page)
    page.keyboard.press("5")
    published(page)
    page.keyboard.press("6")
    table = page.get_by_role("grid", name="Tasks of the week")
    ends = table.get_by_role("row").filter(has_text=re.compile(r"\b30 Put back"))
    open_job = ends.filter(has_not_text="✓ done").first.get_by_role("button", name=re.compile("^WO-"))
    number = open_job.inner_text()
    last = ends.filter(has=page.get_by_role("button", name=number, exact=True))
    open_job.click()
    expect(side(page).get_by_role("heading", name="In the week")).to_be_visible()
    last.get_by_role("checkbox").check()
    page.keyboard.press("e")
    expect(shown(page, re.compile("comes after task"))).to_be_visible()
    expect(last).not_to_contain_text("done")
    page.get_by_role("button", name="Take them along").click()
    expect(last).to_contain_text("✓ done")


def test_hours_after_midnight_say_their_calendar_day(open_as: Open) -> None:
    page = open_as("sven", "run")
    page.get_by_role("button", name="Tue 1", exact=True).click()
    rows = page.get_by_role("grid", name="Tasks of the week").get_by_role("row")
    rows.nth(1).wait_for()
    page.keyboard.press("End")
    expect(rows.filter(has_text=re.compile(r"Tue 1\s*Wed 0[0-5]:\d\d")).first).to_be_visible()
    hours = [re.search(r"(Wed )?(\d\d:\d\d)", r.inner_text()) for r in rows.all()[1:]]
    told = [(found[1] is not None, found[2]) for found in hours if found]
    assert told == sorted(told), "in the order of time"


def test_each_role_begins_where_its_work_is(open_as: Open, page: Page, address: str) -> None:
    for name, step in (("olivia", "agree"), ("rene", "publish"), ("karl", "run")):
        mine = open_as(name, "gather")
        mine.goto(address)
        mine.wait_for_url(re.compile(f"/week/2026-W4[89]/{step}"))


@pytest.mark.parametrize("step", ["run", "gather", "balance", "agree", "crew", "publish"])
def test_on_a_narrow_screen_nothing_overlaps_and_nothing_runs_out_of_sight(open_as: Open, step: str) -> None:
    page = open_as("karl", step)
    page.set_viewport_size({"width": 390, "height": 844})
    expect(page.get_by_role("navigation", name="Steps of the week")).to_be_visible()
    for _ in range(100):  # a page that refuses to evaluate texts can not be waited upon in the browser
        if page.evaluate("document.documentElement.scrollWidth") <= 390:
            break
        page.wait_for_timeout(100)
    parts = [page.locator(s).bounding_box() for s in (".weekhead", ".strip", ".split", ".rail")]
    for above, below in zip(parts, parts[1:], strict=False):
        assert above["y"] + above["height"] <= below["y"] + 1
    heads = [c.bounding_box() for c in page.locator(".weekhead > *").all() if c.is_visible()]
    for n, a in enumerate(heads):
        for b in heads[n + 1 :]:
            apart = a["x"] + a["width"] <= b["x"] + 1 or b["x"] + b["width"] <= a["x"] + 1
            assert apart or a["y"] + a["height"] <= b["y"] + 1 or b["y"] + b["height"] <= a["y"] + 1


def test_a_supervisor_reports_from_a_telephone(open_as: Open) -> None:
    page = open_as("karl", "run")
    page.set_viewport_size({"width": 390, "height": 844})
    page.get_by_role("button", name="Thu 3", exact=True).click()
    rows = page.get_by_role("grid", name="Tasks of the week").get_by_role("row")
    expect(rows.filter(has_text="Mon 30")).to_have_count(0)
    row = rows.filter(has_text=re.compile(r"\b10 ")).first
    row.get_by_role("button", name="Start").click()
    expect(row).to_contain_text("under way")
    row.get_by_role("button", name="Done").click()
    expect(row).to_contain_text("✓ done")


def test_a_closed_week_is_opened_again_by_an_administrator(open_as: Open) -> None:
    page = open_as("sven", "run")
    page.keyboard.press("l")
    drawer = page.get_by_role("dialog", name="Close week 49")
    expect(drawer.get_by_role("button", name="Close the week")).to_be_disabled()
    drawer.get_by_label("Reason for many").select_option("no time left")
    drawer.get_by_label("Close it all the same").check()
    drawer.get_by_role("button", name="All back").click()
    drawer.get_by_role("button", name="Close the week").click()
    expect(shown(page, "closed: can only be read")).to_be_visible(timeout=120_000)
    expect(page.get_by_role("button", name="Open again")).to_have_count(0)
    page = open_as("ada", "run")
    page.get_by_role("button", name="Open again").click()
    page.get_by_label("Why it is opened again").fill("closed by mistake")
    page.get_by_role("button", name="Open it").click()
    expect(page.get_by_text("closed: can only be read")).to_be_hidden()
    expect(shown(page, re.compile("Open the week again: closed by mistake"))).to_be_visible()
