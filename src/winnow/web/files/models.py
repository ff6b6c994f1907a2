"""What the API takes and gives of texts, files, profiles and lists."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Literal

from pydantic import BeforeValidator, Field

from winnow.core.files.merge import Side
from winnow.web.marks.models import ChangeOut, MarkOut
from winnow.web.models import Id, Letter, Model, Stars, TextsModel
from winnow.web.settings.models import SetName

PartName = Literal[
    "decision", "stars", "label", "title", "caption", "keywords", "creators", "rights", "location",
    "city", "state", "country", "instructions",
]  # fmt: skip
Frames = Annotated[list[Id], Field(max_length=200_000)]


class SaidOut(Model):
    """All that is said of a frame."""

    mark: MarkOut
    texts: TextsModel


class WriteOut(Model):
    """A property that would change in a file."""

    file: str
    prop: str
    before: str
    after: str


class PlannedOut(Model):
    """What writing would do to one frame's files. ``conflicts``: parts that changed here and
    there."""

    frame: int
    name: str
    outcome: Literal["new", "change", "same", "take", "conflict", "unreadable"]
    here: SaidOut
    in_file: SaidOut
    took: list[PartName]
    conflicts: list[PartName]
    writes: list[WriteOut]
    label_text: str = Field(description="the label text in the file")
    notice: str


class FilesPlanOut(Model):
    """What writing would do: numbers of frames by outcome, and the frames; of those without a
    problem the first ones only. ``plan``: its name, to be given when it is written. ``embeds``: how
    many picture files would be changed."""

    plan: str
    unchecked: int = Field(
        description="frames that guests changed, of which nothing is written until that is taken "
        "over"
    )
    takes_away: int = Field(
        description="frames of which files take away, or replace, what is said here"
    )
    counts: dict[str, int]
    embeds: int
    frames: list[PlannedOut]
    unknown_labels: dict[str, int] = Field(
        description="label texts in files that mean nothing here, with how many frames have them"
    )


class DecidedOne(Model):
    """Whose word counts for a part of one frame."""

    frame: Id
    part: PartName
    side: Side


class WriteFilesIn(Model):
    """Whose word counts in conflicts: for a kind of part in every frame, and for single ones.

    ``frames``: write only these. ``plan``: which plan the person saw. Where files would take
    something away that it did not show, that is offered instead.
    """

    plan: str = Field(default="", max_length=40)
    frames: Frames | None = None
    kinds: dict[PartName, Side] = Field(default={}, max_length=20)
    single: list[DecidedOne] = Field(default=[], max_length=50_000)


class LeftOut(Model):
    """A frame whose files were left alone, and why."""

    frame: int
    notice: str


def _pairs(problems: Iterable[tuple[int, str]]) -> list[dict[str, object]]:
    return [{"frame": frame, "notice": why} for frame, why in problems]


Problems = Annotated[list[LeftOut], BeforeValidator(_pairs)]


class WrittenFilesOut(Model):
    """What writing did: files written, frames that were up to date, frames taken over from."""

    written: int
    same: int
    taken: int
    problems: Problems


class FilesStatusOut(Model):
    """How the last writing of a shoot stands.

    ``unwritten``: frames with something not written yet; ``changed_outside``: frames whose files
    changed, of which nothing is taken over yet; ``notice``: why it ended before its end.
    """

    running: bool
    by_itself: bool
    stopped: bool
    done: int
    total: int
    notice: str
    result: WrittenFilesOut | None
    unwritten: int
    changed_outside: list[int]


class ProfileModel(Model):
    """How marks are written for other programs; see the docs on XMP."""

    name: SetName
    pick_good: bool = True
    pick_stars: Stars = 0
    pick_label: Annotated[str, Field(max_length=100)] = ""
    reject_rating: bool = True
    reject_label: Annotated[str, Field(max_length=100)] = ""
    labels: dict[Letter, Annotated[str, Field(max_length=100)]] = Field(default={}, max_length=20)


class SampleOut(Model):
    """How a mark would be written, and as what it would be read again."""

    mark: MarkOut
    rating: int | None
    label: str | None
    good: bool | None
    again: MarkOut


class SamplesOut(Model):
    """A profile's preview.

    ``ambiguous``: frames in the shoot that would be read as picks and are none.
    """

    samples: list[SampleOut]
    problem: str = ""
    ambiguous: int = 0


class LabelTextIn(Model):
    """What a label text found in files means: a letter, "" for no label."""

    text: Annotated[str, Field(min_length=1, max_length=200)]
    letter: Letter


class TakenOut(ChangeOut):
    """What was taken over from files, and what stood in the way."""

    notices: list[str]
