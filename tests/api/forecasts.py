"""Forecasts as tests read them."""

from __future__ import annotations

from typing import Any


def falling_due(forecast: dict[str, Any]) -> list[dict[str, Any]]:
    """The occurrences of a forecast, each with what it shares with others."""
    services, works = forecast["services"], forecast["works"]
    to_come = {"order": None, "request": None, "state": "to come", "can_raise": False}
    later = [x | {"day": day} | to_come for x in forecast["later"] for day in x["days"]]
    lines = [services[f["service"]] | works[f["work"]] | f for f in (*forecast["falls"], *later)]
    return sorted(lines, key=lambda line: (line["day"], line["plan"], line["asset"]))
