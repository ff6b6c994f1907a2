"""What the API takes and gives of shoots."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from winnow.web.frames.models import NoPicturesOut
from winnow.web.models import FileName, FilterModel, Model, TypedPath


class FolderOut(Model):
    """A source folder; ``beside``: what is in it beside pictures."""

    id: int
    path: str
    notice: str
    beside: NoPicturesOut


class TallyOut(Model):
    """Numbers of frames."""

    frames: int
    shown: int
    done: int
    faces: int = Field(description="frames in which faces were looked for")
    failed: int
    missing: int
    picks: int
    rejects: int
    undecided: int
    changed_outside: int = Field(description="frames whose files changed outside; not taken over")
    in_conflict: int = Field(description="frames that changed here and in their files")


class StatusOut(Model):
    """How the indexing stands."""

    running: bool
    stage: Literal["", "looking", "measuring", "reading", "pictures", "faces", "hints", "people"]
    stopped: bool
    notices: list[str]


Way = Literal["", "pick_in", "weed_out"]


class ShootOut(Model):
    """A shoot with its numbers. Times are seconds since 1970."""

    id: int
    name: str
    made_at: float
    opened_at: float
    filter: FilterModel
    folders: list[FolderOut]
    tally: TallyOut
    status: StatusOut
    cover: list[int] = Field(description="up to four frames to show for it")
    keep_target: int | None = Field(description="how many frames are to be kept, if set")
    way: Way = Field(description="how the first pass is done; empty until that is chosen")
    archived: bool
    seq_next: int = Field(description="where names that count go on")
    first_at: float | None = Field(description="when its first frame was taken")
    last_at: float | None


class ShootIn(Model):
    """The folders of a new shoot; its name is the first folder's unless given."""

    folders: list[TypedPath] = Field(min_length=1, max_length=50)
    name: str | None = Field(default=None, max_length=200)
    as_new: bool = Field(
        default=False, description="also where they seem to be those of a shoot that moved"
    )
    whole: bool = Field(default=False, description="also where they hold far more than a shoot")


class MovedShoot(Model):
    """A shoot that seems to have moved to a folder that is about to be opened."""

    shoot: int
    name: str
    folder: int
    was: str
    place: str
    found: int = Field(description="how many of its frames lie there")
    frames: int


class AskedOut(Model):
    """Asks before a shoot is made: is this ``moved`` to another place, or is ``wide``, a folder
    that holds far more than a shoot, meant as a whole?"""

    detail: str
    moved: MovedShoot | None = None
    wide: FileName | None = None


class PlaceIn(Model):
    """Where a source folder is now."""

    place: TypedPath


class ShootChange(Model):
    """What to change of a shoot; what is left out stays. A keep target of 0 takes it away."""

    name: str | None = Field(default=None, min_length=1, max_length=200)
    keep_target: int | None = Field(default=None, ge=0, le=1_000_000)
    way: Way | None = None
    archived: bool | None = None


class ClockOut(Model):
    """A camera of a shoot, how many frames it took, from when to when by its own clock, and what is
    added to that clock, in seconds. ``zones``: the time zones that its files state, in minutes from
    UTC, by which its frames are in the order of instants; ``unzoned``: how many frames state
    none."""

    camera: str
    serial: str
    frames: int
    first_at: float
    last_at: float
    offset_s: float
    zones: list[int]
    unzoned: int


class ClockIn(Model):
    """What is to be added to a camera's clock, in seconds."""

    camera: str = Field(max_length=200)
    serial: str = Field(default="", max_length=200)
    offset_s: float = Field(ge=-400 * 86400, le=400 * 86400, allow_inf_nan=False)
