"""Accounts, roles and one's own sessions."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

AreaList = list[str]


class HeldRole(BaseModel):
    """A role, everywhere (`areas` null) or in some areas alone."""

    model_config = ConfigDict(from_attributes=True)

    role: str
    areas: AreaList | None = Field(None, max_length=200)


class AccountShape(BaseModel):
    """An account as the administrator sees it."""

    model_config = ConfigDict(from_attributes=True)

    name: str
    full_name: str
    roles: list[HeldRole]
    active: bool
    sites: list[str] | None
    areas: AreaList
    one_time: bool
    factor: bool
    sessions: int
    revision: int


class AccountForm(BaseModel):
    """A new account."""

    name: str = Field(max_length=60)
    full_name: str = Field(max_length=120)
    roles: list[HeldRole] = Field(max_length=20)


class AccountChange(BaseModel):
    """What is to change of an account; null leaves it as it is. `all_sites` takes the limit to some off."""

    revision: int | None = None
    full_name: str | None = Field(None, min_length=1, max_length=120)
    roles: list[HeldRole] | None = Field(None, max_length=20)
    areas: AreaList | None = Field(None, max_length=200)
    active: bool | None = None
    sites: list[str] | None = Field(None, max_length=200)
    all_sites: bool | None = None


class OneTime(BaseModel):
    """A password that is told once."""

    password: str


class OwnPassword(BaseModel):
    """One's own password, changed."""

    old: str = Field(max_length=200)
    new: str = Field(max_length=200)


class SessionShape(BaseModel):
    """A session of one's own."""

    model_config = ConfigDict(from_attributes=True)

    id: int
    began: datetime | None
    address: str
    expires: datetime
    this: bool


class FactorOffer(BaseModel):
    """A secret for an application on one's telephone, to be typed or read from the picture (SVG)."""

    model_config = ConfigDict(from_attributes=True)

    secret: str
    picture: str


class FactorForm(BaseModel):
    """The secret that was offered, with a code that shows that the telephone has it."""

    secret: str = Field(max_length=64)
    code: str = Field(max_length=20)


class CodeForm(BaseModel):
    code: str = Field(max_length=20)


class SignInRules(BaseModel):
    """What the site asks of those who sign in; `idle` in minutes."""

    model_config = ConfigDict(from_attributes=True)

    idle: int
    factor_of_administrators: bool


class SiteShape(BaseModel):
    """A site of the installation."""

    model_config = ConfigDict(from_attributes=True)

    key: str
    name: str
    timezone: str


class SiteForm(BaseModel):
    """A new site; its key stands in addresses."""

    key: str = Field(max_length=100)
    name: str = Field(max_length=120)
    timezone: str = Field(max_length=60)


class LookForm(BaseModel):
    """Light, dark or as the system; the size of everything, per cent; how figures, days and weeks are
    written."""

    theme: Literal["light", "dark", "system"]
    size: int = Field(ge=50, le=300)
    decimals: Literal[".", ","] = "."
    days: Literal["named", "dotted", "iso"] = "named"
    weeks: Literal["iso", "short", "slashed"] = "iso"


class RegisterRowForm(BaseModel):
    """A row as text cells by column; `revision` None makes it."""

    cells: dict[str, str]
    revision: int | None


class RegisterRemoval(BaseModel):
    key: str = Field(max_length=60)
    revision: int
