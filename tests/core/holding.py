"""Whether a condition holds of a frame: plain and slow, to check quicker ways against."""

from collections.abc import Mapping
from typing import Any, Final

from winnow.core.files.texts import fold
from winnow.core.filters.conditions import (
    FACTS,
    TEXTS,
    All,
    Any_,
    Between,
    Compare,
    Condition,
    Flag,
    Not,
    Operator,
    bounds,
)
from winnow.core.verdict.hints import KINDS

_LISTED: Final = ("keywords", "creators", "place")


def holds(condition: Condition, facts: Mapping[str, Any]) -> bool:  # noqa: C901
    """Whether a frame with these facts passes.

    ``facts``: by the columns of ``FACTS``, with decision, flash, width, height and the picks in the
    frame's group; None where unknown, which passes no comparison. Of hints the kinds that name the
    frame.
    """
    match condition:
        case All(parts):
            return all(holds(part, facts) for part in parts)
        case Any_(parts):
            return any(holds(part, facts) for part in parts)
        case Not(inner):
            return not holds(inner, facts)
        case Flag("flash"):
            return bool(facts["flash"])
        case Flag("unpicked"):
            return not facts["group_picks"]
        case Flag("delivered"):
            return bool(facts["delivered"])
        case Flag("aside"):
            return bool(facts["held"])
        case Flag("smiling"):
            return bool(facts["smiles"])
        case Flag("facing"):
            return bool(facts["gazes"]) and "gaze" not in facts["hints"]
        case Flag("linked"):
            return bool(facts["linked"])
        case Flag("upright" | "wide" as name):
            width, height = facts["width"] or 0, facts["height"] or 0
            return bool(height > width if name == "upright" else width > height)
        case Flag(name):
            return bool(facts["decision"] == name)
        case Compare(fact, operator, str(value)):
            if fact == "label":
                return (facts["label"] or "") == value
            if fact == "hint":
                named = facts["hints"]
                return value in named if value else not any(KINDS[kind].fault for kind in named)
            return _says(facts, fact, operator, fold(value))
        case Between(fact, low, high) if low > high:
            own = facts[FACTS[fact].column]
            return own is not None and (own >= low or own <= high)
        case Compare(fact) | Between(fact):
            low, high, with_low, with_high = bounds(condition)
            own = facts[FACTS[fact].column]
            if own is None:
                return False
            above = own >= low if with_low else own > low
            below = own <= high if with_high else own < high
            return bool(above and below)
    raise AssertionError(condition)


def _says(facts: Mapping[str, Any], fact: str, operator: Operator, asked: str) -> bool:
    column = FACTS[fact].column
    if column == "text":
        if operator == "=" and not asked:
            return not any(facts[name] for name in TEXTS[1:])
        return any(_one_says(facts, name, operator, asked) for name in TEXTS)
    return _one_says(facts, column, operator, asked)


def _one_says(facts: Mapping[str, Any], column: str, operator: Operator, asked: str) -> bool:
    text = fold(facts[column] or "")
    if operator == "~":
        return asked in text
    # Equal to one of its lines, where it has one entry a line.
    return asked == text or (column in _LISTED and asked != "" and asked in text.split("\n"))
