"""Two who change one WO, its history, accounts and the audit, as people see them. In a world of its own."""

from __future__ import annotations

import re
from collections.abc import Iterator

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.ui.conftest import Open, running_demo

pytestmark = pytest.mark.screen


@pytest.fixture(scope="module")
def address(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    """A world in which nobody has written anything yet."""
    yield from running_demo(tmp_path_factory)


def change(page: Page, number: str) -> None:
    """Open the form of a WO."""
    page.goto(f"/week/2026-W49/gather?job={number}")
    page.get_by_role("button", name="Change", exact=True).click()
    expect(page.get_by_label("Title")).not_to_have_value("")


def test_of_two_who_change_one_wo_the_second_sees_what_differs_and_loses_nothing(open_as: Open) -> None:
    sven, mila = open_as("sven", "gather"), open_as("mila", "gather")
    row = sven.get_by_role("grid", name="Backlog").get_by_role("row").nth(7).inner_text()
    number = re.search(r"WO-\d+", row).group()  # type: ignore[union-attr]
    for page in (sven, mila):
        change(page, number)
    mila.get_by_label("Description").fill("Bring the long ladder")
    mila.get_by_role("button", name="Save").click()
    expect(mila.get_by_role("button", name="Save")).to_have_count(0)
    sven.get_by_label("Title").fill("Look at the whole line")
    sven.get_by_role("button", name="Save").click()
    differs = sven.get_by_role("table", name="What differs")
    expect(differs.get_by_role("row", name=re.compile("description"))).to_contain_text("Mila Castellan")
    expect(sven.get_by_label("Title")).to_have_value("Look at the whole line")
    sven.get_by_role("button", name=re.compile("^Put what I typed on top")).click()
    expect(sven.get_by_label("Description")).to_have_value("Bring the long ladder")
    sven.get_by_role("button", name="Save").click()
    sven.get_by_role("button", name="Show its history").click()
    deeds = sven.get_by_role("list", name="History").get_by_role("listitem")
    expect(deeds.nth(0)).to_contain_text("Look at the whole line")
    expect(deeds.nth(1)).to_contain_text("Bring the long ladder")


def test_an_administrator_makes_an_account_which_chooses_its_password_and_stands_in_the_audit(
    open_as: Open, browser: Browser, address: str
) -> None:
    ada = open_as("ada", "gather")
    ada.get_by_role("link", name="Accounts").click()
    ada.get_by_role("button", name="New account").click()
    ada.get_by_label("Name to sign in").fill("nora")
    ada.get_by_label("Full name").fill("Nora Pell")
    ada.get_by_role("checkbox", name="planner").check()
    ada.get_by_role("button", name="Make the account").click()
    given = ada.locator("code").inner_text()
    expect(ada.get_by_role("row", name=re.compile("Nora Pell"))).to_contain_text("has not signed in yet")
    context = browser.new_context(viewport={"width": 1280, "height": 800}, base_url=address)
    nora = context.new_page()
    nora.goto("/")
    nora.get_by_label("Name").fill("nora")
    nora.get_by_label("Password").fill(given)
    nora.get_by_role("button", name="Sign in").click()
    nora.get_by_label("The password that you have now").fill(given)
    for password in ("password1234", "blue ladder 77"):
        nora.get_by_label("A new one").fill(password)
        nora.get_by_label("The new one once more").fill(password)
        nora.get_by_role("button", name="Change the password").click()
        if password == "password1234":
            expect(nora.get_by_text("one of those that are tried first")).to_be_visible()
    nora.get_by_role("link", name="You").click()
    expect(nora.get_by_role("table", name="Sessions")).to_contain_text("this one")
    context.close()
    ada.get_by_role("link", name="Audit").click()
    ada.get_by_label("Search: audit").fill("nora")
    grid = ada.get_by_role("grid", name="Audit")
    expect(grid.get_by_text("Nora Pell signed in from")).to_have_count(1)
    grid.get_by_text("Make the account nora").click()
    ada.keyboard.press("Enter")
    side = ada.get_by_role("complementary", name="The deed")
    expect(side.get_by_role("list", name="What it changed")).to_contain_text("planner")


def test_the_audit_is_asked_by_kind_of_record_and_by_words(open_as: Open) -> None:
    ada = open_as("ada", "gather")
    ada.goto("/audit")
    grid = ada.get_by_role("grid", name="Audit")
    expect(grid.get_by_text("Ada Winkler signed in from").first).to_be_visible()
    ada.get_by_role("button", name="Kind of record: filter and more").click()
    ada.get_by_role("checkbox", name="account", exact=True).check()
    ada.get_by_role("button", name="Filter", exact=True).click()
    expect(grid.get_by_text("Ada Winkler signed in from")).to_have_count(0)
    ada.get_by_label("Search: audit").fill("rene")
    expect(grid.get_by_text("Make the account rene")).to_have_count(1)
