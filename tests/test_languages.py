"""Translations are whole: every text of the page and the server, with the same fields in it."""

from __future__ import annotations

import ast
import re
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest

TEXTS = Path(__file__).parent.parent / "texts"
TRANSLATED = sorted(path.name for path in TEXTS.iterdir() if path.name != "en")
_LINE = re.compile(r'(msgid_plural|msgid|msgstr(?:\[\d\])?) (".*")$')
# What stands for itself: `{n}`, `<0>`, and which number a plural is of.
_FIELDS = re.compile(r"\{(\w+), plural|(\{[^{}]*\}|</?\d+/?>)")
# The signs of numbers are no sentence of the server.
_SIGNS = {",", "."}

Message = dict[str, str]


def messages(path: Path) -> Iterator[Message]:
    """The messages of a catalogue (the PO format of GNU gettext), without its head."""
    for block in path.read_text("utf-8").split("\n\n"):
        message: Message = {}
        key = ""
        for line in block.splitlines():
            if found := _LINE.match(line):
                key = found[1]
                message[key] = ast.literal_eval(found[2])
            elif line.startswith('"'):
                message[key] += ast.literal_eval(line)
        if message.get("msgid"):
            yield message


def fields(text: str) -> list[str]:
    if ", plural, " in text:
        return sorted({found[0] or "" for found in _FIELDS.findall(text)} - {""})
    return sorted(found[1] for found in _FIELDS.findall(text))


def said(message: Message) -> list[tuple[str, str]]:
    """Each text with what is said for it."""
    if "msgid_plural" not in message:
        return [(message["msgid"], message.get("msgstr", ""))]
    return [
        (message["msgid"], message.get("msgstr[0]", "")),
        (message["msgid_plural"], message.get("msgstr[1]", "")),
    ]


@pytest.mark.parametrize("language", TRANSLATED)
@pytest.mark.parametrize("name", ["page", "server"])
def test_every_text_is_said_in_each_language(language: str, name: str) -> None:
    there = {message["msgid"]: message for message in messages(TEXTS / "en" / f"{name}.po")}
    theirs = {message["msgid"]: message for message in messages(TEXTS / language / f"{name}.po")}
    assert theirs.keys() - _SIGNS == there.keys()
    for message in theirs.values():
        for text, translated in said(message):
            assert translated, text
            if text in _SIGNS:
                continue
            wanted = fields(text)
            assert fields(translated) == wanted, (text, translated)
            blanks = (len(text) - len(text.lstrip(" ")), len(text) - len(text.rstrip(" ")))
            given = (
                len(translated) - len(translated.lstrip(" ")),
                len(translated) - len(translated.rstrip(" ")),
            )
            assert given == blanks, (text, translated)


SPEAK = """
from winnow.core.verdict.hints import KINDS
from winnow.say import LANGUAGE, say, say_of
print(LANGUAGE, KINDS["eyes_closed"].title, say_of(1234, "{n:,} frame", "{n:,} frames"), sep="|")
print(say("sharper by {px:.1f} px", px=1.5))
"""


def test_the_server_speaks_german_where_that_is_wanted() -> None:
    env = {"LANGUAGE": "de", "PATH": "", "PYTHONIOENCODING": "utf-8"}
    ended = subprocess.run(
        [sys.executable, "-c", SPEAK], env=env, capture_output=True, text=True, check=True
    )
    assert ended.stdout.splitlines() == ["de|Augen zu|1.234 Aufnahmen", "um 1,5 px schärfer"]
