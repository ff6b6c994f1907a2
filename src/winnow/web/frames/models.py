"""What the API takes and gives of frames, their facts and pictures."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from winnow.core.marks import Decision
from winnow.core.measure import exposure
from winnow.core.verdict.order import StandingWords
from winnow.web.models import FileName, FilterModel, Id, Model, StandingOut, TextsModel


class NoPicturesOut(Model):
    """How many files of a folder are no pictures, by ending: companions of frames, and files of no
    frame."""

    companions: dict[str, int]
    others: dict[str, int]


class FramesOut(Model):
    """Every frame of a shoot in order, column by column: entry n of each list is frame n.

    ``shot_at``: seconds of the shoot's common clock. ``width``, ``height``: px, upright.
    ``picture``: 0 none yet, 1 the camera's thumbnail, 2 preview. ``state``: 0 found, 1 read, 2
    done, 3 failed. ``turned``: quarter turns to the right on screen. ``blur``: px at 100 % at the
    part that matters, None where there is no edge to measure; in the sharpest part until it is
    judged.
    """

    id: list[int]
    name: list[str]
    kind: list[str]
    state: list[int]
    picture: list[int]
    key: list[str | None]
    missing: list[bool]
    notice: dict[int, str]
    shot_at: list[float | None]
    width: list[int | None]
    height: list[int | None]
    group: list[int]
    turned: list[int]
    held: list[int] = Field(description="ids of the frames that are set aside")
    moved_out: list[int] = Field(description="ids of those that a delivery moved out")
    undated: list[int] = Field(
        description="ids of those whose file doesn't say when it was taken: the time of its last "
        "change stands in"
    )
    pairs: list[list[int]] = Field(
        description="ids of the frames that are linked as parts of one picture, picture by picture"
    )
    seen: list[bool] = Field(description="whether the owner has looked at it")
    blur: list[float | None]
    standing: list[int] = Field(description="which of `standings`, -1 until it is judged")
    standings: list[StandingWords]
    decision: list[Decision]
    stars: list[int]
    label: list[str | None]


class InFileOut(Model):
    """A mark in the picture file itself."""

    rating: int | None = None
    label: str | None = None


class ClippedOut(Model):
    """Shares of clipped pixels, 0…1: of red, green, blue, and of all three at once.

    In a preview, a channel is shown as clipped ``shown_from`` this value on, and all three
    ``shown_to`` that one (0…255).
    """

    high: list[float]
    low: list[float]
    shown_from: int = exposure.SHOWN_HIGH
    shown_to: int = exposure.SHOWN_LOW


class StatedOut(Model):
    """A fact that the file states: its name in filters and on the screen, its value, and that in
    words.

    ``alone``: the words where no name stands beside them, in the line of the exposure; "" for what
    isn't told there.
    """

    fact: str
    title: str
    value: str | float | bool
    words: str
    alone: str


Source = Literal["file", "embedded", "developed", "reduced"]


class FactsOut(Model):
    """The facts of one frame. ``brightness_ev`` in EV.

    ``taken_at`` is the camera's own clock, or where not ``dated`` the time at which the file was
    changed; ``shot_at`` is by the shoot's common clock, which ``clock_offset_s`` of this camera's
    makes one. ``focus_x``, ``focus_y``: 0…1 of the upright picture. ``blur_px``: in the sharpest
    part, px at 100 %.
    """

    id: int
    name: str
    files: list[FileName]
    sidecars: list[FileName]
    companions: list[FileName] = Field(
        description="films, notes, other programs' settings of its name"
    )
    folder: FileName
    kind: str
    notice: str
    taken_at: float | None
    shot_at: float | None
    dated: bool
    utc_offset_min: int | None
    shoot_utc_offset_min: int | None = Field(
        description="of the shoot's common clock; None where no frame states a time zone"
    )
    stated: list[StatedOut] = Field(
        description="what its file states, in order; facts that are missing are left out"
    )
    width: int | None
    height: int | None
    clipped_high: float | None
    clipped_low: float | None
    brightness_ev: float | None
    clock_offset_s: float
    focus_x: float | None
    focus_y: float | None
    latitude: float | None
    longitude: float | None
    in_file: InFileOut
    texts: TextsModel
    content_hash: str | None
    shown_from: Source
    close_from: Source
    clipped: ClippedOut | None
    blur_px: float | None
    judged_at: str = Field(description="the part that matters, in a word; empty until it is judged")
    standing: StandingOut | None = Field(description="how sharp it is there, against its group")
    verdict: str = Field(description="on it in its group, in words; empty for one alone")
    marked_by: str = Field(description="the guest who marked it last; empty for the owner")


class FocusOut(Model):
    """Where a frame is sharp: tiles in rows from the upper left, each ``tile`` px wide and high at
    100 %, with the blur of its edges in px (null where there are none)."""

    rows: int
    columns: int
    tile: float
    blur: list[float | None]


class PartIn(Model):
    """A part of a frame in px at 100 %, enlarged 1 or 2 times; ``key`` names the content."""

    left: int = Field(ge=0, le=100_000)
    top: int = Field(ge=0, le=100_000)
    width: int = Field(ge=1, le=4096)
    height: int = Field(ge=1, le=4096)
    scale: int = Field(default=1, ge=1, le=2)
    key: str = Field(default="", max_length=100)


class FindIn(FilterModel):
    """A filter; ``since``: the name of the answer that is known, so that only what is different is
    said."""

    since: str = Field(default="", max_length=100)


class FoundOut(Model):
    """The frames that pass a filter, and how many each choice would leave.

    ``answer``: the name of this one. ``ids``: all of them in order; None where ``came`` and
    ``gone`` say what is different to the answer that was known.
    """

    answer: str
    ids: list[int] | None
    came: list[int]
    gone: list[int]
    words: str
    shown: int
    total: int
    decisions: dict[Decision, int]
    stars: list[int]
    labels: dict[str, int]


class TurnIn(Model):
    """Frames to turn on screen, by quarter turns to the right."""

    frames: list[Id] = Field(min_length=1, max_length=100_000)
    by: Literal[1, 2, 3]


class TurnedOut(Model):
    """How far frames are turned now, by their ids."""

    turned: dict[int, int]


class PathsIn(Model):
    """Frames whose files are asked for."""

    frames: list[Id] = Field(min_length=1, max_length=100_000)


class PathsOut(Model):
    """Where the files of frames are, in the order of the shoot; the shown one of each first."""

    paths: list[FileName]


class SeenIn(Model):
    """Frames that the owner has looked at."""

    frames: list[Id] = Field(max_length=10_000)


class LookingAt(Model):
    """The frames on screen, the most wanted first."""

    frames: list[Id] = Field(max_length=500)
