"""Every route against every role: what each may do is the table below and nothing else."""

from __future__ import annotations

import pytest
from fastapi.testclient import TestClient

from nundine.services.admin import accounts
from nundine.store.account import Role
from nundine.store.base import db
from tests.api.conftest import Client
from tests.api.test_access import OPEN, routes
from tests.application import application
from tests.conftest import WEEK

MAY = {
    "administrator": {"read", "import", "manage", "reopen", "administer"},
    "scheduler": {
        "read",
        "edit",
        "plan",
        "swap",
        "answer",
        "report",
        "import",
        "manage",
        "why",
        "permit",
        "stock",
    },
    "planner": {"read", "plan", "import", "stock"},
    "supervisor": {"read", "swap today", "report", "why"},
    "operations": {"read", "answer", "permit"},
    "storekeeper": {"read", "stock"},
    "technician": {"read", "report"},
    "reader": {"read"},
}
WEEKS = "/api/weeks/{week}"
NEEDS = {
    ("POST", "/api/orders"): {"plan"},
    ("POST", "/api/orders/{number}/state"): {"plan"},
    ("POST", WEEKS + "/break-ins"): {"plan"},
    ("POST", "/api/orders/{number}/notes"): {"plan", "report", "edit"},
    ("POST", "/api/orders/{number}/files"): {"plan", "report", "edit"},
    ("POST", "/api/orders/moves"): {"plan"},
    ("POST", "/api/orders/validity"): {"plan"},
    ("POST", "/api/orders/{number}/permits"): {"plan"},
    ("POST", "/api/orders/{number}/permits/{kind}"): {"permit"},
    ("POST", "/api/orders/{number}/tasks/{task}/answers"): {"plan", "report", "edit"},
    ("POST", "/api/orders/fields"): {"plan"},
    ("POST", "/api/orders/closing"): {"plan"},
    ("POST", "/api/orders/closing/trial"): {"plan"},
    ("DELETE", "/api/orders/moves/{deed}"): {"plan"},
    ("POST", "/api/plans"): {"plan"},
    ("POST", "/api/plans/{number}/state"): {"plan"},
    ("POST", "/api/plans/{number}/estimates"): {"plan"},
    ("POST", "/api/orders/{number}/plan"): {"plan"},
    ("POST", "/api/assets/fitting"): {"plan"},
    ("POST", "/api/assets"): {"plan"},
    ("POST", "/api/assets/removal"): {"plan"},
    ("POST", "/api/preventive/plans"): {"plan"},
    ("POST", "/api/preventive/plans/ahead"): {"plan"},
    ("POST", "/api/preventive/plans/{number}/state"): {"plan"},
    ("POST", "/api/preventive/plans/{number}/holding"): {"plan"},
    ("POST", "/api/preventive/raising"): {"plan"},
    ("POST", "/api/preventive/shifts"): {"plan"},
    ("POST", "/api/preventive/putting-off"): {"plan"},
    ("POST", "/api/preventive/services"): {"plan"},
    ("POST", "/api/preventive/readings"): {"plan", "report", "edit"},
    ("POST", "/api/preventive/readings/taking-back"): {"plan", "report", "edit"},
    ("POST", "/api/preventive/registers/{name}"): {"plan"},
    ("POST", "/api/preventive/registers/{name}/removal"): {"plan"},
    ("POST", "/api/preventive/shutdowns/{key}/moving"): {"plan"},
    ("POST", "/api/preventive/shutdowns/{key}/raising"): {"plan"},
    ("POST", "/api/preventive/raising/picked"): {"plan"},
    ("POST", "/api/preventive/services/orders"): {"read"},
    ("POST", "/api/parts/registers/{name}"): {"stock"},
    ("POST", "/api/parts/registers/{name}/removal"): {"stock"},
    ("POST", "/api/parts/movements"): {"stock"},
    ("POST", "/api/parts/picking"): {"stock"},
    ("POST", "/api/parts/kits"): {"stock"},
    ("POST", "/api/parts/kits/handing-out"): {"stock"},
    ("POST", "/api/parts/kits/putting-back"): {"stock"},
    ("POST", "/api/parts/used/planned"): {"stock", "report"},
    ("POST", "/api/parts/used"): {"stock", "report"},
    ("POST", "/api/parts/lists"): {"stock"},
    ("POST", "/api/parts/lists/removal"): {"stock"},
    ("POST", "/api/parts/one/{key}/files"): {"stock"},
    ("POST", "/api/buying/requests"): {"stock"},
    ("POST", "/api/buying/requests/lacking"): {"stock"},
    ("PUT", "/api/buying/requests/{number}"): {"stock"},
    ("POST", "/api/buying/requests/{number}/state"): {"stock"},
    ("POST", "/api/buying/requests/{number}/settled"): {"stock"},
    ("POST", "/api/buying/purchases/picked"): {"stock"},
    ("POST", "/api/buying/purchases"): {"stock"},
    ("PUT", "/api/buying/purchases/{number}"): {"stock"},
    ("POST", "/api/buying/purchases/{number}/state"): {"stock"},
    ("POST", "/api/buying/purchases/{number}/promise"): {"stock"},
    ("POST", "/api/buying/purchases/{number}/removal"): {"stock"},
    ("POST", "/api/buying/purchases/{number}/received"): {"stock"},
    ("POST", "/api/buying/purchases/{number}/returned"): {"stock"},
    ("POST", "/api/requests"): {"read"},
    ("POST", "/api/requests/{number}/files"): {"read"},
    ("POST", "/api/requests/{number}/words"): {"read"},
    ("POST", "/api/requests/{number}/question"): {"plan"},
    ("POST", "/api/requests/{number}/declining"): {"plan"},
    ("POST", "/api/requests/{number}/opening"): {"plan"},
    ("POST", "/api/requests/{number}/joining"): {"plan"},
    ("POST", "/api/requests/{number}/order"): {"plan"},
    ("POST", WEEKS + "/edits"): {"edit", "swap", "swap today"},
    ("POST", WEEKS + "/answers"): {"answer"},
    ("POST", WEEKS + "/window-answers"): {"answer"},
    ("POST", WEEKS + "/windows"): {"answer"},
    ("POST", WEEKS + "/windows/hits"): {"answer"},
    ("POST", WEEKS + "/progress"): {"report"},
    ("POST", WEEKS + "/reports"): {"report"},
    ("POST", WEEKS + "/order-sheets"): {"read"},
    ("POST", WEEKS + "/reopening"): {"reopen"},
    ("PUT", "/api/setup"): {"manage"},
    ("POST", "/api/setup/registers/{name}"): {"manage"},
    ("POST", "/api/setup/registers/{name}/removal"): {"manage"},
    ("GET", "/api/runs"): {"manage"},
    ("POST", "/api/runs/periodic/{kind}"): {"manage"},
    ("POST", "/api/runs/{run}/stop"): {"read"},
    ("POST", "/api/runs/{run}/again"): {"read"},
    ("POST", "/api/imports/exports"): {"read"},
    ("POST", "/api/foreign/marks/{number}/seen"): {"edit"},
}
SELF = {
    ("GET", "/api/session"),
    ("DELETE", "/api/session"),
    ("PUT", "/api/own/password"),
    ("PUT", "/api/own/look"),
    ("GET", "/api/own/sessions"),
    ("DELETE", "/api/own/sessions"),
    ("POST", "/api/own/factor/offer"),
    ("PUT", "/api/own/factor"),
    ("POST", "/api/own/factor-off"),
}


def needed(method: str, path: str) -> set[str]:
    """The rights of which one is needed."""
    if (method, path) in NEEDS:
        return NEEDS[(method, path)]
    if path.startswith(("/api/accounts", "/api/audit", "/api/roles", "/api/sign-in-rules", "/api/sites")):
        return {"administer"}
    if path in ("/api/imports", "/api/imports/check", "/api/imports/lately", "/api/imports/runs/{run}"):
        return {"import"}
    if path.startswith("/api/foreign"):
        return {"import"}
    if path.startswith("/api/lists"):
        return {"read"}
    return {"read"} if method == "GET" else {"edit"}


FILLED = {
    "{week}": WEEK,
    "{day}": "2026-11-30",
    "{build}": "1",
    "{run}": "1",
    "{deed}": "1",
    "{kind}": "cleaning",
    "{portion}": "1",
    "{seat}": "0",
    "{id_}": "1",
    "{noun}": "craft",
}


def filled(path: str) -> str:
    for name, value in FILLED.items():
        path = path.replace(name, value)
    return path.replace("{number}", "none").replace("{", "").replace("}", "")


def signed_in(role: str) -> TestClient:
    with db.connection_context():
        accounts.create(f"one-{role}", "Some One", "a long enough one", role)
    http = TestClient(application(), base_url="http://testserver", headers={"x-nundine": "1"})
    body = {"name": f"one-{role}", "password": "a long enough one"}
    assert http.post("/api/session", json=body).status_code == 200
    return http


def test_the_roles_of_a_new_installation_are_those_of_the_table(demo: None) -> None:
    assert {r.name: set(r.rights) for r in Role.select()} == MAY


@pytest.mark.parametrize("role", sorted(MAY))
def test_a_role_may_do_what_the_table_says_and_nothing_else(demo: None, role: str) -> None:
    wrong = []
    with signed_in(role) as http:
        for method, path in routes():
            if (method, path) in OPEN | SELF or path == "/api/events":
                continue
            key = {"key": "elec"} if "/history/" in path else None
            status = http.request(method, filled(path), json={}, params=key).status_code
            allowed = bool(MAY[role] & needed(method, path))
            if (status == 403) == allowed or status == 401:
                wrong.append((method, path, status, allowed))
    assert not wrong


def test_somebody_with_two_roles_may_do_what_either_may(client: Client) -> None:
    ada = client("ada")
    now = next(a for a in ada.get("/api/accounts").json() if a["name"] == "karl")
    both = [{"role": "supervisor"}, {"role": "planner"}]
    answer = ada.put("/api/accounts/karl", json={"roles": both, "revision": now["revision"]})
    assert answer.status_code == 200, answer.text
    me = client("karl").get("/api/session").json()
    assert set(me["rights"]) == MAY["supervisor"] | MAY["planner"]
    assert me["role"] == "planner and supervisor"


def test_a_scheduler_of_one_area_edits_no_job_of_another(client: Client) -> None:
    ada, sven = client("ada"), client("sven")
    rows = sven.get(f"/api/weeks/{WEEK}/backlog", params={"ready": True, "size": 200}).json()["rows"]
    areas = {a["name"]: a["key"] for a in sven.get(f"/api/weeks/{WEEK}").json()["areas"]}
    own = areas[rows[0]["area"]]
    other = next(r["number"] for r in rows if areas[r["area"]] != own)
    assert (
        ada.put("/api/accounts/mila", json={"roles": [{"role": "scheduler", "areas": [own]}]}).status_code
        == 200
    )
    mila = client("mila")

    def put(number: str) -> object:
        edit = {"kind": "put", "jobs": [number], "day": None}
        return mila.post(f"/api/weeks/{WEEK}/edits", json={"edit": edit, "seen": 10**6})

    assert put(rows[0]["number"]).status_code == 200
    refused = put(other)
    assert (refused.status_code, refused.json()["code"]) == (403, "area")
    form = mila.get(f"/api/orders/{other}").json()
    body = {k: form[k] for k in ("order", "tasks", "revision")}
    body["order"]["title"] = "Not mine"
    assert mila.post("/api/orders", json=body).status_code == 403


def test_a_new_account_signs_in_once_with_what_it_was_given_and_chooses_its_own(client: Client) -> None:
    ada = client("ada")
    form = {"name": "nora", "full_name": "Nora Pell", "roles": [{"role": "planner"}]}
    password = ada.post("/api/accounts", json=form).json()["password"]
    http = TestClient(ada.app, base_url="http://testserver", headers={"x-nundine": "1"})
    assert http.post("/api/session", json={"name": "nora", "password": password}).json()["one_time"]
    assert http.get(f"/api/weeks/{WEEK}").json()["code"] == "one time"
    for bad in ("short", "password1234", "nora pell 1", password):
        assert http.put("/api/own/password", json={"old": password, "new": bad}).status_code == 422, bad
    assert (
        http.put("/api/own/password", json={"old": "wrong", "new": "blue ladder 77"}).json()["field"] == "old"
    )
    assert http.put("/api/own/password", json={"old": password, "new": "blue ladder 77"}).status_code == 204
    assert http.get(f"/api/weeks/{WEEK}").status_code == 200
    assert not http.get("/api/session").json()["one_time"]


def test_switching_an_account_off_ends_its_sessions_and_nobody_switches_off_themselves(
    client: Client,
) -> None:
    ada, rene = client("ada"), client("rene")
    assert ada.put("/api/accounts/rene", json={"active": False}).status_code == 200
    assert rene.get("/api/session").json() is None
    assert ada.put("/api/accounts/ada", json={"active": False}).json()["code"] == "own"
    assert ada.put("/api/accounts/ada", json={"roles": [{"role": "reader"}]}).json()["code"] == "own"


def test_a_lost_password_is_replaced_once_and_sessions_end_with_it_and_by_hand(client: Client) -> None:
    ada, karl = client("ada"), client("karl")
    assert ada.post("/api/accounts/karl/password").json()["password"]
    assert karl.get("/api/session").json() is None
    mila = client("mila")
    client("mila")
    assert [s["this"] for s in mila.get("/api/own/sessions").json()] == [False, True]
    assert mila.delete("/api/own/sessions").status_code == 204
    assert [s["this"] for s in mila.get("/api/own/sessions").json()] == [True]
    assert ada.post("/api/accounts/mila/end-sessions").status_code == 204
    assert mila.get("/api/session").json() is None


def test_an_account_that_others_changed_meanwhile_is_not_changed_again(client: Client) -> None:
    ada = client("ada")
    seen = next(a for a in ada.get("/api/accounts").json() if a["name"] == "rene")["revision"]
    change = {"full_name": "René Aubert-Roy", "revision": seen}
    assert ada.put("/api/accounts/rene", json=change).status_code == 200
    answer = ada.put("/api/accounts/rene", json={**change, "full_name": "R. Aubert"})
    assert (answer.status_code, [d["label"] for d in answer.json()["differs"]]) == (409, ["full name"])
