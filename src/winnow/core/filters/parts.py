"""The parts of a written filter that can be clicked: which facts it names, and how a click changes
it.

A condition is shown as parts joined by "all of" or "any of". A part that names one fact, by values
or by a range, is known by that fact; anything more tangled is a part that can only be turned or
taken out.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from winnow.core.filters.conditions import (
    FACT_OF_FLAG,
    FACTS,
    FLAGS,
    All,
    Any_,
    Between,
    Compare,
    Condition,
    Flag,
    Not,
)
from winnow.core.filters.parser import WrittenError
from winnow.say import say

Joined = Literal["all", "any"]
Value = str | float


@dataclass(frozen=True, slots=True)
class Part:
    """One of the conditions. ``fact``: the one it is about, "" if there isn't just one.

    ``values``: any of these; else from ``low`` to ``high``, None for an open end.
    """

    condition: Condition
    fact: str = ""
    values: tuple[Value, ...] = ()
    low: float | None = None
    high: float | None = None
    inverted: bool = False


def parts_of(condition: Condition | None) -> tuple[Joined, list[Part]]:
    """The parts of a condition, and how they are joined."""
    if condition is None:
        return "all", []
    match condition:
        case All(parts):
            return "all", [_part(part) for part in parts]
        case Any_(parts) if not _part(condition).fact:
            return "any", [_part(part) for part in parts]
    return "all", [_part(condition)]


def _part(condition: Condition) -> Part:
    match condition:
        case Not(inner):
            part = _part(inner)
            return Part(condition, part.fact, part.values, part.low, part.high, not part.inverted)
        case Flag(name):
            return Part(condition, FACT_OF_FLAG[name], (name,))
        case Compare(fact, "=" as operator, value) if FACTS[fact].kind != "time":
            return Part(condition, fact, (value,))
        case Compare(fact, operator, value) if operator in ("<=", ">="):
            low, high = (None, float(value)) if operator == "<=" else (float(value), None)
            return Part(condition, fact, (), low, high)
        case Between(fact, low, high):
            return Part(condition, fact, (), low, high)
        case Any_(inners):
            parts = [_part(inner) for inner in inners]
            facts = {part.fact for part in parts}
            if len(facts) == 1 and all(part.values and not part.inverted for part in parts):
                values = tuple(value for part in parts for value in part.values)
                return Part(condition, facts.pop(), values)
    return Part(condition)


def toggled(condition: Condition | None, fact: str, value: Value) -> Condition | None:
    """With this value of a fact wanted, or no longer: several values of one fact are alternatives.

    Raises WrittenError for a value that the fact can't have.
    """
    if fact not in FACTS and FACT_OF_FLAG.get(str(value)) != fact:
        problem = say("“{typed}” says nothing about {word}.", typed=value, word=fact)
        raise WrittenError(problem, 0, 0)
    joined, parts = parts_of(condition)
    at = _of_fact(parts, fact)
    part = parts[at] if at is not None else None
    values = part.values if part else ()
    after = tuple(v for v in values if v != value) if value in values else (*values, value)
    return _replaced(joined, parts, at, _values(fact, after), inverted=bool(part and part.inverted))


def ranged(
    condition: Condition | None, fact: str, low: float | None, high: float | None
) -> Condition | None:
    """With a fact wanted from ``low`` to ``high``, None for an open end; both None: no longer."""
    joined, parts = parts_of(condition)
    at = _of_fact(parts, fact)
    inverted = bool(at is not None and parts[at].inverted)
    return _replaced(joined, parts, at, _range(fact, low, high), inverted=inverted)


def turned(condition: Condition | None, at: int) -> Condition | None:
    """With a part turned into its opposite, or back."""
    joined, parts = parts_of(condition)
    present = parts[at].condition
    other = present.inner if isinstance(present, Not) else Not(present)
    return _joined(joined, [other if n == at else part.condition for n, part in enumerate(parts)])


def without(condition: Condition | None, at: int) -> Condition | None:
    """Without one of the parts."""
    joined, parts = parts_of(condition)
    return _joined(joined, [part.condition for n, part in enumerate(parts) if n != at])


def without_fact(condition: Condition | None, fact: str) -> Condition | None:
    """Without the part that is about a fact."""
    _, parts = parts_of(condition)
    at = _of_fact(parts, fact)
    return condition if at is None else without(condition, at)


def joined_by(condition: Condition | None, how: Joined) -> Condition | None:
    """With all, or any, of the parts wanted."""
    return _joined(how, [part.condition for part in parts_of(condition)[1]])


def _of_fact(parts: Sequence[Part], fact: str) -> int | None:
    return next((n for n, part in enumerate(parts) if part.fact == fact), None)


def _replaced(
    joined: Joined, parts: Sequence[Part], at: int | None, new: Condition | None, *, inverted: bool
) -> Condition | None:
    if new is not None and inverted:
        new = Not(new)
    conditions = [part.condition for part in parts]
    if at is not None:
        conditions[at : at + 1] = [new] if new is not None else []
    elif new is not None:
        conditions.append(new)
    return _joined(joined, conditions)


def _joined(how: Joined, conditions: Sequence[Condition]) -> Condition | None:
    if len(conditions) < 2:
        return conditions[0] if conditions else None
    # Values of one fact are one part; as parts of their own they need brackets.
    return (All if how == "all" else Any_)(tuple(conditions))


def _values(fact: str, values: tuple[Value, ...]) -> Condition | None:
    made: list[Condition] = []
    for value in values:
        is_flag = isinstance(value, str) and FACT_OF_FLAG.get(value) == fact
        made.append(Flag(str(value)) if is_flag else Compare(fact, "=", value))
    return _joined("any", made)


def _range(fact: str, low: float | None, high: float | None) -> Condition | None:
    if low is not None and high is not None:
        return Between(fact, low, high)
    if low is not None:
        return Compare(fact, ">=", low)
    return Compare(fact, "<=", high) if high is not None else None


def text_of(condition: Condition | None) -> str:  # noqa: C901
    """A condition in its written form, which reads as the same condition."""
    match condition:
        case None:
            return ""
        case All(parts):
            return " ".join(_inside(part, (All, Any_)) for part in parts)
        case Any_(parts):
            return " or ".join(_inside(part, (All, Any_)) for part in parts)
        case Not(inner):
            return f"not {_inside(inner, (All, Any_))}"
        case Flag(name):
            return name
        case Compare("label", _, value):
            return f"label {_quoted(str(value)) if value else 'none'}"
        case Compare("hint", _, value):
            return f"hint {_quoted(str(value)) if value else 'none'}"
        case Compare("text", "~", str(value)):
            return _quoted(value)
        case Compare(fact, "=", ""):
            return f"{fact} none"
        case Compare(fact, operator, str(value)):
            return f"{fact}{'' if operator == '~' else operator} {_quoted(value)}".replace(
                "= ", "="
            )
        case Compare(fact, operator, value):
            return f"{fact}{'' if operator == '=' else operator} {_number(fact, float(value))}"
        case Between(fact, low, high):
            return f"{fact} {_number(fact, low)}..{_number(fact, high)}"
    raise AssertionError(condition)


def _inside(condition: Condition, bracketed: tuple[type, ...]) -> str:
    text = text_of(condition)
    return f"({text})" if isinstance(condition, bracketed) else text


def _quoted(text: str) -> str:
    plain = text.isalnum() and text.casefold() not in {"or", "and", "not", "none", *FLAGS, *FACTS}
    return text if plain else '"' + text.replace('"', '""') + '"'


def _number(fact: str, value: float) -> str:
    if FACTS[fact].kind == "time":
        seconds = int(value)
        text = f"{seconds // 3600}:{seconds // 60 % 60:02d}"
        return f"{text}:{seconds % 60:02d}" if seconds % 60 else text
    if fact == "shutter" and 0 < value < 0.3 and abs(round(1 / value) * value - 1) < 1e-6:
        return f"1/{round(1 / value)}"
    return f"{value:.6f}".rstrip("0").rstrip(".")
