"""Names of delivered files: by a template, one for each frame, its files together."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Final, Literal

from winnow.core.files import templates
from winnow.core.frames import SIDECAR_ENDING, Kind, kind_of, split_name
from winnow.say import say

Which = Literal["all", "raw", "ready"]
AS_IT_IS: Final = "{name}"

# What each field stands for, for the person.
FIELDS: Final[dict[str, str]] = {
    "name": say("the name it has"),
    "number": say("the digits at the end of that"),
    "seq": say("1, 2, 3 … in order; {seq:3} is 001"),
    "date": "2026-10-03",
    "year": "2026",
    "month": "10",
    "day": "03",
    "time": "184207",
    "shoot": say("the shoot’s name"),
    "camera": say("the camera"),
    "stars": say("its stars"),
    "label": say("its label’s name"),
    "group": say("its group’s number"),
    "in_group": say("1, 2, 3 … within its group"),
    "title": say("its title"),
    "city": say("its city"),
    "creator": say("its creator"),
}


# Of these, what people said of a frame.
_SAID: Final = frozenset({"stars", "label", "title", "city", "creator"})


@dataclass(frozen=True, slots=True)
class ToName:
    """A frame to be named.

    ``files``: the names of its files that are delivered; ``values``: of ``FIELDS``, but for the
    counters; ``group``: its group's number.
    """

    files: tuple[str, ...]
    values: Mapping[str, str]
    group: int
    with_sidecar: bool


def names_what_is_said(template: str) -> bool:
    """Whether names by a template hold marks or texts. Raises TemplateError."""
    return not _fields_of(template).isdisjoint(_SAID)


def counts(template: str) -> bool:
    """Whether names by a template count the frames. Raises TemplateError."""
    return "seq" in _fields_of(template)


def _fields_of(template: str) -> set[str]:
    parts = templates.parse(template, FIELDS)
    return {piece.name for part in parts for piece in part if isinstance(piece, templates.Field)}


def chosen(files: Sequence[str], which: Which) -> list[int]:
    """Which of a frame's files are wanted: raw files, those that are ready to be seen, or all.

    A frame that has none of the wanted kind gives what it has.
    """
    if which == "all":
        return list(range(len(files)))
    wanted = [n for n, name in enumerate(files) if (kind_of(name) is Kind.RAW) == (which == "raw")]
    return wanted or list(range(len(files)))


def named(frames: Iterable[ToName], template: str, seq_from: int = 1) -> list[tuple[str, ...]]:
    """The names of each frame's files, then its new sidecar, relative to the target, with "/".

    ``seq_from``: where ``{seq}`` begins to count. TemplateError. Nothing is checked against what is
    there already, nor against each other: see
    ``names.free_names``.
    """
    within: dict[int, int] = {}
    result = []
    for sequence, frame in enumerate(frames, seq_from):
        within[frame.group] = within.get(frame.group, 0) + 1
        if template.strip() == AS_IT_IS:
            stem, names = split_name(frame.files[0])[0], list(frame.files)
        else:
            counters = {"seq": str(sequence), "in_group": str(within[frame.group])}
            stem = templates.folder(template, {**frame.values, **counters}, FIELDS)
            names = [stem + _ending(name, frame.files[0]) for name in frame.files]
        if frame.with_sidecar:
            names.append(f"{stem}.{SIDECAR_ENDING}")
        result.append(tuple(names))
    return result


def _ending(name: str, shown: str) -> str:
    """What follows the stem that a frame's files share: ".jpg.xmp" of "a.jpg.xmp" beside
    "a.jpg"."""
    stem = split_name(shown)[0]
    return name[len(stem if name.startswith(f"{stem}.") else split_name(name)[0]) :]


def number_in(name: str) -> str:
    """The digits at the end of a name, "" if there are none. Example: "QH2_0412" gives "0412"."""
    digits = re.search(r"\d+$", name)
    return digits.group() if digits else ""


def manifest(items: Iterable[tuple[str, str]]) -> str:
    """What was delivered, as lines of BLAKE3 and name, which the usual checking programs read.

    A name with a line break or a backslash is escaped as they do.
    """
    lines = []
    for digest, name in items:
        escaped = name.replace("\\", "\\\\").replace("\n", "\\n")
        mark = "\\" if escaped != name else ""
        lines.append(f"{mark}{digest}  {escaped}\n")
    return "".join(lines)
