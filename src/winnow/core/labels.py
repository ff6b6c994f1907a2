"""The label set: up to nine labels, each told by shape, letter and colour, with a meaning in
words."""

from __future__ import annotations

import json
import re
from dataclasses import asdict, dataclass
from typing import Any, Final, Literal, get_args

from winnow.say import say

Shape = Literal[
    "disc", "square", "triangle", "diamond", "hexagon", "cross", "shield", "arch", "pill"
]
SHAPES: Final[tuple[Shape, ...]] = get_args(Shape)
MOST: Final = 9

# Nine colours that stay apart under the common colour vision deficiencies: found by a search for
# the set whose nearest pair, seen without a deficiency or with any of three, is farthest apart in
# CIEDE2000 (see the test for the simulation and its source). Black or white letters on each have a
# contrast of 4.5 or more.
PALETTE: Final[dict[str, str]] = {
    "#4080ff": "blue",
    "#ffaa15": "amber",
    "#00d4aa": "mint",
    "#aa406a": "rose",
    "#550055": "plum",
    "#d4bfff": "lilac",
    "#6a8000": "moss",
    "#404000": "bark",
    "#2a00ea": "indigo",
}


@dataclass(frozen=True, slots=True)
class Label:
    """One label. ``letter`` is its name in marks; ``written_as`` is its text in files."""

    letter: str
    name: str
    meaning: str
    shape: Shape
    colour: str
    written_as: str


STANDARD_SET: Final = (
    Label("R", "Retouch", "needs work before it goes out", "disc", "#4080ff", "Retouch"),
    Label("A", "Album", "for the printed album", "square", "#ffaa15", "Album"),
    Label("W", "Web", "for the web page", "triangle", "#00d4aa", "Web"),
    Label("P", "Print", "ordered as a print", "diamond", "#aa406a", "Print"),
    Label("T", "Talk over", "to be talked over with the client", "hexagon", "#550055", "Talk over"),
)


class LabelSetError(ValueError):
    """Why a label set can't be used, in words."""


def check(labels: list[Label]) -> None:
    """Raise a LabelSetError unless the labels of a set can be told apart, on screen and in
    files."""
    if len(labels) > MOST:
        raise LabelSetError(say("A set has at most {most} labels.", most=MOST))
    for what, said in (
        (say("letter"), [label.letter.upper() for label in labels]),
        (say("name"), [label.name.casefold() for label in labels]),
        (say("shape"), [label.shape for label in labels]),
        (say("text in files"), [label.written_as.casefold() for label in labels]),
    ):
        twice = next((value for n, value in enumerate(said) if value in said[:n]), None)
        if twice is not None:
            raise LabelSetError(
                say("Two labels have the same {what}, “{twice}”.", what=what, twice=twice)
            )
    for label in labels:
        if not label.letter.isalnum() or len(label.letter) != 1:
            raise LabelSetError(say("A label’s letter is one letter or digit."))
        if not label.name.strip() or not label.written_as.strip():
            raise LabelSetError(say("Each label needs a name and a text to write to files."))


_KIND: Final = "winnow label set"


def to_file(name: str, labels: list[Label]) -> str:
    """A label set as the text of a JSON file, to give to somebody else."""
    content = {
        "kind": _KIND,
        "version": 1,
        "name": name,
        "labels": [asdict(label) for label in labels],
    }
    return json.dumps(content, indent=2, ensure_ascii=False) + "\n"


def from_file(text: str) -> tuple[str, list[Label]]:
    """Read what ``to_file`` wrote: its name and its labels. Raises a LabelSetError."""
    try:
        content: Any = json.loads(text)
    except (ValueError, RecursionError):
        raise LabelSetError(say("This is not a label set: the file is not JSON.")) from None
    if not isinstance(content, dict) or content.get("kind") != _KIND:
        raise LabelSetError(say("This file holds no label set."))
    if content.get("version") != 1:
        raise LabelSetError(say("This label set was written by a newer Winnow."))
    listed = content.get("labels")
    if not isinstance(listed, list) or len(listed) > MOST:
        raise LabelSetError(say("A set has at most {most} labels.", most=MOST))
    labels = [_label_from(entry) for entry in listed]
    check(labels)
    return str(content.get("name") or say("Label set"))[:60], labels


def _label_from(entry: Any) -> Label:
    fields = Label.__slots__
    if not isinstance(entry, dict) or not all(isinstance(entry.get(f), str) for f in fields):
        raise LabelSetError(
            say(
                "Each label needs {fields} and {last}.",
                fields=", ".join(fields[:-1]),
                last=fields[-1],
            )
        )
    if entry["shape"] not in SHAPES:
        raise LabelSetError(say("There is no shape “{given}”.", given=entry["shape"]))
    if not re.fullmatch("#[0-9a-f]{6}", entry["colour"]):
        raise LabelSetError(
            say("“{given}” is not a colour such as #4080ff.", given=entry["colour"])
        )
    return Label(
        entry["letter"][:1], entry["name"][:40], entry["meaning"][:200],
        entry["shape"], entry["colour"], entry["written_as"][:100],
    )  # fmt: skip
