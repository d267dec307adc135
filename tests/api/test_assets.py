"""Assets kept by hand."""

from __future__ import annotations

from typing import Any

import pytest
from fastapi.testclient import TestClient

from nundine.store.asset import Asset, AssetWindow
from tests.api.conftest import Client

PUMP = {
    "asset": "P-14", "name": "Pump 14", "area": "north", "parent": "L1", "criticality": "6", "limited": "no",
    "one_job_at_a_time": "yes", "in_store": "no", "maker": "Orvaldt", "model": "OV 40", "serial": "77-1203",
}  # fmt: skip


@pytest.fixture
def sven(client: Client) -> TestClient:
    return client("sven")


def keep(http: TestClient, revision: int | None = None, code: int = 204, **cells: str) -> Any:
    answer = http.post("/api/assets", json={"cells": {**PUMP, **cells}, "revision": revision})
    assert answer.status_code == code, answer.text
    return None if code == 204 else answer.json()


def seen(http: TestClient, key: str = "P-14") -> dict[str, Any]:
    answer = http.get(f"/api/assets/{key}")
    assert answer.status_code == 200, answer.text
    return answer.json()


def test_an_asset_is_made_read_back_and_changed_and_says_who_did_it(sven: TestClient) -> None:
    keep(sven)
    first = seen(sven)
    assert {k: first["cells"][k] for k in PUMP} == PUMP
    keep(sven, first["revision"], serial="", maker="Brennick")
    now = seen(sven)["cells"]
    assert (now["maker"], now["serial"], now["model"]) == ("Brennick", "", "OV 40")
    told = sven.get("/api/history/asset", params={"key": ["P-14"]}).text
    assert "Sven Ostrova" in told and "Brennick" in told and "77-1203" in told


def test_every_asset_saved_as_it_is_stays_as_it_is(sven: TestClient) -> None:
    for (key,) in Asset.select(Asset.key).tuples():
        before = seen(sven, key)
        keep(sven, before["revision"], **before["cells"])
        assert seen(sven, key) == before


@pytest.mark.parametrize(
    ("cells", "field"),
    [
        ({"area": "nowhere"}, "area"),
        ({"area": ""}, "area"),
        ({"criticality": "11"}, "criticality"),
        ({"parent": "P-14"}, "parent"),
        ({"parent": "unknown"}, "parent"),
        ({"asset": ""}, "asset"),
    ],
)
def test_what_can_not_be_of_an_asset_names_its_field_and_nothing_is_made(
    sven: TestClient, cells: dict[str, str], field: str
) -> None:
    before = Asset.select().count()
    assert keep(sven, code=422, **cells)["field"] == field
    assert Asset.select().count() == before


def test_an_asset_is_never_part_of_what_is_part_of_it(sven: TestClient) -> None:
    keep(sven)
    keep(sven, asset="P-14-M", name="Motor", parent="P-14")
    assert keep(sven, seen(sven)["revision"], code=422, parent="P-14-M")["field"] == "parent"


def test_a_key_that_there_is_is_not_made_again_and_a_stale_change_says_so(sven: TestClient) -> None:
    keep(sven)
    assert keep(sven, code=422)["field"] == "asset"
    was = seen(sven)["revision"]
    keep(sven, was, maker="Brennick")
    assert keep(sven, was, code=409, maker="Lodur")
    assert seen(sven)["cells"]["maker"] == "Brennick"


def test_who_plans_in_some_areas_keeps_the_assets_of_those_alone(sven: TestClient, client: Client) -> None:
    keep(sven)
    form = {"roles": [{"role": "planner", "areas": ["lake"]}]}
    assert client("ada").put("/api/accounts/mila", json=form).status_code == 200
    mila = client("mila")
    revision = seen(mila)["revision"]
    assert keep(mila, revision, code=403, area="lake", parent="")["code"] == "area"
    assert keep(mila, revision, code=403)["code"] == "area"
    keep(mila, asset="P-15", area="lake", parent="")
    gone = mila.post("/api/assets/removal", json={"key": "P-14", "revision": revision})
    assert gone.status_code == 403


def test_an_asset_is_taken_away_only_while_nothing_hangs_on_it(sven: TestClient) -> None:
    keep(sven)
    used = seen(sven, "L1")["revision"]
    answer = sven.post("/api/assets/removal", json={"key": "L1", "revision": used})
    assert answer.status_code == 422 and answer.json()["code"] == "used"
    windows = AssetWindow.select().count()
    gone = sven.post("/api/assets/removal", json={"key": "P-14", "revision": seen(sven)["revision"]})
    assert gone.status_code == 204 and AssetWindow.select().count() == windows
    assert sven.get("/api/assets/P-14").status_code == 404
