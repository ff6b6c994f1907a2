"""What the API takes and gives of titles, captions, keywords and the rest, and templates of
them."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from winnow.web.models import Entries, Id, Model, Text, TextsModel
from winnow.web.settings.models import SetName

FieldName = Literal[
    "title", "caption", "keywords", "creators", "rights", "location", "city", "state", "country",
    "instructions",
]  # fmt: skip


class TextsOfIn(Model):
    """Frames whose texts are asked for."""

    frames: Annotated[list[Id], Field(min_length=1, max_length=200_000)]


class FieldOut(Model):
    """A field's name on screen and in IPTC Core."""

    name: FieldName
    words: str
    iptc: str
    listed: bool


class TextsOut(Model):
    """What is written about frames.

    ``several``: fields that differ among them, which are empty here. ``keywords``: those that all
    have; ``some``: those that only some have, with how many.
    """

    texts: TextsModel
    several: list[FieldName]
    some: dict[str, int]


class TextEditIn(Model):
    """What to change: fields to set (a list only for keywords and creators), keywords to add and to
    take away.

    ``filled``: fields in braces are replaced by each frame's own values.
    """

    frames: Annotated[list[Id], Field(min_length=1, max_length=200_000)]
    put: dict[FieldName, Text | Entries] = Field(default={}, max_length=9)
    add: Entries = Field(default=[])
    remove: Entries = Field(default=[])
    filled: bool = False
    window: str = Field(default="", max_length=40)


class TemplateModel(Model):
    """Texts to be used again, with fields in braces."""

    name: SetName
    put: dict[FieldName, Text | Entries] = Field(default={}, max_length=9)
    add: Entries = Field(default=[])


class FilledFieldOut(Model):
    """A field in braces, and what it stands for."""

    name: str
    words: str


class UsedOut(Model):
    """An entry that is used, and on how many frames."""

    value: str
    frames: int
