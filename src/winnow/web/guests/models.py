"""What the API takes and gives about sharing a shoot with guests."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from winnow.web.guests.sessions import May
from winnow.web.models import Id, Model, Text


class GuestOut(Model):
    """Somebody who is signed in. ``since``, ``seen``: seconds since 1970."""

    id: int
    name: str
    address: str
    since: float
    seen: float


class SharingOut(Model):
    """Whether a shoot is shared on the local network.

    To a guest only their own name and rights are told. ``urls``: by which others open it; ``code``:
    the first of them as a QR code, a picture as a data URI; ``fingerprint``: SHA-256 of the
    certificate; ``shortest``: characters of a password.
    """

    on: bool
    guest: str = Field(description="the name of the guest who asks; empty for the owner")
    may: list[May] = Field(description="what guests may do beyond looking")
    shoot: int | None
    urls: list[str]
    code: str
    fingerprint: str
    guests: list[GuestOut]
    shortest: int


class SharingIn(Model):
    """Which shoot to share, with which password, and what its guests may do beyond looking."""

    shoot: Id
    password: Annotated[Text, Field(max_length=200)]
    may: list[May] = Field(max_length=2)


class WaitingOut(Model):
    """What a guest did that waits for the owner: how many steps, and which frames they changed."""

    by: str
    steps: int
    frames: list[int]


class TakeIn(Model):
    """Whose steps are taken over, or back; none: everybody's."""

    by: str | None = Field(default=None, max_length=100)
    window: str = Field(default="", max_length=40)
