"""What the API takes and gives of deliveries."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from winnow.core.deliver.ways import How
from winnow.core.marks import Decision
from winnow.web.models import FileName, FilterModel, Id, Model, Whole


class FramesIn(Model):
    """Which frames something is done with: the picks, unless it is said otherwise."""

    filter: FilterModel = FilterModel(decisions=[Decision.PICK])
    frames: Annotated[list[Id], Field(max_length=200_000)] | None = Field(
        default=None, description="these frames, instead of those that pass the filter"
    )


SeqFrom = Annotated[
    Whole, Field(ge=0, le=10_000_000, description="where {seq} in a name begins to count")
]


class DeliveryIn(FramesIn):
    """Which frames to deliver where."""

    target: str = Field(max_length=4096)
    sidecars: bool = True
    template: str = Field(default="{name}", max_length=300, description="of the names")
    which: Literal["all", "raw", "ready"] = "all"
    how: How = Field(default="copy", description="copied, moved, or as hard links on the same disk")
    manifest: bool = False
    companions: bool = False
    seq_from: SeqFrom = 1


class RecipeModel(Model):
    """How to deliver, to be repeated. ``what``: the picks, or what the filter shows."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    target: str = Field(max_length=4096)
    what: Literal["picks", "shown"] = "picks"
    sidecars: bool = True
    template: str = Field(default="{name}", max_length=300)
    which: Literal["all", "raw", "ready"] = "all"
    how: How = "copy"
    manifest: bool = False
    companions: bool = False


class Renamed(Model):
    """A file that gets another name in the target, because its own is taken."""

    name: FileName
    copy_name: FileName


class PlanOut(Model):
    """What a delivery would do. Sizes in bytes."""

    target: str
    makes_folder: bool
    frames: int
    files: int
    size: int
    free: int
    renamed: list[Renamed]
    already_there: int
    missing: list[str]
    changed: list[str] = Field(description="frames whose files are others than Winnow last saw")
    elsewhere: list[str] = Field(
        description="frames that can't be moved: they are not in the shoot"
    )
    unchecked: list[str] = Field(
        description="frames that get no sidecar, as guests changed them and that was not taken over"
    )
    linked: list[str] = Field(
        description="frames that come along, as parts of one picture with those asked for"
    )
    companions: int = Field(description="companion files that the frames have, delivered or not")
    names: list[Renamed] = Field(description="every picture file with its new name")


class DeliveryOut(Model):
    """A delivery and how it stands. Sizes in bytes, times in seconds since 1970."""

    id: int
    shoot_id: int
    target: str
    how: How
    made_at: float
    ended_at: float | None
    state: Literal["planned", "running", "stopped", "done", "cancelled", "returning", "returned"]
    notice: str
    files: int
    size: int
    done: int
    already_there: int
    failed: int
    back: int = Field(description="files that were taken back")
    size_done: int
    speed: float | None = Field(default=None, description="bytes a second, while it runs")
    left_s: float | None = Field(default=None, description="seconds it will still take")


class DeliveryItemOut(Model):
    """One file of a delivery: where it came from and what it is called in the target."""

    source: FileName
    name: FileName
    state: Literal["planned", "done", "there", "failed", "back"]
    hash: str | None
    notice: str
