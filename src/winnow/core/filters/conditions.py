"""Conditions on marks, facts and texts of frames, as filters ask for them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final, Literal

from winnow.say import say

Operator = Literal["=", "<", "<=", ">", ">=", "~"]


@dataclass(frozen=True, slots=True)
class Fact:
    """A fact that can be asked for. ``column``: its name in a frame's facts. ``unit`` is for words.

    ``exact``: whether equal means the very same number, or within half a percent, as cameras round.
    """

    column: str
    kind: Literal["number", "time", "text", "label", "hint"]
    words: str
    unit: str = ""
    exact: bool = False


FACTS: Final[dict[str, Fact]] = {
    "stars": Fact("stars", "number", say("stars"), exact=True),
    "label": Fact("label", "label", say("label")),
    "iso": Fact("iso", "number", say("ISO"), exact=True),
    "f": Fact("aperture", "number", say("aperture")),
    "mm": Fact("focal_mm", "number", say("focal length"), " mm"),
    "shutter": Fact("shutter_s", "number", say("shutter"), " s"),
    "blur": Fact("blur_px", "number", say("blur"), " px"),
    "time": Fact("time_s", "time", say("taken")),
    "name": Fact("name", "text", say("name")),
    "camera": Fact("camera", "text", say("camera")),
    "lens": Fact("lens", "text", say("lens")),
    "type": Fact("kind", "text", say("file type")),
    "text": Fact("text", "text", say("any text")),
    "title": Fact("title", "text", say("title")),
    "caption": Fact("caption", "text", say("caption")),
    "keyword": Fact("keywords", "text", say("keyword")),
    "creator": Fact("creators", "text", say("creator")),
    "copyright": Fact("rights", "text", say("copyright")),
    "instructions": Fact("instructions", "text", say("instructions")),
    "place": Fact("place", "text", say("place")),
    "group": Fact("group_size", "number", say("frames in its group"), exact=True),
    "faces": Fact("faces", "number", say("faces"), exact=True),
    "hint": Fact("hints", "hint", say("hint")),
}
FLAGS: Final[dict[str, str]] = {
    "pick": say("picks"),
    "reject": say("rejects"),
    "undecided": say("undecided"),
    "flash": say("with flash"),
    "upright": say("upright"),
    "wide": say("wider than high"),
    "unpicked": say("in a group without a pick"),
    "delivered": say("delivered"),
    "aside": say("set aside"),
}
_NEAR: Final = 0.005


@dataclass(frozen=True, slots=True)
class Flag:
    """Something that is so or not; one of ``FLAGS``."""

    name: str


@dataclass(frozen=True, slots=True)
class Compare:
    """A fact compared with a value. ``fact`` is one of ``FACTS``; text is compared whatever its case.

    A label's value is its letter, "" for none. A hint's is the name of its kind, "" for none
    that speaks against the frame.
    """

    fact: str
    operator: Operator
    value: float | str


@dataclass(frozen=True, slots=True)
class Between:
    """A number from ``low`` to ``high``, both included; times may run over midnight."""

    fact: str
    low: float
    high: float


@dataclass(frozen=True, slots=True)
class Not:
    """The opposite."""

    inner: Condition


@dataclass(frozen=True, slots=True)
class All:
    """All of these."""

    parts: tuple[Condition, ...]


@dataclass(frozen=True, slots=True)
class Any_:
    """Any of these."""

    parts: tuple[Condition, ...]


Condition = Flag | Compare | Between | Not | All | Any_


def bounds(condition: Compare | Between) -> tuple[float, float, bool, bool]:
    """A condition on a number as an interval: low, high, whether each end belongs to it."""
    infinite = float("inf")
    if isinstance(condition, Between):
        return condition.low, condition.high, True, True
    value = float(condition.value)
    if condition.operator == "=":
        near = 0.0 if FACTS[condition.fact].exact else _NEAR * value
        # A time of day given to the minute is that minute.
        if FACTS[condition.fact].kind == "time":
            return value, value + 59, True, True
        return value - near, value + near, True, True
    if condition.operator in ("<", "<="):
        return -infinite, value, True, condition.operator == "<="
    return value, infinite, condition.operator == ">=", True


# What a text may be in.
TEXTS: Final = (
    "name", "title", "caption", "keywords", "creators", "rights", "place", "instructions",
)  # fmt: skip
