"""Groups by hand: split, joined and moved frames, which hold wherever the slider stands and
whatever comes in.

An edit names frames, not places: a frame that comes in between is grouped as the pictures say,
unless it falls between two frames that were joined.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Final, Literal

import numpy as np
from numpy.typing import NDArray

from winnow.core.groups import runs

Kind = Literal["split", "join", "move", "link"]


@dataclass(frozen=True, slots=True, order=True)
class HandEdit:
    """One thing said by hand.

    split: ``frame`` begins a group. join: ``frame`` and ``other``, and what is between them, are
    one group. move: ``frame`` is in the group of ``other``; alone, where that is the frame itself.
    link: both are parts of one picture (see ``links``); that changes no group.
    """

    kind: Kind
    frame: int
    other: int


NONE: Final[frozenset[HandEdit]] = frozenset()


def grouped(
    ids: Sequence[int],
    times: NDArray[np.float64],
    distances: NDArray[np.float32],
    upright: NDArray[np.bool_],
    threshold: float,
    edits: Collection[HandEdit] = NONE,
    cameras: NDArray[np.int32] | None = None,
) -> NDArray[np.int32]:
    """Number the groups of frames that are in order, as the pictures and the person say.

    ``times``: seconds, ascending; ``upright``: taller than wide, both of shape (n,); ``distances``:
    of each picture to those before it, shape (n − 1, k), see ``likeness.distances_back``;
    ``cameras``: see ``runs.boundaries``. Returns numbers from 0 in the order of each group's first
    frame, shape (n,).
    """
    if not len(ids):
        return np.empty(0, np.int32)
    # A frame that was moved away still stands between its neighbours: they must not become one
    # group.
    apart = runs.boundaries(times, distances, upright, threshold, cameras)
    place = {frame: n for n, frame in enumerate(ids)}
    there = [edit for edit in edits if edit.frame in place and edit.other in place]
    for edit in there:
        if edit.kind == "join":
            low, high = sorted((place[edit.frame], place[edit.other]))
            apart[low:high] = False
    for edit in there:
        if edit.kind == "split" and place[edit.frame] > 0:
            apart[place[edit.frame] - 1] = True
    numbers = np.concatenate([[0], np.cumsum(apart)]).astype(np.int32)
    moved = {edit.frame: edit.other for edit in there if edit.kind == "move"}
    alone: dict[int, int] = {}
    for frame in moved:
        root, seen = frame, {frame}
        while root in moved and moved[root] not in seen:
            root = moved[root]
            seen.add(root)
        known = numbers[place[root]] if root not in moved else None
        fresh = alone.setdefault(root, len(ids) + len(alone)) if known is None else known
        numbers[place[frame]] = fresh
    return _in_order(numbers)


def _in_order(numbers: NDArray[np.int32]) -> NDArray[np.int32]:
    """The same groups, numbered by their first frames."""
    _, first, inverse = np.unique(numbers, return_index=True, return_inverse=True)
    rank = np.empty(len(first), np.int32)
    rank[np.argsort(first)] = np.arange(len(first), dtype=np.int32)
    return np.asarray(rank[inverse], np.int32)


@dataclass(frozen=True, slots=True)
class Grouping:
    """The frames of a shoot in order of time, the number of each one's group, and what was said by
    hand."""

    ids: Sequence[int]
    numbers: Sequence[int]
    edits: frozenset[HandEdit]

    def members(self, number: int) -> list[int]:
        """The frames of a group, in order."""
        return [f for f, own in zip(self.ids, self.numbers, strict=True) if own == number]

    def number_of(self, frame: int) -> int:
        """The group of a frame. Raises ValueError when it is not there."""
        return self.numbers[self.ids.index(frame)]

    def moved(self) -> set[int]:
        """The frames that were moved by hand."""
        return {edit.frame for edit in self.edits if edit.kind == "move"}

    def stand(self, frames: Iterable[int]) -> list[int]:
        """Those of some frames that are where their time puts them."""
        moved = self.moved()
        return [frame for frame in frames if frame not in moved]


def split(grouping: Grouping, frame: int) -> frozenset[HandEdit]:  # noqa: C901
    """The edits with ``frame`` beginning a group: those of its group that come after it go
    along."""
    members = grouping.members(grouping.number_of(frame))
    at = members.index(frame)
    halves = members[:at], members[at:]
    if at == 0:
        return grouping.edits
    first, second = (grouping.stand(half) for half in halves)
    if not second:
        return move(grouping, halves[1], None)
    if not first:
        return move(grouping, halves[0], None)
    place = {f: n for n, f in enumerate(grouping.ids)}
    last, begins = first[-1], second[0]
    out = set(grouping.edits) | {HandEdit("split", begins, begins)}
    for edit in grouping.edits:
        if edit.kind != "join" or edit.frame not in place or edit.other not in place:
            continue
        low, high = sorted((edit.frame, edit.other), key=place.__getitem__)
        if place[low] < place[begins] <= place[high]:
            out.discard(edit)
            # What was joined stays so on either side.
            if place[low] < place[last]:
                out.add(HandEdit("join", low, last))
            if place[begins] < place[high]:
                out.add(HandEdit("join", begins, high))
    for half, anchor in zip(halves, (last, begins), strict=True):
        for frame in set(half) & grouping.moved():
            _put(out, frame, anchor)
    return frozenset(out)


def join_with_next(grouping: Grouping, frame: int) -> frozenset[HandEdit]:
    """The edits with the group of ``frame`` and the one after it as one group; the same at the
    end."""
    number = grouping.number_of(frame)
    own, after = grouping.members(number), grouping.members(number + 1)
    if not after:
        return grouping.edits
    run, next_run = grouping.stand(own), grouping.stand(after)
    if not next_run:
        return move(grouping, after, own[0])
    if not run:
        return move(grouping, own, after[0])
    place = {f: n for n, f in enumerate(grouping.ids)}
    low, high = sorted((place[run[-1]], place[next_run[0]]))
    # Frames of other groups that stand in between are not meant: they are held together by hand.
    between = {grouping.numbers[n] for n in range(low + 1, high)} - {number, number + 1}
    for other in sorted(between):
        members = grouping.members(other)
        if set(grouping.stand(members)) & set(grouping.ids[low + 1 : high]):
            grouping = replace(grouping, edits=move(grouping, members, None))
    kept = {
        edit
        for edit in grouping.edits
        if edit.kind != "split" or not low < place.get(edit.frame, -1) <= high
    }
    return frozenset(kept | {HandEdit("join", run[-1], next_run[0])})


def move(grouping: Grouping, frames: Sequence[int], to: int | None) -> frozenset[HandEdit]:
    """The edits with frames in the group of ``to``; None: in a group of their own."""
    moving = set(frames)
    anchor = frames[0]
    if to is not None:
        others = [m for m in grouping.members(grouping.number_of(to)) if m not in moving]
        if not others:
            return grouping.edits
        anchor = (grouping.stand(others) or others)[0]
    out = set(grouping.edits)
    # Frames that were moved to one that goes away stay where they are.
    for edit in grouping.edits:
        if edit.kind == "move" and edit.other in moving and edit.frame not in moving:
            members = grouping.members(grouping.number_of(edit.frame))
            others = [m for m in members if m not in moving]
            standing = grouping.stand(others)
            # Where all of them were moved, one of them holds the others: no two may hold each
            # other.
            for moved in [edit.frame] if standing else others:
                _put(out, moved, (standing or others)[0])
    for frame in frames:
        _put(out, frame, anchor)
    return frozenset(out)


def _put(edits: set[HandEdit], frame: int, to: int) -> None:
    edits -= {e for e in edits if e.kind == "move" and e.frame == frame}
    edits.add(HandEdit("move", frame, to))
