"""Whatever is sent in a form is taken or refused in words: forms made by dice from what the application says
that it takes."""

from __future__ import annotations

from random import Random
from typing import Any

import pytest

from nundine.services.week.state import load_state
from tests.api.conftest import Client, Week
from tests.application import application
from tests.conftest import WEEK

TAKES_LONG = {"/api/session", "/api/weeks/{week}/builds", "/api/weeks/{week}/asks"}
"""What signs in, or works on in the background."""
TEXTS = (
    "",
    " ",
    "x",
    "x" * 5000,
    "-1",
    "nan",
    "2.5",
    "24:00",
    "mech x2; elec",
    "ليلى",
    "\U0001f6a1",
    "\x00",
    "'; --",
    "=1+1",
    "<b>",
    "2026-12-01",
    "0001-01-01",
)
DAYS = ("2026-12-01", "2026-11-30", "2028-02-29", "0001-01-01", "9999-12-31", "2026-02-30", "")
MOMENTS = (
    "2026-12-01T07:00:00+01:00",
    "2026-12-01T07:00:00",
    "2026-12-01T07:07:07Z",
    "0001-01-01T00:00:00Z",
    "9999-12-31T23:59:59-12:00",
    "soon",
)
CLOCKS = ("06:00", "00:00", "23:59", "24:00", "noon")
FIGURES = (0, 1, 2.5, -1, 1e9, 1e300, 10**30, "2", None)


class Forms:
    """Forms by the application's own description of them."""

    def __init__(self, week: Week, seed: int) -> None:
        self.dice, self.week = Random(seed), week
        self.description = application().openapi()
        state = load_state(WEEK)
        job, task, portion = self.dice.choice(sorted(state.rows))
        person, asset = state.problem.people[0].id, next(a.id for a in state.problem.assets if a.work_windows)
        left = next(j.id for j in state.problem.jobs if j.id not in {k[0] for k in state.rows})
        self.there: dict[str, Any] = {
            "key": [job, task, portion],
            "keys": [[job, task, portion]],
            "tasks": [[job, task]],
            "jobs": [left],
            "put_in": [left],
            "number": job,
            "person": person,
            "who": [person],
            "asset": asset,
            "area": "north",
            "areas": ["north"],
            "craft": "mech",
            "crafts": [["mech", 2]],
            "day": "2026-12-01",
            "start": "2026-12-01T07:00:00+01:00",
            "order": {"title": "Fence torn down", "asset": "N1", "kind": "safety"},
        }

    def of(self, schema: dict[str, Any], name: str = "") -> Any:
        """A value for a place of a form: one that is there, one of the right kind, or now and then something
        else."""
        dice = self.dice
        if name == "seen":
            return self.week.edits()
        if name in self.there and dice.random() < 0.6:
            return self.there[name]
        if dice.random() < 0.03:
            return dice.choice((None, [], {}, "x", 1, True))
        if "$ref" in schema:
            return self.of(self.description["components"]["schemas"][schema["$ref"].rsplit("/", 1)[1]], name)
        for either in ("anyOf", "oneOf"):
            if either in schema:
                return self.of(dice.choice(schema[either]), name)
        if "const" in schema or "enum" in schema:
            return schema["const"] if "const" in schema else dice.choice(schema["enum"])
        kind = schema.get("type")
        if kind == "object":
            return self._object(schema)
        if kind == "array":
            one = schema.get("items", {})
            return (
                [self.of(s) for s in schema["prefixItems"]]
                if "prefixItems" in schema
                else [self.of(one) for _ in range(dice.choice((0, 1, 1, 2)))]
            )
        if kind == "string":
            return dice.choice(
                {"date": DAYS, "date-time": MOMENTS, "time": CLOCKS}.get(schema.get("format", ""), TEXTS)
            )
        return {"boolean": dice.random() < 0.5, "null": None}.get(str(kind), dice.choice(FIGURES))

    def _object(self, schema: dict[str, Any]) -> dict[str, Any]:
        given, needed = schema.get("properties", {}), schema.get("required", ())
        made = {
            name: self.of(one, name)
            for name, one in given.items()
            if name in needed or self.dice.random() < 0.7
        }
        if isinstance(schema.get("additionalProperties"), dict):
            for name in self.dice.sample(
                ("title", "asset", "kind", "hours", "needs", "due", "task", "after", "x"), 4
            ):
                made[name] = self.of(schema["additionalProperties"], name)
        return made

    def all(self) -> list[tuple[str, str, dict[str, Any]]]:
        """Every form that can be sent: how, where, its description."""
        found = []
        for path, ways in sorted(self.description["paths"].items()):
            for way, said in ways.items():
                content = said.get("requestBody", {}).get("content", {})
                if "application/json" in content and path not in TAKES_LONG:
                    found.append((way, path, content["application/json"]["schema"]))
        return found


@pytest.mark.long
@pytest.mark.parametrize("name", ["sven", "olivia"])
@pytest.mark.parametrize("seed", range(3))
def test_whatever_stands_in_a_form_is_taken_or_refused_in_words_and_the_week_can_still_be_read(
    client: Client, published: Week, name: str, seed: int
) -> None:
    http, forms = client(name), Forms(published, seed)
    taken = 0
    for way, path, schema in forms.all():
        for _ in range(8):
            address = (
                path.replace("{week}", WEEK)
                .replace("{number}", forms.there["number"])
                .replace("{id_}", "1")
                .replace("{name}", "olivia")
            )
            form = forms.of(schema)
            answer = http.request(way, address, json=form)
            assert answer.status_code < 500, (address, form, answer.text[:300])
            assert answer.status_code < 400 or answer.json()["title"], (address, form)
            taken += answer.status_code < 400
    assert taken > {"sven": 10, "olivia": 0}[name], "hardly anything was taken"
    for view in ("", "/backlog", "/crew", "/agree", "/review", "/log", "/problem.json"):
        published.get(view)
