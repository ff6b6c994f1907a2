"""What the API takes and gives. The page's types are made from these."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BaseModel, BeforeValidator, ConfigDict, Field

from winnow.core.filters.filter import StarsRule
from winnow.core.marks import Decision


def _only_numbers(value: Any) -> Any:
    # Without this a whole number may also be given as true or "3".
    if isinstance(value, bool | str):
        raise ValueError("must be a number")
    return value


Whole = Annotated[int, BeforeValidator(_only_numbers)]
Number = Annotated[float, BeforeValidator(_only_numbers)]
Id = Annotated[Whole, Field(ge=1, le=2**53)]
Stars = Annotated[Whole, Field(ge=0, le=5)]
Path = Annotated[str, Field(min_length=1, max_length=4096)]
Letter = Annotated[str, Field(max_length=1)]


# What an encoder can't take is no text.
def _is_text(value: str) -> str:
    value.encode()
    return value


Text = Annotated[str, Field(max_length=20_000), AfterValidator(_is_text)]
Entry = Annotated[str, Field(max_length=1_000), AfterValidator(_is_text)]
Entries = Annotated[list[Entry], Field(max_length=500)]


class Model(BaseModel):
    model_config = ConfigDict(extra="forbid", from_attributes=True)


class Problem(BaseModel):
    """Why something can't be done, in words."""

    detail: str


class NoPicturesOut(Model):
    """How many files of a folder are no pictures, by ending: companions of frames, and files of no frame."""

    companions: dict[str, int]
    others: dict[str, int]


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
    stage: Literal["", "looking", "measuring", "reading", "pictures", "faces", "hints"]
    stopped: bool
    notices: list[str]


class FilterModel(Model):
    """Which frames to show; an empty one lets all pass."""

    decisions: list[Decision] = Field(default=[], max_length=3)
    stars_rule: StarsRule = "at_least"
    stars: Stars | None = None
    labels: list[Letter] = Field(default=[], max_length=20)
    written: str = Field(default="", max_length=500, description="more conditions, as typed")


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


class ShootIn(Model):
    """The folders of a new shoot; its name is the first folder's unless given."""

    folders: list[Path] = Field(min_length=1, max_length=50)
    name: str | None = Field(default=None, max_length=200)
    as_new: bool = Field(
        default=False, description="also where they seem to be those of a shoot that moved"
    )


class MovedShoot(Model):
    """A shoot that seems to have moved to a folder that is about to be opened."""

    shoot: int
    name: str
    folder: int
    was: str
    place: str
    found: int = Field(description="how many of its frames lie there")
    frames: int


class MovedOut(Model):
    """Asks whether a folder is that of a shoot that moved."""

    detail: str
    moved: MovedShoot


class PlaceIn(Model):
    """Where a source folder is now."""

    place: Path


class ShootChange(Model):
    """What to change of a shoot; what is left out stays. A keep target of 0 takes it away."""

    name: str | None = Field(default=None, min_length=1, max_length=200)
    keep_target: int | None = Field(default=None, ge=0, le=1_000_000)
    way: Way | None = None


class FramesOut(Model):
    """Every frame of a shoot in order, column by column: entry n of each list is frame n.

    ``taken_at``: seconds of the shoot's common clock. ``width``, ``height``: px, upright. ``picture``: 0
    none yet, 1 the camera's thumbnail, 2 preview. ``state``: 0 found, 1 read, 2 done, 3 failed.
    ``turned``: quarter turns to the right on screen. ``blur``: px at 100 % at the part that
    matters, or in the sharpest part until that is known.
    """

    id: list[int]
    name: list[str]
    kind: list[str]
    state: list[int]
    picture: list[int]
    key: list[str | None]
    missing: list[bool]
    notice: dict[int, str]
    taken_at: list[float | None]
    width: list[int | None]
    height: list[int | None]
    group: list[int]
    turned: list[int]
    held: list[int] = Field(description="ids of the frames that are set aside")
    moved_out: list[int] = Field(description="ids of those that a delivery moved out")
    undated: list[int] = Field(
        description="ids of those whose file doesn't say when it was taken: the time of its last change stands in"
    )
    blur: list[float | None]
    decision: list[Decision]
    stars: list[int]
    label: list[str | None]


class TextsModel(Model):
    """What is written about a frame, by the names of IPTC Core; caption is its Description."""

    title: Text = ""
    caption: Text = ""
    keywords: Entries = []
    creators: Entries = []
    rights: Text = ""
    location: Text = ""
    city: Text = ""
    state: Text = ""
    country: Text = ""
    instructions: Text = ""


class InFileOut(Model):
    """A mark in the picture file itself."""

    rating: int | None = None
    label: str | None = None


class ClippedOut(Model):
    """Shares of clipped pixels, 0…1: of red, green, blue, and of all three at once."""

    high: list[float]
    low: list[float]


Source = Literal["file", "embedded", "developed", "reduced"]


class FactsOut(Model):
    """The facts of one frame. ``focal_mm`` in mm, ``shutter_s`` in s, ``brightness_ev`` in EV.

    ``taken_at`` is the camera's own clock, or where not ``dated`` the time at which the file was changed;
    ``clock_offset_s`` brings it to the shoot's. ``focus_x``,
    ``focus_y``: 0…1 of the upright picture. ``blur_px``: in the sharpest part, px at 100 %.
    """

    id: int
    name: str
    files: list[str]
    sidecars: list[str]
    companions: list[str] = Field(description="films, notes, other programs' settings of its name")
    folder: str
    kind: str
    notice: str
    taken_at: float | None
    dated: bool
    utc_offset_min: int | None
    shoot_utc_offset_min: int | None = Field(
        description="of the shoot's common clock; None where no frame states a time zone"
    )
    camera: str | None
    lens: str | None
    focal_mm: float | None
    aperture: float | None
    shutter_s: float | None
    iso: int | None
    flash: bool | None
    width: int | None
    height: int | None
    clipped_high: float | None
    clipped_low: float | None
    brightness_ev: float | None
    clock_offset_s: float
    serial: str | None
    lens_serial: str | None
    exposure_bias_ev: float | None
    drive_mode: str | None
    focus_mode: str | None
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


class ClockOut(Model):
    """A camera of a shoot, how many frames it took, from when to when by its own clock, and what is
    added to that clock, in seconds. ``zones``: the time zones that its files state, in minutes from UTC, by which
    its frames are in the order of instants; ``unzoned``: how many frames state none."""

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


class FoundOut(Model):
    """The frames that pass a filter, and how many each choice would leave."""

    ids: list[int]
    words: str
    shown: int
    total: int
    decisions: dict[Decision, int]
    stars: list[int]
    labels: dict[str, int]


class EditIn(Model):
    """A mark for frames; what is left out stays. ``label`` "" takes the label off.

    ``window`` names the window it came from, which has drawn it already.
    """

    frames: list[Id] = Field(min_length=1, max_length=100_000)
    decision: Decision | None = None
    stars: Stars | None = None
    label: Letter | None = None
    window: str = Field(default="", max_length=40)


class HistoryOut(Model):
    """What undo and redo would do, in words."""

    undo: str | None
    redo: str | None


class PastChangeOut(Model):
    """A step of the history. ``made_at``: seconds since 1970; ``frames``: how many it changed; ``by``: the guest who
    made it, "" for the owner; ``left``: on a branch that was left when something else was done."""

    id: int
    sentence: str
    made_at: float
    frames: int
    by: str
    undone: bool
    left: bool


class GoToIn(Model):
    """The change that is to be the last one made; none for before the first one."""

    change: Id | None
    window: str = Field(default="", max_length=40)


class PaceOut(Model):
    """Frames decided in a minute of work, if that can be said, and the time worked, in seconds."""

    a_minute: float | None
    worked_s: float


class BarOut(Model):
    """How many frames are left at a step of the funnel; ``value``: stars, or a label's letter."""

    kind: Literal["shot", "decided", "picks", "stars", "label", "delivered"]
    value: str
    frames: int


class FunnelOut(Model):
    """The end of a cull in numbers. ``pace``: decisions in equal parts of the time worked.

    ``alike``: runs of picks that look nearly the same.
    """

    bars: list[BarOut]
    groups: int
    without_pick: int
    alike: list[list[int]]
    a_minute: float | None
    worked_s: float
    pace: list[int]


class TurnIn(Model):
    """Frames to turn on screen, by quarter turns to the right."""

    frames: list[Id] = Field(min_length=1, max_length=100_000)
    by: Literal[1, 2, 3]


class TurnedOut(Model):
    """How far frames are turned now, by their ids."""

    turned: dict[int, int]


class MarkedFrame(Model):
    """A frame and its mark."""

    frame: int
    decision: Decision
    stars: int
    label: str | None


class ChangeOut(HistoryOut):
    """A change that was made, and the mark of each of its frames after it."""

    sentence: str | None
    marks: list[MarkedFrame]
    texts: list[int] = Field(default=[], description="frames whose texts it changed")


class WindowIn(Model):
    """Which window asks."""

    window: str = Field(default="", max_length=40)


class LookingAt(Model):
    """The frames on screen, the most wanted first."""

    frames: list[Id] = Field(max_length=500)


class CompletionsOut(Model):
    """Folders that a typed path may mean."""

    folders: list[str]
    exists: bool


class MarkOut(Model):
    """The mark of a frame."""

    decision: Decision
    stars: int
    label: str | None
