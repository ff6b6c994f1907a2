"""Conditions and their values in words."""

from __future__ import annotations

from collections.abc import Mapping

from winnow.core.facts import shown
from winnow.core.filters import conditions
from winnow.core.verdict.hints import KINDS
from winnow.say import say, within_sentence


def in_words(condition: conditions.Condition, labels: Mapping[str, str]) -> str:  # noqa: C901
    """Say a condition in words. Example: "ISO 800 to 3200, not with flash"."""
    match condition:
        case conditions.All(parts):
            return ", ".join(_inside(part, labels) for part in parts)
        case conditions.Any_(parts):
            return say(" or ").join(_inside(part, labels) for part in parts)
        case conditions.Not(inner):
            return say("not {inside}", inside=_inside(inner, labels))
        case conditions.Flag(name):
            return conditions.FLAGS[name]
        case conditions.Compare("label", _, value):
            return (
                say("label {label}", label=labels.get(str(value), value))
                if value
                else say("no label")
            )
        case conditions.Compare("hint", _, value):
            return (
                say("hint “{title}”", title=within_sentence(KINDS[str(value)].title))
                if value
                else say("no hint against it")
            )
        case conditions.Compare("person", _, value):
            return say("person {number}", number=round(float(value)))
        case conditions.Compare("text", "=", ""):
            return say("nothing written about it")
        case conditions.Compare(fact, "=", ""):
            return say("no {fact}", fact=conditions.FACTS[fact].words)
        case conditions.Compare(fact, "=", str(value)):
            return f"{conditions.FACTS[fact].words} “{value}”"
        case conditions.Compare(fact, _, str(value)):
            return say("{fact} with “{value}”", fact=conditions.FACTS[fact].words, value=value)
        case conditions.Compare(fact, operator, value):
            return _of(fact, _bounded(operator, shown(fact, float(value))))
        case conditions.Between(fact, low, high):
            return _of(fact, say("{low} to {high}", low=shown(fact, low), high=shown(fact, high)))
    raise AssertionError(condition)


def value_in_words(fact: str, value: float | str, labels: Mapping[str, str]) -> str:
    """Say a value of a fact. Examples: "1/250 s", "f/2.8", "19:30", "no label", "upright"."""
    if isinstance(value, str):
        if fact == "label":
            return labels.get(value, value) if value else say("no label")
        if fact == "hint":
            return KINDS[value].title if value in KINDS else say("none")
        return (
            conditions.FLAGS.get(value, value)
            if value
            else say("no {fact}", fact=conditions.FACTS[fact].words)
        )
    return f"{shown(fact, value)}{conditions.FACTS[fact].unit}{'★' if fact == 'stars' else ''}"


def _bounded(operator: conditions.Operator, value: str) -> str:
    match operator:
        case "<":
            return say("under {value}", value=value)
        case "<=":
            return say("up to {value}", value=value)
        case ">":
            return say("over {value}", value=value)
        case ">=":
            return say("from {value}", value=value)
    return value


def _inside(condition: conditions.Condition, labels: Mapping[str, str]) -> str:
    words = in_words(condition, labels)
    return f"({words})" if isinstance(condition, conditions.All | conditions.Any_) else words


def _of(fact: str, said: str) -> str:
    known = conditions.FACTS[fact]
    return f"{said} {known.words}" if fact == "stars" else f"{known.words} {said}{known.unit}"
