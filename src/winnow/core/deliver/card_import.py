"""What a card holds, where its files go, and whether it may be formatted."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from winnow.core.counts import counted
from winnow.core.files import templates
from winnow.core.files.names import free_names
from winnow.core.frames import split_name
from winnow.say import say, say_of

ItemState = Literal["planned", "done", "there", "failed"]


@dataclass(frozen=True, slots=True)
class CardFile:
    """A file below a card's DCIM.

    ``path``: relative to the card, with "/"; ``taken_at``: seconds since 1970 of the camera's
    clock; ``fingerprint``: names its content, by its size and samples; "" where it could not be
    read.
    """

    path: str
    size: int
    mtime_ns: int
    taken_at: float
    camera: str
    fingerprint: str

    @property
    def name(self) -> str:
        """The file's name alone."""
        return self.path.rpartition("/")[2]


def destinations(
    files: Sequence[CardFile], template: str, shoot: str, taken: Mapping[str, Iterable[str]]
) -> list[str]:
    """Where each file goes: a path relative to the target folder, with "/". TemplateError.

    Files of one exposure (the same stem in the same folder of the card) stay together, by the time
    of the first; where two exposures would get the same name, the later one gets a number.
    ``taken``: the names that each folder holds already.
    """
    together: dict[tuple[str, str], list[int]] = {}
    for n, file in enumerate(files):
        stem = file.path.rpartition("/")[0], split_name(file.name)[0]
        together.setdefault(stem, []).append(n)
    by_folder: dict[str, list[list[int]]] = {}
    for members in together.values():
        first = min((files[n] for n in members), key=lambda file: file.taken_at)
        place = templates.folder(template, _values(first, shoot))
        by_folder.setdefault(place, []).append(members)
    out = [""] * len(files)
    for place, sets in by_folder.items():
        wanted = [tuple(files[n].name for n in members) for members in sets]
        for members, names in zip(sets, free_names(wanted, taken.get(place, ())), strict=True):
            for n, name in zip(members, names, strict=True):
                out[n] = f"{place}/{name}"
    return out


def _values(file: CardFile, shoot: str) -> dict[str, str]:
    # "2026-10-03T18:38:02", of the camera's own clock.
    when = str(np.datetime64(max(0, int(file.taken_at)), "s"))
    folders = file.path.split("/")
    return {
        "date": when[:10],
        "year": when[:4],
        "month": when[5:7],
        "day": when[8:10],
        "hour": when[11:13],
        "shoot": shoot,
        "camera": file.camera,
        "folder": folders[1] if len(folders) > 2 else "",
    }


@dataclass(frozen=True, slots=True)
class Outcome:
    """What became of one file, and of its second copy ("" where none was wanted)."""

    state: ItemState
    second: ItemState | Literal[""]


def report(
    outcomes: Iterable[Outcome],
    outside: int,
    running: bool,
    one_disk: bool = False,
    left: int = 0,
) -> tuple[bool, str]:
    """Whether the card is safe to format, and why (not), in words.

    ``outside``: files on the card that are not below DCIM, where cameras put pictures, and are no
    pictures, films or sounds; they are never copied. ``one_disk``: both places lie on one disk.
    ``left``: files that were left out on wish, and are only on the card.
    """
    every = list(outcomes)
    states = Counter(outcome.state for outcome in every)
    seconds = Counter(outcome.second for outcome in every if outcome.second)
    total = len(every)
    good = states["done"] + states["there"]
    if not total:
        return False, say("There are no pictures on this card.")
    if running:
        return False, say("Not yet safe to format: copying goes on.")
    if good < total:
        failed, missing = states["failed"], total - good
        words = say_of(
            missing,
            "Not safe to format: {n:,} file of {total:,} is not copied",
            "Not safe to format: {n:,} files of {total:,} are not copied",
            total=total,
        )
        if failed:
            words += say(", {failed:,} of them failed", failed=failed)
        return False, words + "."
    wanted = sum(seconds.values())
    backed_up = seconds["done"] + seconds["there"]
    if backed_up < wanted:
        return False, say_of(
            wanted - backed_up,
            "Not safe to format: all {files} are on the disk, but {n:,} is not in the second "
            "place.",
            "Not safe to format: all {files} are on the disk, but {n:,} are not in the second "
            "place.",
            files=counted(total, "file"),
        )
    if left:
        return False, say_of(
            left,
            "Not safe to format: what you ticked is copied, each file read back and compared, but "
            "{n:,} file was left out and is only on the card.",
            "Not safe to format: what you ticked is copied, each file read back and compared, but "
            "{n:,} files were left out and are only on the card.",
        )
    where = say("on the disk and in the second place") if wanted else say("on the disk")
    words = say(
        "Safe to format: all {files} are {where}, each read back and compared.",
        files=counted(total, "file"),
        where=where,
    )
    if wanted and one_disk:
        words += " " + say("But both places are on one disk: if it fails, both copies are gone.")
    if outside:
        words += " " + say_of(
            outside,
            "{n:,} file outside of DCIM is no picture, film or sound, and stayed behind.",
            "{n:,} files outside of DCIM are no pictures, films or sounds, and stayed behind.",
        )
    return True, words
