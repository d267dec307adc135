"""Preventive work from a plan to the WO in the week, by keyboard; what falls due, and what it becomes."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.ui.conftest import Open, shown

pytestmark = pytest.mark.screen


def services(page: Page) -> None:
    sections = page.get_by_role("navigation", name="Sections")
    sections.get_by_role("link", name="Preventive", exact=True).click()
    page.get_by_role("grid", name="Services").get_by_role("row").nth(1).wait_for()


def test_a_plan_is_made_while_what_comes_next_is_drawn_started_and_raised_into_the_backlog(
    open_as: Open,
) -> None:
    page = open_as("sven")
    services(page)
    page.keyboard.press("n")
    form = page.get_by_role("dialog", name="New preventive plan")
    form.get_by_label("Title").fill("Counterweight care")
    form.get_by_label("Job plan").fill("brake test")
    assets = form.get_by_role("combobox", name="On these assets")
    assets.fill("larch gondola, drive")
    assets.press("Enter")
    form.get_by_label("Name of rung 1").fill("monthly")
    form.get_by_role("button", name="A higher rung").click()
    form.get_by_label("Name of rung 2").fill("yearly")
    form.get_by_label("Unit of rung 2").select_option("year")
    form.get_by_label("Last done on").fill("20.10.2026")
    form.get_by_label("Last done on").press("Tab")
    form.get_by_role("checkbox", name="Task 20 in monthly").uncheck()
    form.get_by_label("One within").fill("7")
    coming = form.get_by_role("region", name="What comes next")
    expect(coming.get_by_text("Fri 20 Nov 2026")).to_be_visible()
    expect(coming.get_by_text("Wed 20 Oct 2027")).to_be_visible()
    form.get_by_role("button", name="Make the plan").click()
    side = page.get_by_role("complementary", name="The preventive plan")
    expect(side.get_by_text("◇ being written")).to_be_visible()
    side.get_by_role("button", name="Start it").click()
    expect(side.get_by_text("✓ running")).to_be_visible()
    expect(side.get_by_text("Fri 20 Nov")).to_be_visible()
    side.get_by_role("button", name="Raise it now").click()
    expect(side.get_by_role("link", name=re.compile(r"^WO-\d+$")).first).to_be_visible()
    side.get_by_role("link", name=re.compile(r"^WO-\d+$")).first.click()
    job = page.get_by_role("complementary")
    expect(job.get_by_role("heading", name="Counterweight care: monthly")).to_be_visible()
    expect(job.get_by_text("Static test")).to_be_visible()
    expect(job.get_by_text("Dynamic test")).to_have_count(0)


def test_gather_tells_what_falls_due_and_putting_off_past_tolerance_asks_why(open_as: Open) -> None:
    page = open_as("sven", "gather")
    page.get_by_role("button", name=re.compile(r"^\d+ services? due$")).click()
    panel = page.get_by_role("dialog", name=re.compile(r"fall due$"))
    panel.get_by_role("button", name="Put off").first.click()
    form = panel.get_by_role("form", name="Put off")
    form.get_by_label("Until").fill("30.11.2027")
    form.get_by_label("Until").press("Tab")
    form.get_by_role("button", name="Put it off").click()
    expect(form.get_by_role("alert")).to_contain_text("Say why it waits longer")
    form.get_by_label("Reason").fill("the part comes only then")
    form.get_by_role("button", name="Put it off").click()
    expect(shown(page, "It is due by Tue 30 Nov")).to_be_visible()


def test_what_is_due_is_raised_once(open_as: Open) -> None:
    page = open_as("sven")
    services(page)
    page.keyboard.press("r")
    expect(page.get_by_role("dialog", name=re.compile(r"^\d+ services? raised$"))).to_be_visible()
    page.keyboard.press("Escape")
    page.keyboard.press("r")
    expect(shown(page, "Nothing falls due within its notice.")).to_be_visible()


def test_the_forecast_shows_each_week_of_a_craft_and_what_falls_due_in_it(open_as: Open) -> None:
    page = open_as("rene", "run")
    page.get_by_role("navigation", name="Sections").get_by_role("link", name="Preventive").click()
    page.get_by_role("navigation", name="Preventive").get_by_role("link", name="Forecast").click()
    page.get_by_label("How far").select_option("A quarter")
    mech = page.get_by_role("region", name="Ropeway mechanic")
    mech.get_by_role("button", name=re.compile("^2026-W49")).click()
    week = page.get_by_role("region", name="2026-W49, Ropeway mechanic")
    expect(week.get_by_role("link", name=re.compile(r"^WO-\d+$")).first).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("^Accept"))).to_have_count(0)


def test_a_plan_is_held_on_one_asset_and_taken_up_again(open_as: Open) -> None:
    page = open_as("sven")
    page.goto("/preventive/services?open=PP-1001%20/%20any")
    side = page.get_by_role("complementary", name="The preventive plan")
    held = side.get_by_role("button", name="Hold it here")
    before = held.count() or (held.first.wait_for() or held.count())
    held.first.click()
    side.get_by_role("button", name="Take it up again").click()
    expect(held).to_have_count(before)


def tab(page: Page, name: str) -> None:
    page.get_by_role("navigation", name="Preventive").get_by_role("link", name=name).click()


def test_a_meter_is_read_and_what_can_not_be_right_is_refused(open_as: Open) -> None:
    page = open_as("karl", "run")
    page.goto("/preventive/meters")
    page.get_by_role("grid", name="Meters").get_by_text("H-fleet-n-1").click()
    side = page.get_by_role("complementary", name="The meter")
    expect(
        side.get_by_role("region", name="Falls due by it").get_by_text("Piste vehicle 500 h")
    ).to_be_visible()
    shows = side.get_by_label("It shows, in h")
    shows.fill("12")
    side.get_by_role("button", name="Read", exact=True).click()
    expect(side.get_by_role("alert")).to_contain_text("lies below")
    last = float(str(shows.get_attribute("placeholder")))
    shows.fill(str(last + 0.5))
    side.get_by_role("button", name="Read", exact=True).click()
    expect(side.get_by_role("region", name="Readings").get_by_text(f"{last + 0.5:g}")).to_be_visible()
    expect(page.get_by_role("button", name="New meter")).to_have_count(0)


def test_a_shutdown_shows_its_jobs_and_tells_what_would_move_before_it_does(open_as: Open) -> None:
    page = open_as("sven")
    services(page)
    tab(page, "Shutdowns")
    page.get_by_role("button", name="Autumn overhaul 2026").click()
    rows = page.get_by_role("table", name="Jobs along the days").get_by_role("row")
    rows.nth(1).wait_for()
    page.get_by_role("button", name="Change or move").click()
    panel = page.get_by_role("dialog", name="AUT-26")
    panel.get_by_label("First day").fill("16.11.2026")
    panel.get_by_label("First day").press("Tab")
    panel.get_by_label("Last day").fill("18.12.2026")
    panel.get_by_label("Last day").press("Tab")
    panel.get_by_role("button", name="What would move?").click()
    told = panel.get_by_role("region", name="What would move")
    expect(told.get_by_role("heading")).to_have_text(
        re.compile(r"^7 days later: \d+ WOs and \d+ services? move")
    )
    panel.get_by_role("button", name="Move it").click()
    expect(shown(page, "Mon 16 Nov to Fri 18 Dec 2026")).to_be_visible()


def test_a_day_of_the_month_is_picked_and_what_is_to_come_is_raised(open_as: Open) -> None:
    page = open_as("sven")
    services(page)
    tab(page, "Forecast")
    page.get_by_role("button", name="Month", exact=True).click()
    page.get_by_role("button", name="After").click()
    month = page.get_by_role("table", name="What falls due")
    month.get_by_text("□").first.wait_for()
    cell = month.get_by_role("cell").filter(has_text="□").first
    cell.get_by_role("button").first.click()
    side = page.get_by_role("complementary", name="What falls due, and what could move")
    side.get_by_role("checkbox").first.check()
    side.get_by_role("button", name="Raise the 1 chosen").click()
    expect(shown(page, re.compile(r"^WO-\d+ raised$"))).to_be_visible()


def test_the_record_tells_how_much_was_in_time(open_as: Open) -> None:
    page = open_as("rene", "run")
    page.goto("/preventive/services")
    tab(page, "Record")
    page.get_by_role("grid", name="What became of services").get_by_role("row").nth(1).wait_for()
    record = page.get_by_role("complementary", name="The record")
    expect(record.get_by_role("region", name="In time", exact=True)).to_be_visible()


def test_a_service_is_changed_where_it_stands_in_the_list(open_as: Open) -> None:
    page = open_as("sven")
    services(page)
    page.get_by_role("textbox", name="Search: services").fill("Rescue gear at the lift")
    row = page.get_by_role("grid", name="Services").get_by_role("row").nth(1)
    expect(row).to_contain_text("Rescue gear")
    before = row.get_by_role("button", name=re.compile("^Change falls due")).inner_text()
    row.get_by_role("button", name=re.compile("^Change falls due")).click()
    field = row.get_by_role("textbox", name="Falls due")
    field.fill("5.1.2027")
    field.press("Enter")
    expect(shown(page, "It falls due Tue 5 Jan")).to_be_visible()
    expect(page.get_by_role("grid", name="Services").get_by_text("Tue 5 Jan").first).to_be_visible()
    assert before != "Tue 5 Jan"
    row = page.get_by_role("grid", name="Services").get_by_role("row").nth(1)
    row.get_by_role("button", name=re.compile("^Change state")).click()
    row.get_by_label("State").select_option("on hold")
    expect(shown(page, re.compile(r"PP-\d+ is on hold"))).to_be_visible()
    expect(row.get_by_text("◆ on hold")).to_be_visible()


def test_another_plan_like_one_that_runs_is_raised_as_a_request(open_as: Open) -> None:
    page = open_as("sven")
    page.goto("/preventive/services?open=PP-1251%20/%20any")
    side = page.get_by_role("complementary", name="The preventive plan")
    side.get_by_role("button", name="Another like it").click()
    form = page.get_by_role("dialog", name=re.compile("^New plan, like PP-1251"))
    form.get_by_label("Title").fill("Sockets of the workshop")
    form.get_by_label("Raised as").select_option("request")
    assets = form.get_by_role("combobox", name="On these assets")
    assets.fill("workshop middle")
    assets.press("Enter")
    form.get_by_role("button", name="Make the plan").click()
    expect(side.get_by_role("heading", name="Sockets of the workshop")).to_be_visible()
    expect(side.get_by_text("✓ running")).to_be_visible()
    side.get_by_role("button", name="Raise it now").click()
    side.get_by_role("link", name=re.compile(r"^R-\d+$")).first.click()
    expect(page.get_by_role("heading", name="Sockets of the workshop")).to_be_visible()
