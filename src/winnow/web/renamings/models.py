"""What the API takes and gives of renaming in place."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from winnow.web.deliveries.models import FramesIn, Renamed, SeqFrom
from winnow.web.models import Model


class RenamingIn(FramesIn):
    """New names for files where they are."""

    template: str = Field(max_length=300)
    seq_from: SeqFrom = 1


class LeftNamed(Model):
    """A frame that keeps its name, and why."""

    name: str
    why: str


class RenamingPlanOut(Model):
    """What a renaming would do. ``numbered``: names that are taken, and so get a number."""

    frames: int
    files: int
    names: list[Renamed]
    numbered: list[Renamed]
    left: list[LeftNamed]


class RenamingOut(Model):
    """A renaming and how it stands. Time in seconds since 1970."""

    id: int
    made_at: float
    template: str
    frames: int
    state: Literal["planned", "running", "undoing", "done", "undone", "stopped"]
    notice: str
    steps: int
    done: int
