"""What the API takes and gives of settings, labels, keys and saved filters."""

from __future__ import annotations

from typing import Annotated, Final, Literal

from pydantic import Field

from winnow.core import settings as core
from winnow.core.deliver.ways import How
from winnow.core.files.texts import LONGEST_ENTRY
from winnow.core.labels import Shape
from winnow.core.settings import AfterMark, SidecarNames, Sort, Surround, Theme
from winnow.web.models import Model, Number, Whole

_USUAL: Final = core.Settings()


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

    name: SetName = _USUAL.keys.name
    keys: dict[Annotated[str, Field(max_length=60)], list[Chord]] = Field(
        default={}, max_length=500
    )


class AfterMarks(Model):
    """What happens after a mark, for each kind of mark."""

    decision: AfterMark = _USUAL.after.decision
    stars: AfterMark = _USUAL.after.stars
    label: AfterMark = _USUAL.after.label


class Settings(Model):
    """The person's settings. ``row_height`` in px at 100 %; ``cache_gb`` in 10^9 bytes.

    ``backup_place``: a folder to which every backup is copied as well; "" for none.
    """

    after: AfterMarks = AfterMarks()
    row_height: Annotated[Whole, Field(ge=80, le=480)] = _USUAL.row_height
    surround: Surround = _USUAL.surround
    theme: Theme = _USUAL.theme
    facts_shown: bool = _USUAL.facts_shown
    cache_gb: Annotated[Whole, Field(ge=1, le=10_000)] = _USUAL.cache_gb
    backup_place: str = Field(default=_USUAL.backup_place, max_length=4096)
    follow_newest: bool = _USUAL.follow_newest
    keys: KeySet = KeySet()
    sort: Sort = _USUAL.sort
    magnifier: Literal[1, 2] = _USUAL.magnifier
    write_by_itself: bool = Field(
        default=_USUAL.write_by_itself, description="write files after each mark"
    )
    embed: bool = Field(
        default=_USUAL.embed, description="write into JPEGs themselves, not beside them"
    )
    faces_share: Annotated[Number, Field(ge=0.15, le=0.8)] = Field(
        default=_USUAL.faces_share, description="of the height, what the faces panel takes at most"
    )
    parts_keyword: Annotated[str, Field(max_length=LONGEST_ENTRY)] = Field(
        default=_USUAL.parts_keyword,
        description="what frames get that are linked as parts of one picture; empty for none",
    )
    tiles: Literal[2, 4, 6, 9, 12] = Field(
        default=_USUAL.tiles, description="how many frames stand side by side at most"
    )
    names_shown: bool = Field(
        default=_USUAL.names_shown, description="names stand under the frames of the sheet"
    )
    last_target: str = Field(
        default=_USUAL.last_target,
        max_length=4096,
        description="the folder that frames went to last from where they are looked at",
    )
    last_how: How = _USUAL.last_how
    last_program: Annotated[str, Field(max_length=60)] = _USUAL.last_program
    sidecar_names: SidecarNames = _USUAL.sidecar_names
    profile: Annotated[str, Field(max_length=60)] = _USUAL.profile
    toured: bool = Field(
        default=_USUAL.toured, description="the first steps were shown, or not wanted"
    )


class CacheOut(Model):
    """How many bytes the picture cache takes, and may take."""

    bytes: int
    most: int
