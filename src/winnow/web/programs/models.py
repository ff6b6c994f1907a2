"""What the API takes and gives of handing on to programs."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from winnow.web.deliveries.models import FramesIn
from winnow.web.models import Model
from winnow.web.settings.models import SetName


class ProgramModel(Model):
    """A program that files are handed to: its command line, with ``{files}`` where they stand (or
    at the end)."""

    name: SetName
    command: str = Field(min_length=1, max_length=4_000)
    which: Literal["all", "raw", "ready"] = "ready"


class HandOverIn(FramesIn):
    """Frames for a program, by the program's name."""

    program: SetName


class RunOut(Model):
    """A program that was started. Time in seconds since 1970."""

    id: int
    program: str
    files: int
    started_at: float
    state: Literal["running", "ended", "failed"]
    notice: str
