"""What the API takes and gives. The page's types are made from these."""

from __future__ import annotations

import os
from collections.abc import Iterable
from pathlib import Path as Path
from typing import Annotated, Any, Self

from pydantic import (
    AfterValidator,
    BaseModel,
    BeforeValidator,
    ConfigDict,
    Field,
    WithJsonSchema,
)

from winnow.core.filters.filter import StarsRule
from winnow.core.marks import Decision
from winnow.core.verdict.order import State
from winnow.say import say


def _only_numbers(value: Any) -> Any:
    # Without this a whole number may also be given as true or "3".
    if isinstance(value, bool | str):
        raise ValueError("must be a number")
    return value


Whole = Annotated[int, BeforeValidator(_only_numbers)]
Number = Annotated[float, BeforeValidator(_only_numbers)]
Id = Annotated[Whole, Field(ge=1, le=2**53)]
Stars = Annotated[Whole, Field(ge=0, le=5)]
TypedPath = Annotated[str, Field(min_length=1, max_length=4096)]
Letter = Annotated[str, Field(max_length=1)]


# What an encoder can't take is no text.
def _is_text(value: str) -> str:
    value.encode()
    return value


Text = Annotated[str, Field(max_length=20_000), AfterValidator(_is_text)]
Entry = Annotated[str, Field(max_length=1_000), AfterValidator(_is_text)]
Entries = Annotated[list[Entry], Field(max_length=500)]


def one_of(names: Iterable[str]) -> tuple[AfterValidator, WithJsonSchema]:
    """What a text may be, where a table says so: for Annotated."""
    known = list(names)

    def check(name: str) -> str:
        if name not in known:
            raise ValueError(say("There is no “{name}”.", name=name))
        return name

    return AfterValidator(check), WithJsonSchema({"type": "string", "enum": known})


def as_text(path: Path | str) -> str:
    """A path or name as text, with what no text can hold replaced."""
    return os.fsencode(path).decode("utf-8", "replace")


FileName = Annotated[str, BeforeValidator(as_text)]


class Model(BaseModel):
    """A model of the API: what is not known is refused."""

    model_config = ConfigDict(extra="forbid", from_attributes=True)

    @classmethod
    def of(cls, source: object, **more: object) -> Self:
        """The model with ``more``, and all else from the attributes of ``source`` that are named as
        its fields are."""
        rest = cls.model_fields.keys() - more.keys()
        return cls.model_validate({name: getattr(source, name) for name in rest} | more)


class StandingOut(Model):
    """How sharp a frame is.

    ``blur``: px at 100 %, None where there is no edge to measure; ``state``: against the others, ""
    where it wasn't compared, ``words`` and ``short``: the same in words.
    """

    blur: float | None
    state: State
    words: str
    short: str


class Problem(BaseModel):
    """Why something can't be done, in words."""

    detail: str


class FilterModel(Model):
    """Which frames to show; an empty one lets all pass."""

    decisions: list[Decision] = Field(default=[], max_length=3)
    stars_rule: StarsRule = "at_least"
    stars: Stars | None = None
    labels: list[Letter] = Field(default=[], max_length=20)
    written: str = Field(default="", max_length=500, description="more conditions, as typed")


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
