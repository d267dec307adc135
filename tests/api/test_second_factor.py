"""A second factor by codes of time, a session that ends when nobody is at it, and what a site may demand."""

from __future__ import annotations

from datetime import timedelta

import pytest
from fastapi.testclient import TestClient

from nundine.services.admin import second_factor
from nundine.settings import settings
from nundine.store.account import Account, SignedIn
from nundine.store.ledger import LedgerEntry
from tests.api.conftest import Client
from tests.application import application
from tests.conftest import PASSWORDS


def code_of(secret: str, steps_later: int = 0) -> str:
    now = int(settings().now().timestamp()) + steps_later * second_factor.STEP
    return second_factor._codes(secret).generate(now).decode()


def set_up(http: TestClient) -> str:
    secret = http.post("/api/own/factor/offer").json()["secret"]
    answer = http.put("/api/own/factor", json={"secret": secret, "code": code_of(secret)})
    assert answer.status_code == 204, answer.text
    return secret


def try_in(name: str, code: str | None = None) -> tuple[int, dict]:
    with TestClient(application(), headers={"x-nundine": "1"}) as http:
        answer = http.post("/api/session", json={"name": name, "password": PASSWORDS[name], "code": code})
        return answer.status_code, answer.json()


def test_who_set_one_up_signs_in_with_a_code_that_is_good_once(client: Client) -> None:
    secret = set_up(client("mila"))
    assert try_in("mila") == (200, {"code_needed": True})
    assert try_in("mila", "000000")[0] == 401
    later = code_of(secret, 1)
    assert try_in("mila", later)[1]["name"] == "mila"
    status, told = try_in("mila", later)
    assert (status, told["code"]) == (401, "code"), "the same code once more"
    failed = LedgerEntry.select().where(LedgerEntry.kind == "sign-in failed")
    assert any("code was not right" in e.label for e in failed)


def test_a_code_that_is_not_right_sets_nothing_up_and_wrong_codes_slow_down_like_passwords(
    client: Client,
) -> None:
    mila = client("mila")
    secret = mila.post("/api/own/factor/offer").json()["secret"]
    refused = mila.put("/api/own/factor", json={"secret": secret, "code": "000000"})
    assert (refused.status_code, refused.json()["field"]) == (422, "code")
    assert mila.put("/api/own/factor", json={"secret": "not base 32!", "code": "1"}).status_code == 422
    assert Account.get(Account.name == "mila").factor is None
    set_up(mila)
    told = []
    for _ in range(7):
        told.append(try_in("mila", "000000")[0])
        try_in("mila")  # the right password in between makes no guess at the code cheaper
    assert 429 in told


def test_it_is_taken_off_by_a_code_of_ones_own_or_by_an_administrator(client: Client) -> None:
    mila, ada = client("mila"), client("ada")
    secret = set_up(mila)
    assert mila.get("/api/session").json()["factor"]
    assert mila.post("/api/own/factor-off", json={"code": "000000"}).status_code == 422
    assert mila.post("/api/own/factor-off", json={"code": code_of(secret, 1)}).status_code == 204
    set_up(mila)
    listed = {a["name"]: a for a in ada.post("/api/accounts/mila/factor-off").json()}
    assert not listed["mila"]["factor"]
    assert ada.post("/api/accounts/mila/factor-off").status_code == 422, "there is none any more"


def test_a_site_can_demand_it_of_administrators_and_nobody_locks_themselves_out(client: Client) -> None:
    ada = client("ada")
    wanted = {"idle": 240, "factor_of_administrators": True}
    assert ada.put("/api/sign-in-rules", json=wanted).json()["code"] == "factor"
    secret = set_up(ada)
    assert ada.put("/api/sign-in-rules", json=wanted).status_code == 200
    assert ada.post("/api/own/factor-off", json={"code": code_of(secret, 1)}).status_code == 422
    assert client("sven").get("/api/setup").status_code == 200, "of others nothing is asked"
    Account.update(factor=None).where(Account.name == "ada").execute()
    assert ada.get("/api/session").json()["factor_wanted"]
    assert ada.get("/api/accounts").json()["code"] == "factor"
    set_up(ada)
    assert ada.get("/api/accounts").status_code == 200


@pytest.mark.parametrize("somebody", [False, True])
def test_a_session_ends_when_nobody_is_at_it_whatever_an_open_page_asks_by_itself(
    client: Client, somebody: bool
) -> None:
    assert client("ada").put(
        "/api/sign-in-rules", json={"idle": 30, "factor_of_administrators": False}
    ).json() == {"idle": 30, "factor_of_administrators": False}
    sven = client("sven")
    for _ in range(3):
        for row in SignedIn.select():
            SignedIn.update(seen=row.seen - timedelta(minutes=20)).where(SignedIn.id == row.id).execute()
        last = sven.get("/api/session", headers={"x-nundine-active": "1"} if somebody else {})
    assert (last.json() is not None) == somebody
    assert (
        client("ada")
        .put("/api/sign-in-rules", json={"idle": 1, "factor_of_administrators": False})
        .json()["field"]
        == "idle"
    )


def test_nobody_signed_in_is_no_error(database: object) -> None:
    with TestClient(application()) as nobody:
        answer = nobody.get("/api/session")
    assert (answer.status_code, answer.json()) == (200, None)
