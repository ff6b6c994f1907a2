"""What the API takes and gives of settings, labels, keys and saved filters."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from winnow.core.labels import Shape
from winnow.web.models import Model, Whole
from winnow.work.runtime import CACHE_GB

AfterMark = Literal["stay", "next", "next_undecided", "next_group"]


class LabelModel(Model):
    """One label of the label set."""

    letter: str = Field(min_length=1, max_length=1)
    name: str = Field(min_length=1, max_length=40)
    meaning: str = Field(max_length=200)
    shape: Shape
    colour: str = Field(pattern=r"^#[0-9a-f]{6}$")
    written_as: str = Field(min_length=1, max_length=100)


class LabelChoices(Model):
    """What labels can look like: shapes, and colours with their names."""

    shapes: list[Shape]
    colours: dict[str, str]


SetName = Annotated[str, Field(min_length=1, max_length=60)]


class LabelSet(Model):
    """A label set under a name."""

    name: SetName
    labels: list[LabelModel] = Field(max_length=9)


class LabelSetFile(Model):
    """A label set as the text of a file."""

    text: str = Field(max_length=100_000)


Chord = Annotated[str, Field(min_length=1, max_length=40)]


class KeySet(Model):
    """Keys that differ from the standard ones: for a command, all of its keys."""

    name: SetName = "My keys"
    keys: dict[Annotated[str, Field(max_length=60)], list[Chord]] = Field(
        default={}, max_length=500
    )


class AfterMarks(Model):
    """What happens after a mark, for each kind of mark."""

    decision: AfterMark = "next"
    stars: AfterMark = "stay"
    label: AfterMark = "stay"


class Settings(Model):
    """The person's settings. ``row_height`` in px at 100 %; ``cache_gb`` in 10^9 bytes.

    ``backup_place``: a folder to which every backup is copied as well; "" for none.
    """

    after: AfterMarks = AfterMarks()
    row_height: Annotated[Whole, Field(ge=80, le=480)] = 180
    surround: Literal["dark", "middle", "light"] = "middle"
    theme: Literal["light", "dark"] = "light"
    facts_shown: bool = True
    cache_gb: Annotated[Whole, Field(ge=1, le=10_000)] = CACHE_GB
    backup_place: str = Field(default="", max_length=4096)
    follow_newest: bool = False
    keys: KeySet = KeySet()
    sort: Literal["time", "name", "focus", "stars", "decision"] = "time"
    magnifier: Literal[1, 2] = 1
    write_by_itself: bool = Field(default=False, description="write files after each mark")
    embed: bool = Field(default=False, description="write into JPEGs themselves, not beside them")
    sidecar_names: Literal["stem", "full"] = "stem"
    profile: Annotated[str, Field(max_length=60)] = ""
    toured: bool = Field(default=False, description="the first steps were shown, or not wanted")


class CacheOut(Model):
    """How many bytes the picture cache takes, and may take."""

    bytes: int
    most: int
