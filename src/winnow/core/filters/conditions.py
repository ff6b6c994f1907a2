"""Conditions on marks, facts and texts of frames, as filters ask for them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Final, Literal

from winnow.core import facts

Operator = Literal["=", "<", "<=", ">", ">=", "~"]


# What can be compared, and what is so or not, by name. What guests don't get isn't asked for, as
# they filter, too.
FACTS: Final = {
    fact.name: fact for fact in facts.TABLE if fact.kind != "flags" and not fact.private
}
FLAGS: Final = {flag: words for fact in facts.TABLE for flag, words in fact.flags.items()}
FACT_OF_FLAG: Final = {flag: fact.name for fact in facts.TABLE for flag in fact.flags}
_NEAR: Final = 0.005


@dataclass(frozen=True, slots=True)
class Flag:
    """Something that is so or not; one of ``FLAGS``."""

    name: str


@dataclass(frozen=True, slots=True)
class Compare:
    """A fact compared with a value.

    ``fact`` is one of ``FACTS``; text is compared whatever its case. A label's value is its letter,
    "" for none. A hint's is the name of its kind, "" for none that speaks against the frame.
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


@dataclass(frozen=True, slots=True)
class Among:
    """One of these frames, by ids: what was looked up for a condition that no table answers."""

    frames: frozenset[int]


Condition = Flag | Compare | Between | Not | All | Any_ | Among


def looked_up(condition: Condition, look_up: Callable[[Compare], Condition]) -> Condition:
    """A condition in which each comparison with a value is what is looked up for it."""
    match condition:
        case Not(inner):
            return Not(looked_up(inner, look_up))
        case All(parts):
            return All(tuple(looked_up(part, look_up) for part in parts))
        case Any_(parts):
            return Any_(tuple(looked_up(part, look_up) for part in parts))
        case Compare():
            return look_up(condition)
    return condition


def bounds(condition: Compare | Between) -> tuple[float, float, bool, bool]:
    """A condition on a number as an interval: low, high, whether each end belongs to it."""
    infinite = float("inf")
    if isinstance(condition, Between):
        return condition.low, condition.high, True, True
    value = float(condition.value)
    if condition.operator == "=":
        near = 0.0 if FACTS[condition.fact].exact else _NEAR * abs(value)
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
# Those of them that are lists, with one entry a line.
LISTED: Final = ("keywords", "creators", "place")
