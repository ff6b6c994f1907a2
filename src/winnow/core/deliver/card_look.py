"""What is on a card as somebody looks at it before it is copied: frames, by day and by group."""

from __future__ import annotations

from collections.abc import Mapping, Sequence, Set
from dataclasses import dataclass
from typing import Final

import numpy as np

from winnow.core.deliver.card_import import CardFile
from winnow.core.frames import FoundFile, kind_of, pair
from winnow.core.groups import runs
from winnow.core.measure import likeness

_DAY_S: Final = 86_400


@dataclass(frozen=True, slots=True)
class Looks:
    """What a file's thumbnail looks like: ``signature`` as ``likeness.signature`` makes it, and
    whether it is taller than wide."""

    signature: bytes | None = None
    upright: bool = False


@dataclass(frozen=True, slots=True)
class OnCard:
    """A frame, or a film or sound of its own, with all files that belong to it.

    ``path``: the file that is shown; ``taken_at``: seconds since 1970 of the camera's clock;
    ``day``: the number of that day since then; ``group``: frames in order that show the same thing
    have one number; ``copied``: how many of ``files`` are on the disk already.
    """

    path: str
    files: tuple[str, ...]
    picture: bool
    taken_at: float
    day: int
    size: int
    group: int
    copied: int


def frames_on_card(
    files: Sequence[CardFile], looks: Mapping[str, Looks], copied: Set[str]
) -> list[OnCard]:
    """The frames of a card in the order in which they were taken.

    ``looks``: of thumbnails, by path, as far as they are known; ``copied``: paths of files that are
    on the disk already.
    """
    by_path = {file.path: file for file in files}
    paired = pair(FoundFile(file.path, file.size, file.mtime_ns) for file in files)
    sets = [
        tuple(f.path for f in (*frame.files, *frame.sidecars, *frame.companions))
        for frame in paired
    ]
    used = {path for paths in sets for path in paths}
    sets += [(file.path,) for file in files if file.path not in used]
    sets.sort(key=lambda paths: by_path[paths[0]].taken_at)
    first = [by_path[paths[0]] for paths in sets]
    cameras = {name: n for n, name in enumerate(sorted({file.camera for file in first}))}
    table = likeness.as_table([looks.get(file.path, Looks()).signature for file in first])
    groups = runs.group_numbers(
        np.array([file.taken_at for file in first]),
        likeness.distances_back(table, runs.LOOKS_BACK),
        np.array([looks.get(file.path, Looks()).upright for file in first], np.bool_),
        cameras=np.array([cameras[file.camera] for file in first], np.int32),
    )
    return [
        OnCard(
            path=paths[0],
            files=paths,
            picture=kind_of(paths[0]) is not None,
            taken_at=file.taken_at,
            day=int(file.taken_at // _DAY_S),
            size=sum(by_path[path].size for path in paths),
            group=int(group),
            copied=sum(path in copied for path in paths),
        )
        for paths, file, group in zip(sets, first, groups, strict=True)
    ]
