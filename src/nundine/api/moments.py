"""Days and moments as they are sent: in our time, and moments with their offset, so that none is read in the
server's own zone."""

from __future__ import annotations

from datetime import date
from typing import Annotated, TypeVar

from pydantic import AfterValidator, AwareDatetime

from nundine.core.timeline import in_our_time

Time = TypeVar("Time", bound=date)


def _in_our_time(value: Time) -> Time:
    in_our_time(value.year)
    return value


Day = Annotated[date, AfterValidator(_in_our_time)]
Moment = Annotated[AwareDatetime, AfterValidator(_in_our_time)]
