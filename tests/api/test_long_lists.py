"""Very long lists are asked in other ways than short ones, which no answer shows: it is that of a plain
reading."""

from __future__ import annotations

import json
from collections import Counter
from typing import Any

import pytest
from fastapi.testclient import TestClient
from hypothesis import given
from hypothesis import strategies as st

from nundine.services.listing import rows as list_rows
from tests.api.conftest import Client
from tests.conftest import WEEK
from tests.examples import examples

LONG = ("all tasks", "work orders", "backlog")
READ: dict[str, list[dict]] = {}
"""All rows of a list once, for a plain reading of them."""
HOWS = {"text": ("contains", "is", "is not", "not empty"), "choice": ("is", "is not", "not empty")}


def asked(http: TestClient, name: str, question: dict, part: str = "/rows", **more: object) -> Any:
    query = {"q": json.dumps(question), "week": WEEK, **more}
    answer = http.get(f"/api/lists/{name}{part}", params=query)
    assert answer.status_code == 200, answer.text
    return answer.json()


def pages(http: TestClient, name: str, question: dict, size: int) -> list[dict]:
    """The rows that are found page by page."""
    found = asked(http, name, question, size=size)
    cells = found["rows"]
    while len(cells) < found["counted"]["total"]:
        more = asked(http, name, question, size=size, first=len(cells))["rows"]
        assert more, "A page is empty, though there are more rows"
        cells += more
    return [row["cells"] for row in cells]


def holds(row: dict, one: dict) -> bool:
    """One filter, read plainly."""
    value, values = row[one["column"]] or "", one["values"]
    match one["how"]:
        case "contains":
            return any(v.lower() in value.lower() for v in values)
        case "is":
            return value in values
        case "is not":
            return value not in values
    return value != ""


def in_order(values: list, down: bool) -> bool:
    """Keys stand in order byte by byte, other texts whatever their capitals."""
    low = [v.lower() if isinstance(v, str) else v for v in values]
    return values == sorted(values, reverse=down) or low == sorted(low, reverse=down)


def of_text(column: dict) -> bool:
    return column["kind"] in HOWS and column["can_sort"]


@examples(80)
@given(data=st.data())
def test_rows_are_filtered_sorted_and_grouped_as_a_plain_reading_does_however_they_are_found(
    client: Client, monkeypatch: pytest.MonkeyPatch, data: st.DataObject
) -> None:
    http = client("sven")
    name = data.draw(st.sampled_from(LONG))
    columns = asked(http, name, {}, "")["columns"]
    rows = READ.setdefault(name, pages(http, name, {}, 500))
    filters = []
    for column in data.draw(st.lists(st.sampled_from([c for c in columns if of_text(c)]), max_size=2)):
        how = data.draw(st.sampled_from(HOWS[column["kind"]]))
        known = sorted({r[column["name"]] for r in rows if r[column["name"]]}) or ["rope"]
        value = data.draw(st.sampled_from(known))
        values = [] if how == "not empty" else [value[1:6] if how == "contains" else value]
        filters.append({"column": column["name"], "how": how, "values": values})
    sortable = st.sampled_from([c["name"] for c in columns if c["can_sort"]])
    sort = [
        {"column": c, "down": data.draw(st.booleans())}
        for c in data.draw(st.lists(sortable, min_size=1, max_size=2, unique=True))
    ]
    question = {"filters": filters, "sort": sort}
    monkeypatch.setattr(list_rows, "FEW", data.draw(st.sampled_from([1000, 3])))

    expected = [r for r in rows if all(holds(r, f) for f in filters)]
    key = "key" if name == "all tasks" else "number"
    found = pages(http, name, question, max(40, len(expected) // 3))
    assert Counter(r[key] for r in found) == Counter(r[key] for r in expected)
    assert [r[key] for r in found] == asked(http, name, question, "/keys")
    first = sort[0]
    there = [str(r["key"]).split(" / ")[0] if first["column"] == "key" else r[first["column"]] for r in found]
    assert in_order([v for v in there if v not in (None, "")], first["down"])

    group = data.draw(st.sampled_from([c["name"] for c in columns if c["can_group"] and of_text(c)]))
    groups = asked(http, name, {**question, "group": group}, "/groups")
    assert {g["value"] or "": g["count"] for g in groups} == Counter(r[group] or "" for r in expected)
    hours = sum(r["hours"] for r in expected)
    assert sum(g["sums"]["hours"] for g in groups) == pytest.approx(hours, abs=0.5)
    in_groups = pages(http, name, {**question, "sort": [], "group": group}, 500)
    assert len({r[key] for r in in_groups}) == len(expected)
    met = [r[group] or "" for r in in_groups]
    assert sum(a != b for a, b in zip(met, met[1:], strict=False)) == max(0, len(set(met)) - 1)


def test_rows_that_share_a_record_stand_together_where_it_leads_to_them(client: Client) -> None:
    http = client("sven")
    rows = pages(http, "all tasks", {"sort": [{"column": "order", "down": True}]}, 40)
    titles = [r["order"].lower() for r in rows]
    assert titles == sorted(titles, reverse=True)
    orders = [r["key"].split(" / ")[0] for r in rows]
    assert sum(a != b for a, b in zip(orders, orders[1:], strict=False)) == len(set(orders)) - 1
