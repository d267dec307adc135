"""Two sites, as an administrator goes from one to the other; in a world of its own."""

from __future__ import annotations

import re
from collections.abc import Iterator

import pytest
from playwright.sync_api import expect

from nundine.demo import second_site, sign_ins
from tests.ui.conftest import Open, pick, running_demo, shown

pytestmark = pytest.mark.screen


@pytest.fixture(scope="module")
def address(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    """A world of its own."""
    yield from running_demo(tmp_path_factory)


def test_who_sees_both_sites_chooses_in_the_rail_and_the_address_says_which(open_as: Open) -> None:
    page = open_as("ada")
    expect(page).to_have_url(re.compile(f"/at/{sign_ins.KEY}/week/"))
    page.get_by_role("button", name=f"Site: {sign_ins.SITE}").click()
    page.get_by_role("menuitem", name=second_site.SITE).click()
    expect(page).to_have_url(re.compile(f"/at/{second_site.KEY}/week/"))
    expect(page.get_by_role("button", name=f"Site: {second_site.SITE}")).to_be_visible()
    page.get_by_role("link", name=re.compile("^1 Gather")).click()
    expect(page.get_by_text("Haul rope inspection").first).to_be_visible()
    page.reload()
    expect(page.get_by_text("Haul rope inspection").first).to_be_visible()
    page.get_by_role("link", name="Set-up").click()
    expect(page.get_by_role("table", name="Minutes between areas")).to_contain_text("North cliff")
    expect(page.get_by_text("Lake side")).to_have_count(0)


def test_an_administrator_lets_somebody_see_the_second_site_and_makes_a_third(open_as: Open) -> None:
    page = open_as("ada")
    page.get_by_role("link", name="Accounts").click()
    grid = page.get_by_role("grid", name="Accounts")
    grid.get_by_text("Mila Castellan").click()
    page.keyboard.press("Enter")
    pick(page.get_by_label("Sites that it sees"), second_site.SITE)
    page.get_by_role("button", name="Save").last.click()
    row = grid.get_by_role("row", name=re.compile("Mila Castellan"))
    expect(row).to_contain_text(second_site.SITE)
    page.get_by_role("navigation", name="Accounts").get_by_role("link", name="Sites").click()
    page.get_by_role("button", name="New site").click()
    page.get_by_label("Name of the site").fill("Third Pier")
    page.get_by_label("In addresses").fill("third pier")
    page.get_by_role("button", name="Make the site").click()
    expect(shown(page, re.compile("letters a to z"))).to_be_visible()
    page.get_by_label("In addresses").fill("third")
    page.get_by_role("button", name="Make the site").click()
    expect(page.get_by_role("table", name="Sites")).to_contain_text("Third Pier")


def test_an_address_of_a_site_that_one_may_not_see_says_that_there_is_none(open_as: Open) -> None:
    page = open_as("sven")
    for key in (second_site.KEY, "nowhere"):
        page.goto(f"/at/{key}/week/2026-W49/gather")
        expect(page.get_by_role("heading", name="There is no such site")).to_be_visible()
        page.get_by_role("link", name=f"To {sign_ins.SITE}").click()
        expect(page.get_by_role("link", name=re.compile("^1 Gather"))).to_be_visible()
