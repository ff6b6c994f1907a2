"""What a client answers to a proof: a small file with the frames that are chosen, and comments."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Final

from winnow.core.files.texts import clean
from winnow.say import say

KIND: Final = "proof answer"
VERSION: Final = 1
LONGEST_COMMENT: Final = 2_000  # characters
LONGEST_FILE: Final = 5_000_000  # bytes


class AnswerError(ValueError):
    """A file that is no answer to a proof, with the reason in words."""


@dataclass(frozen=True, slots=True)
class Answer:
    """An answer as it was read. ``token`` names the proof; frames are given by their numbers in
    it."""

    token: str
    client: str
    note: str
    picks: tuple[int, ...]
    comments: Mapping[int, str]


def read_answer(data: bytes) -> Answer:
    """Read an answer's file. Raises AnswerError."""
    if len(data) > LONGEST_FILE:
        raise AnswerError(say("This file is too large to be an answer to a proof."))
    try:
        said = json.loads(data.decode("utf-8-sig"))
    except (ValueError, RecursionError):
        raise AnswerError(
            say("This file can’t be read. Choose the file that the client saved in the gallery.")
        ) from None
    if not isinstance(said, dict) or said.get("kind") != KIND:
        raise AnswerError(say("This file is not an answer to a proof."))
    if said.get("version") != VERSION:
        raise AnswerError(say("This answer was made by a newer gallery than Winnow knows."))
    try:
        return Answer(
            token=_text(said["proof"], 100),
            client=_text(said.get("client", ""), 100),
            note=_text(said.get("note", ""), 5_000),
            picks=tuple(dict.fromkeys(_number(number) for number in said.get("picks", []))),
            comments={
                _number(number): text
                for number, comment in dict(said.get("comments", {})).items()
                if (text := _text(comment, LONGEST_COMMENT))
            },
        )
    except (KeyError, TypeError, ValueError):
        raise AnswerError(say("A part of this answer can’t be understood.")) from None


def _text(value: Any, longest: int) -> str:
    if not isinstance(value, str):
        raise TypeError
    return clean(value)[:longest]


def _number(value: Any) -> int:
    if isinstance(value, bool) or not isinstance(value, int | str):
        raise TypeError
    if isinstance(value, str) and not (value.isascii() and value.isdecimal() and len(value) < 8):
        raise ValueError
    return int(value)


def instruction(before: str, client: str, comment: str) -> str:
    """The instructions of a frame with a client's comment added, once.

    Example: "crop it" and "Ann", "lighter" give "crop it\\nAnn: lighter".
    """
    line = f"{client}: {comment}" if client else comment
    known = before.split("\n")
    return (
        before
        if all(text in known for text in line.split("\n"))
        else "\n".join([*filter(None, [before]), line])
    )


def as_file(token: str, client: str, picks: Sequence[int], comments: Mapping[int, str]) -> bytes:
    """An answer as the gallery saves it."""
    said = {
        "kind": KIND,
        "version": VERSION,
        "proof": token,
        "client": client,
        "note": "",
        "picks": list(picks),
        "comments": {str(number): comment for number, comment in comments.items()},
    }
    return (json.dumps(said, ensure_ascii=False, indent=2) + "\n").encode()
