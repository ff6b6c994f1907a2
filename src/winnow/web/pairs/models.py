"""What the API takes of frames that are parts of one picture."""

from __future__ import annotations

from pydantic import Field

from winnow.web.models import Id, Model


class LinkIn(Model):
    """Frames that are parts of one picture; ``window`` names the one that asks."""

    frames: list[Id] = Field(min_length=2, max_length=24)
    window: str = Field(default="", max_length=40)


class ApartIn(Model):
    """A part of the picture that is taken apart."""

    frame: Id
    window: str = Field(default="", max_length=40)
