"""What the API takes and gives of lists."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from winnow.web.files.models import Frames, SaidOut
from winnow.web.models import Model, Whole


class ListOutIn(Model):
    """Which frames go into a list, in which form, with which parts."""

    frames: Frames
    form: Literal["csv", "json"] = "csv"
    parts: list[Literal["marks", "texts", "facts", "hints"]] = Field(
        default=["marks", "texts", "facts", "hints"], max_length=4
    )


class ListText(Model):
    """A list as text."""

    text: str


class ListIn(Model):
    """A list that came back, as the bytes of its file in base64."""

    name: str = Field(default="", max_length=200)
    content: str = Field(max_length=48_000_000)
    window: str = Field(default="", max_length=40)


class ListedFrame(Model):
    """A frame that a list would change."""

    frame: int
    here: SaidOut
    after: SaidOut


class RowLeft(Model):
    """A row of a list that is left out, and why."""

    row: Whole
    why: str


class CameOut(Model):
    """What a list would do. ``unknown``: columns that mean nothing here."""

    rows: int
    same: int
    frames: list[ListedFrame]
    changes: int
    problems: list[RowLeft]
    unknown: list[str]
