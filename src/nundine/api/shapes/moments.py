"""Days and moments as they are sent: in our time, and moments with their offset, so that none is read in the server's own zone."""

from __future__ import annotations

from datetime import date
from typing import Annotated, TypeVar

from pydantic import AfterValidator, AwareDatetime

from nundine.core.timeline import FIRST_YEAR, LAST_YEAR

Time = TypeVar("Time", bound=date)


def _in_our_time(value: Time) -> Time:
    if not FIRST_YEAR <= value.year <= LAST_YEAR:
        raise ValueError(f"the year {value.year} is not one of {FIRST_YEAR} to {LAST_YEAR}")
    return value


Day = Annotated[date, AfterValidator(_in_our_time)]
Moment = Annotated[AwareDatetime, AfterValidator(_in_our_time)]
