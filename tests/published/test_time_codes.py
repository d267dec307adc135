"""Codes by time against RFC 6238, Appendix B (SHA-1; its codes have eight digits, of which ours are the last
six)."""

from __future__ import annotations

import base64
from datetime import UTC, datetime

import pytest

from nundine.services.admin.second_factor import STEP, step_of

SECRET = base64.b32encode(b"12345678901234567890").decode()


@pytest.mark.parametrize(
    ("seconds", "code"),
    [
        (59, "94287082"),
        (1111111109, "07081804"),
        (1111111111, "14050471"),
        (1234567890, "89005924"),
        (2000000000, "69279037"),
    ],
)
def test_the_codes_of_the_standard_are_right_at_their_time_and_not_later(seconds: int, code: str) -> None:
    def at(later: int) -> datetime:
        return datetime.fromtimestamp(seconds + later, UTC)

    step = seconds // STEP
    assert step_of(SECRET, code[-6:], at(0)) == step
    assert step_of(SECRET, f"{code[2:5]} {code[5:]}", at(STEP)) == step, "a clock may be a step off"
    assert step_of(SECRET, code[-6:], at(2 * STEP)) is None
    assert step_of(SECRET, code[-6:], at(0), after=step) is None, "it is good once"
