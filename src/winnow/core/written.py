"""The written form of filters: conditions on marks, facts and texts that can be typed.

Examples: ``pick stars>=2``, ``iso 800..3200 not flash``, ``(label album or label web) camera quillon``,
``time 19:00..20:30 mm>=85``, ``shutter<1/60``, ``"QH2_00"``. Conditions one after the other must all
hold; ``or`` binds less, ``not`` turns the next one round, brackets group. A word in quotes, or one that
is no fact, is looked for in the frame's name and in all that is written about it. ``none`` says that there is no
such text. A quote within quotes is written twice.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from difflib import get_close_matches
from typing import Any, Final, Literal

from winnow.core.hints import KINDS
from winnow.core.texts import fold
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
MOST: Final = 500  # characters
_DEEPEST: Final = 20


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


class WrittenError(ValueError):
    """What is wrong with a written filter, and where: ``at`` to ``until``, in characters."""

    def __init__(self, words: str, at: int, until: int) -> None:
        super().__init__(words)
        self.at = at
        self.until = until


@dataclass(frozen=True, slots=True)
class _Token:
    kind: Literal["word", "quoted", "operator", "open", "close", "dots", "end"]
    text: str
    at: int
    until: int


_TOKEN: Final = re.compile(
    r"""\s+|,|(?P<quoted>"(?:[^"]|"")*")|(?P<operator><=|>=|[<>=~≤≥])|(?P<open>\()|(?P<close>\))"""
    r"""|(?P<dots>\.\.)|(?P<word>(?:(?!\.\.)[^\s,()"<>=~≤≥])+)"""
)


def _tokens(text: str) -> list[_Token]:
    found = []
    at = 0
    while at < len(text):
        match = _TOKEN.match(text, at)
        if match is None:
            raise WrittenError(say("These quotes are not closed."), at, len(text))
        kind = match.lastgroup
        if kind:
            part = match.group()
            text_of = part[1:-1].replace('""', '"') if kind == "quoted" else part
            found.append(_Token(kind, text_of, at, match.end()))  # type: ignore[arg-type]
        at = match.end()
    return [*found, _Token("end", "", len(text), len(text) + 1)]


def parse(text: str, labels: Mapping[str, str]) -> Condition | None:
    """Read a written filter; None for an empty one. ``labels``: names by letter.

    Raises a WrittenError in plain words.
    """
    if len(text) > MOST:
        raise WrittenError(
            say("This is too long: at most {most} characters.", most=MOST), MOST, len(text)
        )
    reader = _Reader(_tokens(text), labels)
    if reader.at_end():
        return None
    found = reader.any_of(0)
    if not reader.at_end():
        raise WrittenError(
            say("There is no bracket that this one closes."), reader.now.at, reader.now.until
        )
    return found


class _Reader:
    def __init__(self, tokens: list[_Token], labels: Mapping[str, str]) -> None:
        self._tokens = tokens
        self._at = 0
        self._labels = labels

    @property
    def now(self) -> _Token:
        return self._tokens[self._at]

    def at_end(self) -> bool:
        return self.now.kind == "end"

    def _take(self) -> _Token:
        token = self.now
        self._at = min(self._at + 1, len(self._tokens) - 1)
        return token

    def _is_word(self, word: str) -> bool:
        return self.now.kind == "word" and self.now.text.lower() == word

    def any_of(self, depth: int) -> Condition:
        parts = [self._all_of(depth)]
        while self._is_word("or"):
            self._take()
            parts.append(self._all_of(depth))
        return parts[0] if len(parts) == 1 else Any_(tuple(parts))

    def _all_of(self, depth: int) -> Condition:
        parts = [self._one(depth)]
        while self.now.kind not in ("end", "close") and not self._is_word("or"):
            if self._is_word("and"):
                self._take()
            parts.append(self._one(depth))
        return parts[0] if len(parts) == 1 else All(tuple(parts))

    def _one(self, depth: int) -> Condition:
        token = self._take()
        if depth > _DEEPEST:
            raise WrittenError(say("This is nested too deeply."), token.at, token.until)
        if token.kind == "quoted":
            return Compare("text", "~", token.text)
        if token.kind == "open":
            inner = self.any_of(depth + 1)
            if self.now.kind != "close":
                raise WrittenError(say("This bracket is not closed."), token.at, token.until)
            self._take()
            return inner
        if token.kind != "word" or token.text.lower() in ("or", "and"):
            shown = say("before “{typed}”", typed=token.text) if token.text else say("at the end")
            raise WrittenError(
                say("A condition is missing {shown}.", shown=shown), token.at, token.until
            )
        word = token.text.lower()
        if word == "not":
            return Not(self._one(depth + 1))
        if word in FLAGS:
            return Flag(word)
        if word in FACTS:
            return self._about(word, token)
        if self.now.kind in ("operator", "dots"):
            near = get_close_matches(word, FACTS, 1, 0.6)
            hint = (
                say(" Did you mean “{near}”?", near=near[0])
                if near
                else say(" There are {facts}.", facts=", ".join(FACTS))
            )
            raise WrittenError(
                say("There is no fact “{typed}”.{hint}", typed=token.text, hint=hint),
                token.at,
                token.until,
            )
        return Compare("text", "~", token.text)

    def _about(self, word: str, token: _Token) -> Condition:
        fact = FACTS[word]
        operator: Operator = "~" if fact.kind == "text" else "="
        if self.now.kind == "operator":
            sign = self._take()
            operator = {"≤": "<=", "≥": ">="}.get(sign.text, sign.text)  # type: ignore[assignment]
            named = fact.kind in ("text", "label", "hint")
            wrong = operator in ("<", "<=", ">", ">=") if named else False
            if wrong or (operator == "~" and fact.kind != "text"):
                raise WrittenError(
                    say("“{typed}” says nothing about {word}.", typed=sign.text, word=word),
                    sign.at,
                    sign.until,
                )
        value = self._take()
        if value.kind not in ("word", "quoted"):
            raise WrittenError(say("What should {word} be?", word=word), token.at, token.until)
        if fact.kind == "text":
            if value.kind == "word" and value.text.lower() == "none":
                return Compare(word, "=", "")
            return Compare(word, operator, value.text)
        if fact.kind == "label":
            return Compare(word, "=", self._letter(value))
        if fact.kind == "hint":
            return Compare(word, "=", _kind_of_hint(value))
        low = self._number(fact, value)
        if self.now.kind != "dots":
            return Compare(word, operator, low)
        dots = self._take()
        if operator != "=":
            raise WrittenError(
                say("A range needs no “{operator}”.", operator=operator), dots.at, dots.until
            )
        end = self._take()
        if end.kind != "word":
            raise WrittenError(say("Up to what {word}?", word=word), dots.at, dots.until)
        high = self._number(fact, end)
        if high < low and fact.kind != "time":
            low, high = high, low
        return Between(word, low, high)

    def _letter(self, token: _Token) -> str:
        wanted = token.text.casefold()
        if wanted == "none":
            return ""
        for letter, name in self._labels.items():
            if wanted in (letter.casefold(), name.casefold()):
                return letter
        names = ", ".join(f"“{name}”" for name in self._labels.values())
        raise WrittenError(
            say(
                "There is no label “{typed}”. There are {names} and none.",
                typed=token.text,
                names=names,
            ),
            token.at,
            token.until,
        )

    def _number(self, fact: Fact, token: _Token) -> float:
        text = token.text.lower()
        if fact.kind == "time":
            parts = re.fullmatch(r"(\d{1,2}):(\d\d)(?::(\d\d))?", text)
            if parts is None or int(parts[1]) > 23 or int(parts[2]) > 59 or int(parts[3] or 0) > 59:
                raise WrittenError(
                    say("“{typed}” is no time of day such as 19:30.", typed=token.text),
                    token.at,
                    token.until,
                )
            return int(parts[1]) * 3600 + int(parts[2]) * 60 + int(parts[3] or 0)
        number = re.fullmatch(r"(?:f/?)?(\d{1,9}(?:\.\d{1,6})?)(?:/(\d{1,6}))?(?:s|mm|px)?", text)
        if number is None or (number[2] and int(number[2]) == 0):
            raise WrittenError(
                say("“{typed}” is no number.", typed=token.text), token.at, token.until
            )
        return float(number[1]) / float(number[2] or 1)


def _kind_of_hint(token: _Token) -> str:
    wanted = token.text.casefold().replace("_", " ")
    if wanted == "none":
        return ""
    for name, kind in KINDS.items():
        if wanted in (name.replace("_", " "), kind.title.casefold()):
            return name
    names = ", ".join(f"“{kind.title.lower()}”" for kind in KINDS.values())
    raise WrittenError(
        say(
            "There is no hint “{typed}”. There are {names} and none.", typed=token.text, names=names
        ),
        token.at,
        token.until,
    )


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


def holds(condition: Condition, facts: Mapping[str, Any]) -> bool:
    """Whether a frame with these facts passes: plain and slow, as a check of quicker ways.

    ``facts``: by the columns of ``FACTS``, with decision, flash, width, height and the picks in the
    frame's group; None where unknown, which passes no comparison. Of hints the kinds that name the frame.
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


# What a text may be in.
TEXTS: Final = (
    "name", "title", "caption", "keywords", "creators", "rights", "place", "instructions",
)  # fmt: skip
_LISTED: Final = ("keywords", "creators", "place")


def _says(facts: Mapping[str, Any], fact: str, operator: Operator, asked: str) -> bool:
    column = FACTS[fact].column
    if column == "text":
        own = [fold(facts[name] or "") for name in TEXTS]
        if operator == "=" and not asked:
            return not any(own[1:])
        return asked in own if operator == "=" else any(asked in text for text in own)
    text = fold(facts[column] or "")
    if operator == "~":
        return asked in text
    # Equal to one of its lines, where it has one entry a line.
    return asked == text or (column in _LISTED and asked != "" and asked in text.split("\n"))


def in_words(condition: Condition, labels: Mapping[str, str]) -> str:
    """Say a condition in words. Example: "ISO 800 to 3200, not with flash"."""
    match condition:
        case All(parts):
            return ", ".join(_inside(part, labels) for part in parts)
        case Any_(parts):
            return say(" or ").join(_inside(part, labels) for part in parts)
        case Not(inner):
            return say("not {inside}", inside=_inside(inner, labels))
        case Flag(name):
            return FLAGS[name]
        case Compare("label", _, value):
            return (
                say("label {label}", label=labels.get(str(value), value))
                if value
                else say("no label")
            )
        case Compare("hint", _, value):
            return (
                say("hint “{title}”", title=KINDS[str(value)].title.lower())
                if value
                else say("no hint against it")
            )
        case Compare("text", "=", ""):
            return say("nothing written about it")
        case Compare(fact, "=", ""):
            return say("no {words}", words=FACTS[fact].words)
        case Compare(fact, "=", str(value)):
            return f"{FACTS[fact].words} “{value}”"
        case Compare(fact, _, str(value)):
            return say("{fact} with “{value}”", fact=FACTS[fact].words, value=value)
        case Compare(fact, operator, value):
            return _of(fact, _bounded(operator, _shown(fact, float(value))))
        case Between(fact, low, high):
            return _of(fact, say("{low} to {high}", low=_shown(fact, low), high=_shown(fact, high)))
    raise AssertionError(condition)


def value_in_words(fact: str, value: float | str, labels: Mapping[str, str]) -> str:
    """Say a value of a fact. Examples: "1/250 s", "f/2.8", "19:30", "no label", "upright"."""
    if isinstance(value, str):
        if fact == "label":
            return labels.get(value, value) if value else say("no label")
        if fact == "hint":
            return KINDS[value].title if value in KINDS else say("none")
        return FLAGS.get(value, value) if value else say("no {words}", words=FACTS[fact].words)
    return f"{_shown(fact, value)}{FACTS[fact].unit}{'★' if fact == 'stars' else ''}"


def _bounded(operator: Operator, value: str) -> str:
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


def _inside(condition: Condition, labels: Mapping[str, str]) -> str:
    words = in_words(condition, labels)
    return f"({words})" if isinstance(condition, All | Any_) else words


def _of(fact: str, said: str) -> str:
    known = FACTS[fact]
    return f"{said} {known.words}" if fact == "stars" else f"{known.words} {said}{known.unit}"


def _shown(fact: str, value: float) -> str:
    if FACTS[fact].kind == "time":
        seconds = int(value)
        return f"{seconds // 3600}:{seconds // 60 % 60:02d}"
    if fact == "shutter" and 0 < value < 0.3:
        return f"1/{round(1 / value)}"
    return f"f/{value:g}" if fact == "f" else f"{value:g}"
