"""What the API takes and gives of written filters, their choices and saved ones."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from winnow.core.facts import TABLE
from winnow.web.models import FilterModel, Model, Whole, one_of
from winnow.web.settings.models import SetName


class WrittenIn(Model):
    """A filter in its written form."""

    text: str = Field(max_length=2000)


class PartOut(Model):
    """A part of a written filter: the one fact it is about, if any, by values or from low to
    high."""

    words: str
    fact: str = ""
    values: list[str | float] = Field(default=[])
    low: float | None = None
    high: float | None = None
    inverted: bool = False


class WrittenOut(Model):
    """What a written filter says in words, by its parts; or what is wrong with it, and where, in
    characters."""

    text: str = ""
    words: str = ""
    joined: Literal["all", "any"] = "all"
    parts: list[PartOut] = Field(default=[])
    problem: str = ""
    at: int = 0
    until: int = 0


ClickedFact = Annotated[str, *one_of(fact.name for fact in TABLE if fact.clicked)]
RangedFact = Annotated[str, *one_of(fact.name for fact in TABLE if fact.ranged)]


class ToggleValue(Model):
    """A value of a fact is wanted, or no longer."""

    do: Literal["toggle"]
    fact: ClickedFact
    value: Annotated[str, Field(max_length=200)] | Annotated[float, Field(ge=-1e9, le=1e9)]


class SetRange(Model):
    """A fact is wanted from low to high, None for an open end; both None: no longer."""

    do: Literal["range"]
    fact: RangedFact
    low: Annotated[float, Field(ge=-1e9, le=1e9)] | None = None
    high: Annotated[float, Field(ge=-1e9, le=1e9)] | None = None


class ChangePart(Model):
    """A part is turned into its opposite, or taken out."""

    do: Literal["turn", "remove"]
    part: Annotated[Whole, Field(ge=0, le=200)]


class JoinParts(Model):
    """All of the parts are wanted, or any of them."""

    do: Literal["join"]
    how: Literal["all", "any"]


class EditWritten(WrittenIn):
    """A click that changes a written filter."""

    edit: Annotated[ToggleValue | SetRange | ChangePart | JoinParts, Field(discriminator="do")]


class FactChoiceOut(Model):
    """A fact that a filter can ask for.

    ``offered``: the word on its button; ``ranged``: from … to can be asked for.
    """

    fact: ClickedFact
    offered: str
    ranged: bool


class FilterFactsOut(Model):
    """What filters can ask for: facts that are offered to be clicked, and the words of the written
    form."""

    offered: list[FactChoiceOut]
    facts: list[str]
    flags: list[str]


class ChoiceOut(Model):
    """A value of a fact, or a bin up to ``high``; how many frames the filter leaves with it
    alone."""

    value: str | float
    high: float | None
    words: str
    count: int


class SavedFilter(Model):
    """A filter under a name."""

    name: SetName
    filter: FilterModel
