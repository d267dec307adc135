"""Who is signed in."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, Field

from nundine.services.admin.look import Look


class SignInForm(BaseModel):
    name: str = Field(max_length=500)
    password: str = Field(max_length=500)
    code: str | None = Field(None, max_length=20)


class CodeNeeded(BaseModel):
    """Name and password are right; the code of the second factor is still to be given with them."""

    code_needed: Literal[True] = True


class SiteName(BaseModel):
    key: str
    name: str


class Me(BaseModel):
    """`week` and `step` are where the account's role begins; without a step it goes on where it was.
    `factor_wanted`: the site asks for a second factor, which is still to be set up.
    `site`: the key of the site that this is about, `timezone` its zone, `first` whether it is the one that
    needs no address; `sites` are those that the account sees."""

    name: str
    full_name: str
    role: str
    one_time: bool
    factor: bool
    factor_wanted: bool
    rights: list[str]
    week: str
    step: str | None
    areas: list[str]
    site: str
    timezone: str
    look: Look
    first: bool
    sites: list[SiteName]
