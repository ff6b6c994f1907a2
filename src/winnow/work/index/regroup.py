"""The groups of a shoot: made from what the pictures show, the slider, and what was said by
hand."""

from __future__ import annotations

import threading
from collections.abc import Callable
from dataclasses import replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from winnow.core import clocks
from winnow.core.groups import runs
from winnow.core.groups.edits import Grouping, HandEdit, grouped
from winnow.core.marks import Change, GroupStep
from winnow.core.measure import likeness
from winnow.store import groups as store
from winnow.store import marks
from winnow.store.db import Database

# Two at a time would store, last, what one of them made of older figures.
_ONE_AT_A_TIME = threading.Lock()


def preview(db: Database, shoot_id: int, looseness: float) -> Grouping:
    """The groups as they would be with the slider at another place."""
    return _made(db, shoot_id, looseness, _material(db, shoot_id, db.commits))


def regroup(db: Database, shoot_id: int, looseness: float | None = None) -> Grouping:
    """Make the groups anew and store them; ``looseness``: where the slider is put."""
    with _ONE_AT_A_TIME:
        material = _material(db, shoot_id, db.commits)
        wanted = store.looseness(db, shoot_id) if looseness is None else looseness
        made = _made(db, shoot_id, wanted, material)
        if looseness is not None:
            store.set_looseness(db, shoot_id, looseness)
        store.keep_numbers(db, material[0], made.numbers)
    return made


# What was compared last: a new frame, or another mark, leaves nearly all of it as it is.
_compared: tuple[NDArray[np.uint8], NDArray[np.float32]] | None = None


# While the slider moves nothing is written, and only the threshold differs.
@lru_cache(1)
def _material(
    db: Database, shoot_id: int, commits: int
) -> tuple[store.Grouped, NDArray[np.float32]]:
    """What the groups are made of, and how far each picture is from those before it."""
    global _compared
    known = store.material(db, shoot_id)
    table = likeness.as_table(known.signatures)
    distances = likeness.distances_back(table, runs.LOOKS_BACK, _compared)
    _compared = table, distances
    # The signatures are large, and of no more use.
    return replace(known, signatures=[]), distances


def _made(
    db: Database,
    shoot_id: int,
    looseness: float,
    material: tuple[store.Grouped, NDArray[np.float32]],
) -> Grouping:
    known, distances = material
    edits = store.edits_of(db, shoot_id)
    threshold = runs.threshold_for(looseness)
    numbers = grouped(
        known.ids, known.times, distances, known.upright, threshold, edits, known.cameras
    )
    return Grouping(known.ids, numbers.tolist(), edits)


def edit(
    db: Database,
    shoot_id: int,
    sentence: str,
    change: Callable[[Grouping], frozenset[HandEdit]],
) -> Change | None:
    """Change the groups by hand, as one step of the history; None when nothing changes.

    Raises ValueError when a frame is not in this shoot.
    """

    def plan() -> Change | None:
        grouping = preview(db, shoot_id, store.looseness(db, shoot_id))
        after = change(grouping)
        if after == grouping.edits:
            return None
        return Change(sentence, groups=GroupStep(after - grouping.edits, grouping.edits - after))

    return marks.apply(db, shoot_id, plan)


def alike(db: Database, shoot_id: int, frame: int, most: int) -> list[int]:
    """The frames of a shoot that are most like one of them, that one first.

    Raises ValueError without it.
    """
    known = store.material(db, shoot_id)
    table = likeness.as_table(known.signatures)
    at = known.ids.index(frame)
    apart = likeness.distances(table[at : at + 1], table)
    apart[at] = -1
    order = np.argsort(apart, kind="stable")  # unknown ones last
    return [known.ids[n] for n in order[:most] if not np.isnan(apart[n])] or [frame]


def suggested_offsets(db: Database, shoot_id: int) -> dict[tuple[str, str], clocks.Offset]:
    """For every camera but the one with most frames, what may be added to its clock, if frames say
    so."""
    cameras = store.by_camera(db, shoot_id)
    if len(cameras) < 2:
        return {}
    usual = max(cameras, key=lambda camera: len(cameras[camera][0]))
    times, signatures = cameras[usual]
    offsets = {
        camera: clocks.suggested(times, signatures, *cameras[camera])
        for camera in cameras
        if camera != usual
    }
    return {camera: offset for camera, offset in offsets.items() if offset is not None}
