"""Forecasts as tests read them."""

from __future__ import annotations

from typing import Any


def falling_due(forecast: dict[str, Any]) -> list[dict[str, Any]]:
    """The occurrences of a forecast, each with what it shares with others."""
    services, works = forecast["services"], forecast["works"]
    return [services[f["service"]] | works[f["work"]] | f for f in forecast["falls"]]
