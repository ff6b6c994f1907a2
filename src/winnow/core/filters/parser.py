"""The written form of filters: conditions on marks, facts and texts that can be typed.

Examples: ``pick stars>=2``, ``iso 800..3200 not flash``, ``(label album or label web) camera
quillon``, ``time 19:00..20:30 mm>=85``, ``shutter<1/60``, ``"QH2_00"``. Conditions one after the
other must all hold; ``or`` binds less, ``not`` turns the next one round, brackets group. A word in
quotes, or one that is no fact, is looked for in the frame's name and in all that is written about
it. ``none`` says that there is no such text. A quote within quotes is written twice.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from difflib import get_close_matches
from typing import Final, Literal

from winnow.core.facts import Fact
from winnow.core.filters.conditions import (
    FACTS,
    FLAGS,
    All,
    Any_,
    Between,
    Compare,
    Condition,
    Flag,
    Not,
    Operator,
)
from winnow.core.verdict.hints import KINDS
from winnow.say import say, within_sentence

MOST: Final = 500  # characters
_DEEPEST: Final = 20


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
    tokens = []
    at = 0
    while at < len(text):
        match = _TOKEN.match(text, at)
        if match is None:
            raise WrittenError(say("These quotes are not closed."), at, len(text))
        kind = match.lastgroup
        if kind:
            part = match.group()
            text_of = part[1:-1].replace('""', '"') if kind == "quoted" else part
            tokens.append(_Token(kind, text_of, at, match.end()))  # type: ignore[arg-type]
        at = match.end()
    return [*tokens, _Token("end", "", len(text), len(text) + 1)]


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
    condition = reader.any_of(0)
    if not reader.at_end():
        raise WrittenError(
            say("There is no bracket that this one closes."), reader.now.at, reader.now.until
        )
    return condition


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
        return self._text(word, token)

    def _text(self, word: str, token: _Token) -> Condition:
        """A word that is no fact, looked for in texts; what seems to be meant for one is told."""
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
        if meant := _inflected(word):
            raise WrittenError(
                say(
                    "“{typed}” would be looked for in names and texts. Write “{meant}”, or the "
                    "word in quotes if it is a text.",
                    typed=token.text,
                    meant=meant,
                ),
                token.at,
                token.until,
            )
        return Compare("text", "~", token.text)

    def _about(self, word: str, token: _Token) -> Condition:  # noqa: C901
        fact = FACTS[word]
        operator: Operator = "~" if fact.kind == "text" else "="
        if self.now.kind == "operator":
            sign = self._take()
            operator = {"≤": "<=", "≥": ">="}.get(sign.text, sign.text)  # type: ignore[assignment]
            named = fact.kind in ("text", "label", "hint", "person")
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
        if self.now.kind != "dots" or fact.kind == "person":
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
        number = re.fullmatch(
            r"(?:f/?)?([-−+]?\d{1,9}(?:\.\d{1,6})?)(?:/(\d{1,6}))?(?:s|mm|px|ev)?", text
        )
        below = number is not None and number[1][0] in "-−" and not fact.signed
        if number is None or below or (number[2] and int(number[2]) == 0):
            raise WrittenError(
                say("“{typed}” is no number.", typed=token.text), token.at, token.until
            )
        return float(number[1].replace("−", "-")) / float(number[2] or 1)


def _inflected(word: str) -> str | None:
    """The word of the written form of which this is another form, as "rejected" is of "reject"."""
    for known in (*FLAGS, *FACTS):
        stem = re.escape(known.removesuffix("e").removesuffix("s"))
        if len(known) > 3 and re.fullmatch(f"{stem}(e?s|e?d|ing)?", word):
            return known
    return None


def _kind_of_hint(token: _Token) -> str:
    wanted = token.text.casefold().replace("_", " ")
    if wanted == "none":
        return ""
    for name, kind in KINDS.items():
        if wanted in (name.replace("_", " "), kind.title.casefold()):
            return name
    names = ", ".join(f"“{within_sentence(kind.title)}”" for kind in KINDS.values())
    raise WrittenError(
        say(
            "There is no hint “{typed}”. There are {names} and none.", typed=token.text, names=names
        ),
        token.at,
        token.until,
    )
