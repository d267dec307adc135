"""A planner makes a job plan, makes work of it, learns from what work took, and closes what is done."""

from __future__ import annotations

import re
from collections.abc import Iterator

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.ui.conftest import Open, running_demo, shown

pytestmark = pytest.mark.screen


@pytest.fixture(scope="module")
def address(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    """A world with two years of done work."""
    yield from running_demo(tmp_path_factory, past=True)


def library(page: Page) -> None:
    page.get_by_role("navigation", name="Sections").get_by_role("link", name="Work", exact=True).click()
    page.get_by_role("navigation", name="Work").get_by_role("link", name="Job plans").click()
    page.get_by_role("grid", name="Job plans").get_by_role("row").nth(1).wait_for()


def fill_craft(form: Locator, word: str) -> None:
    """The craft of task 10, typed, and told which it is."""
    form.get_by_role("combobox", name="Craft of task 10").fill(word)
    craft = form.locator("label").filter(has=form.page.get_by_role("combobox", name="Craft of task 10"))
    expect(craft.get_by_role("status").filter(has_text=re.compile("^→ "))).to_be_visible()


def test_a_plan_is_made_put_in_force_and_copied_into_a_wo_that_stays_free_to_change(open_as: Open) -> None:
    page = open_as("sven")
    library(page)
    page.keyboard.press("n")
    form = page.get_by_role("dialog", name="New job plan")
    form.get_by_label("Title").fill("Exchange anemometer mast")
    form.get_by_label("For assets with one of these words").fill("towers")
    form.get_by_label("What of task 10").fill("Take the old one down")
    form.get_by_label("Hours of task 10").fill("1:30")
    fill_craft(form, "rig")
    form.get_by_role("button", name="One more task").click()
    form.get_by_label("What of task 20").fill("Set the new one")
    form.get_by_label("Hours of task 20").fill("2")
    form.get_by_label("What of task 20").press("Alt+ArrowUp")
    expect(form.get_by_label("What of task 10")).to_have_value("Set the new one")
    expect(form.get_by_label("What of task 10")).to_be_focused()
    form.get_by_label("What of task 10").press("Alt+ArrowDown")
    expect(form.get_by_label("What of task 10")).to_have_value("Take the old one down")
    expect(form.get_by_role("img", name=re.compile("2 tasks over 3.5 h; .* 10, 20"))).to_be_visible()
    form.get_by_role("button", name="Make the plan").click()
    side = page.get_by_role("complementary", name="The job plan")
    expect(side.get_by_text("◇ being written")).to_be_visible()
    expect(side.get_by_text("3.5 h of work, 3.5 h from first to last")).to_be_visible()
    number = side.get_by_text(re.compile(r"^JP-\d+$")).inner_text()
    side.get_by_role("button", name="Put in force").click()
    expect(side.get_by_text("✓ in force")).to_be_visible()

    page.goto("/week/2026-W49/gather")
    page.get_by_role("grid", name="Backlog").wait_for()
    page.keyboard.press("w")
    wo = page.get_by_role("dialog", name="New WO")
    wo.get_by_label("Asset", exact=True).fill("larch towers")
    wo.get_by_label("From a job plan").fill("anemometer")
    expect(wo.get_by_text(re.compile("^→ Exchange anemometer mast"))).to_be_visible()
    wo.get_by_role("button", name="Copy it in").click()
    expect(wo.get_by_label("What of task 20")).to_have_value("Set the new one")
    expect(wo.get_by_label("Title")).to_have_value("Exchange anemometer mast")
    wo.get_by_label("Hours of task 20").fill("4")
    wo.get_by_role("button", name="Make the WO").click()
    expect(page.get_by_role("dialog", name="New WO")).to_be_hidden()

    page.goto(f"/work/plans?open={number}")
    side.get_by_role("button", name="Change").click()
    form = page.get_by_role("dialog", name=number)
    form.get_by_label("Hours of task 10").fill("2")
    form.get_by_role("button", name="Save as the next edition").click()
    expect(side.get_by_text("Task 10, hours: 1.5 → 2")).to_be_visible()
    expect(side.get_by_text("edition 2")).to_be_visible()


def test_a_wo_says_that_its_plan_has_a_newer_edition_and_is_refreshed_on_request(open_as: Open) -> None:
    page = open_as("sven")
    page.goto("/week/2026-W49/gather?find=anemometer")
    rows = page.get_by_role("grid", name="Backlog").get_by_role("row")
    rows.nth(1).click()
    page.get_by_role("complementary").get_by_role("button", name=re.compile("^Change")).first.click()
    wo = page.get_by_role("dialog", name=re.compile(r"^WO-\d+$"))
    expect(wo.get_by_text(re.compile("edition 1; now edition 2, 1 difference"))).to_be_visible()
    expect(wo.get_by_label("Hours of task 20")).to_have_value(re.compile("^4"))
    wo.get_by_role("button", name="Refresh from the plan").click()
    expect(wo.get_by_label("Hours of task 10")).to_have_value(re.compile("^2"))
    expect(wo.get_by_label("Hours of task 20")).to_have_value(re.compile("^2"))
    wo.get_by_role("button", name="Save").click()
    expect(wo).to_be_hidden()


def test_a_plan_that_is_off_says_so_and_takes_over_what_its_uses_suggest(open_as: Open) -> None:
    page = open_as("sven")
    library(page)
    page.keyboard.press("/")
    page.keyboard.type("chair inspection")
    page.keyboard.press("Escape")
    rows = page.get_by_role("grid", name="Job plans").get_by_role("row")
    expect(rows).to_have_count(2)
    expect(rows.nth(1)).to_contain_text("▲")
    page.keyboard.press("Enter")
    side = page.get_by_role("complementary", name="The job plan")
    expect(side.get_by_text("▲ off by more than a third").first).to_be_visible()
    expect(side.get_by_role("img", name=re.compile("^12 uses, .* planned 9 h$"))).to_be_visible()
    side.get_by_role("button", name="Plan all 3 as suggested").click()
    expect(side.get_by_text("edition 2")).to_be_visible()
    expect(side.get_by_role("button", name=re.compile("^Plan "))).to_have_count(0)


def test_a_reader_sees_plans_and_can_change_none(open_as: Open) -> None:
    page = open_as("rene", "run")
    page.goto("/work/plans?open=JP-1002")
    side = page.get_by_role("complementary", name="The job plan")
    expect(side.get_by_text("✓ in force")).to_be_visible()
    expect(side.get_by_role("button", name="Change")).to_have_count(0)
    expect(page.get_by_role("button", name=re.compile("New plan"))).to_have_count(0)


def test_the_desk_tells_hours_of_each_stage_and_which_crafts_soon_stand_idle(open_as: Open) -> None:
    page = open_as("sven")
    library(page)
    page.get_by_role("navigation", name="Work").get_by_role("link", name="Planning desk").click()
    expect(shown(page, re.compile(r"^◆ Under 2 weeks of ready work: .*Electrician"))).to_be_visible()
    row = page.get_by_role("row", name=re.compile("^Electrician"))
    expect(
        row.get_by_role("img", name=re.compile(r"2026-W47: .* h placed, .* h ready, .* finished$"))
    ).to_be_visible()
    expect(shown(page, "WOs being planned")).to_be_visible()
    page.get_by_role("link", name=re.compile("new requests$")).click()
    expect(page.get_by_role("grid", name="Requests")).to_be_visible()


def test_what_is_done_is_tried_closed_and_charged_and_taken_back(open_as: Open) -> None:
    page = open_as("sven")
    page.goto("/lists/work orders")
    rows = page.get_by_role("grid", name="Work orders").get_by_role("row")
    rows.nth(1).wait_for()
    page.get_by_role("button", name="State: filter and more").click()
    page.get_by_role("checkbox", name="done", exact=True).check()
    page.keyboard.press("Escape")
    page.keyboard.press("/")
    page.keyboard.type("W26")
    page.keyboard.press("Escape")
    expect(rows.nth(1)).to_contain_text(re.compile("W26-.*done"))
    rows.nth(1).get_by_role("checkbox").check()
    rows.nth(2).get_by_role("checkbox").check()
    page.get_by_role("button", name="Close …").click()
    trial = page.get_by_role("dialog", name="Close and charge")
    expect(trial.get_by_text(re.compile(r"^2 WOs would be charged CHF .* planned"))).to_be_visible()
    expect(trial.get_by_text(re.compile(r"^4\d00-")).first).to_be_visible()
    trial.get_by_role("button", name="Close 2 WOs").click()
    closed = page.get_by_role("dialog", name="Closed and charged")
    expect(closed.get_by_text(re.compile("^2 WOs cost CHF"))).to_be_visible()
    closed.get_by_role("button", name="Take it back").click()
    expect(shown(page, "2 WOs done again, nothing charged")).to_be_visible()
    expect(closed).to_be_hidden()


def test_a_task_says_how_it_is_done_what_is_checked_and_who_comes_from_outside(open_as: Open) -> None:
    page = open_as("sven")
    page.keyboard.press("w")
    wo = page.get_by_role("dialog", name="New WO")
    wo.get_by_label("Title").fill("Look at the counterweight")
    wo.get_by_label("Asset", exact=True).fill("larch towers")
    wo.get_by_label("Hours of task 10").fill("2")
    fill_craft(wo, "mech")
    wo.get_by_label("What of task 10").fill("Measure and listen")
    wo.get_by_text("More of task 10").click()
    wo.get_by_label("How task 10 is done").fill("Never stand below it")
    tools = wo.get_by_role("combobox", name="Tools and vehicles")
    tools.fill("platform")
    tools.press("Enter")
    expect(wo.get_by_role("button", name="Take Work platform off")).to_be_visible()
    wo.get_by_role("button", name="People of another firm").click()
    wo.get_by_label("Contract for task 10").fill("Seilbau Ost")
    wo.get_by_label("Cost of an hour for task 10").fill("95")
    wo.get_by_role("button", name="One more to check").click()
    wo.get_by_label("Check 1 of task 10", exact=True).fill("Gap")
    wo.get_by_label("How check 1 of task 10 is answered").select_option("a number")
    wo.get_by_label("Unit of check 1 of task 10").fill("mm")
    wo.get_by_label("Lowest of check 1 of task 10").fill("40")
    wo.get_by_label("Highest of check 1 of task 10").fill("20")
    expect(wo.get_by_text("Gap: the lower limit lies above the upper one")).to_be_visible()
    wo.get_by_label("Lowest of check 1 of task 10").fill("20")
    wo.get_by_label("Highest of check 1 of task 10").fill("40")
    wo.get_by_label("Check 1 of task 10", exact=True).press("Enter")
    page.keyboard.type("Noise")
    wo.get_by_label("How check 2 of task 10 is answered").select_option("one of …")
    wo.get_by_label("Choices of check 2 of task 10").fill("none, loud")
    wo.get_by_role("checkbox", name="loud").check()
    expect(wo.get_by_role("status").filter(has_text="of work")).to_contain_text("CHF 358.00")
    wo.get_by_text("Permits and isolation").click()
    wo.get_by_label("Permits that it needs").fill("height")
    wo.get_by_label("Permits that it needs").press("Enter")
    wo.get_by_label("Isolation points").fill("Main switch Q1\nCatcher")
    wo.get_by_text("More of it").click()
    wo.get_by_label("Answerable crew or person").fill("North 1")
    wo.get_by_role("button", name="One more task").click()
    wo.get_by_label("What of task 20").fill("Write it down")
    wo.get_by_label("Hours of task 20").fill("0:30")
    wo.get_by_role("button", name="More of task 10", exact=True).click()
    page.get_by_role("menuitem", name="Its people and tools for the whole job").click()
    wo.get_by_text("More of task 20").click()
    expect(wo.get_by_role("button", name="Take Work platform off").last).to_be_visible()
    wo.get_by_role("button", name="Make the WO").click()
    expect(wo).to_be_hidden()

    page.keyboard.press("Control+k")
    page.get_by_label("Command, job, person or asset").fill("counterweight")
    page.get_by_role("option", name=re.compile("Look at the counterweight")).first.click()
    side = page.get_by_role("complementary")
    expect(side.get_by_text("1 of Seilbau Ost")).to_be_visible()
    expect(side.get_by_text("Main switch Q1 · Catcher")).to_be_visible()
    side.get_by_text("¶ How it is done").click()
    expect(side.get_by_text("Never stand below it")).to_be_visible()
    side.get_by_label("Gap").fill("12")
    side.get_by_label("Gap").press("Enter")
    expect(side.get_by_text("× out")).to_be_visible()
    side.get_by_role("button", name="Report it").click()
    expect(page.get_by_label("What did you see?")).to_have_value("Gap: 12 mm")
    expect(page.get_by_label("On which asset?")).to_have_value(re.compile("towers"))


def test_a_permit_is_asked_for_by_the_planner_and_given_by_operations(open_as: Open) -> None:
    page = open_as("sven")
    page.goto("/week/2026-W49/gather?find=counterweight")
    page.get_by_role("grid", name="Backlog").get_by_role("row").nth(1).click()
    permits = page.get_by_role("complementary").get_by_role("region", name="Permits")
    expect(permits.get_by_text("◆ needed")).to_be_visible()
    permits.get_by_role("button", name="Ask for it").click()
    expect(permits.get_by_text("◆ asked")).to_be_visible()
    number = page.url.split("job=")[1].split("&")[0]

    olivia = open_as("olivia")
    olivia.goto(f"/week/2026-W49/gather?job={number}")
    theirs = olivia.get_by_role("complementary").get_by_role("region", name="Permits")
    theirs.get_by_role("button", name="Refuse it").click()
    theirs.get_by_role("button", name="Refuse it").click()
    expect(theirs.get_by_role("alert")).to_contain_text("Say why it is refused")
    theirs.get_by_label("Remark").fill("Storm is forecast")
    theirs.get_by_role("button", name="Refuse it").click()
    expect(theirs.get_by_text("× refused")).to_be_visible()

    page.reload()
    expect(permits.get_by_text("Storm is forecast")).to_be_visible()
    permits.get_by_role("button", name="Ask for it").click()
    olivia.reload()
    theirs.get_by_role("button", name="Give it").click()
    theirs.get_by_label("Valid to").fill("4.12. 18:00")
    theirs.get_by_role("button", name="Give it").click()
    expect(theirs.get_by_text(re.compile("from Mon 30 Nov 06:00 to Fri 4 Dec 18:00"))).to_be_visible()
    page.reload()
    expect(permits.get_by_text("✓ given")).to_be_visible()


def test_what_does_not_hold_on_the_day_is_said_where_it_is_entered(open_as: Open) -> None:
    page = open_as("sven")
    page.goto("/setup")
    lists = page.get_by_role("region", name="Lists of the site")
    lists.get_by_role("button", name="Crafts").click()
    lists.get_by_role("button", name="Change rig").click()
    lists.get_by_label("valid from").fill("2027-03-01")
    lists.get_by_label("valid from").press("Enter")
    expect(lists.get_by_role("cell", name="2027-03-01")).to_be_visible()
    page.goto("/week/2026-W49/gather")
    page.get_by_role("grid", name="Backlog").wait_for()
    page.keyboard.press("w")
    wo = page.get_by_role("dialog", name="New WO")
    fill_craft(wo, "rigger")
    expect(wo.get_by_role("status", name="Does not hold on its day")).to_contain_text("from Mon 1 Mar")
    wo.get_by_label("Due").fill("1.4.2027")
    wo.get_by_label("Due").press("Tab")
    expect(wo.get_by_role("status", name="Does not hold on its day")).to_have_count(0)
    page.keyboard.press("Escape")


def test_the_whole_job_stands_on_one_page_and_a_reload_keeps_it_there(open_as: Open) -> None:
    page = open_as("sven")
    backlog = page.get_by_role("grid", name="Backlog")
    backlog.get_by_role("row").nth(1).click()
    page.get_by_role("button", name="On the whole page").click()
    expect(backlog).to_have_count(0)
    expect(page).to_have_url(re.compile("wide=job"))
    page.reload()
    for part in ("Tasks", "Costs", "Notes and files"):
        expect(page.get_by_role("heading", name=part, exact=True)).to_be_visible()
    expect(backlog).to_have_count(0)
    page.get_by_role("button", name="On the whole page").click()
    expect(backlog).to_be_visible()
