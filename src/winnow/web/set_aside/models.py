"""What the API takes and gives of deleting what was set aside."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from winnow.web.files.models import Problems
from winnow.web.models import FileName, Id, Model


class DeletionLookIn(Model):
    """Frames to look at before they are deleted; without any named, all that are set aside."""

    frames: Annotated[list[Id], Field(max_length=200_000)] | None = None


class DeletionIn(Model):
    """The number of frames, as the person typed it."""

    number: int = Field(ge=0, le=10_000_000)
    trash: bool = Field(description="to the system's trash, instead of for good")


class DeletionLookOut(Model):
    """What would be deleted. ``only``: files of which no other copy was found; bytes."""

    frames: int
    files: int
    size: int
    only: list[FileName]
    only_files: int
    only_size: int


class DeletionOut(Model):
    """How looking, or deleting, stands; ``done`` of ``total`` are frames; ``notice``: why it ended
    before its end."""

    stage: Literal["", "looking", "looked", "deleting", "deleted"]
    done: int
    total: int
    look: DeletionLookOut | None
    deleted: int
    notice: str
    problems: Problems
