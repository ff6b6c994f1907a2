"""The funnel of a shoot, from shot to delivered, and picks that are nearly the same picture."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Final, Literal

from winnow.core.groups.runs import threshold_for
from winnow.core.marks import MAX_STARS, Decision, Mark
from winnow.core.measure import likeness

# The likeness distance at which the groups' slider, near its tighter end, still takes two frames
# together.
NEARLY_THE_SAME: Final = threshold_for(0.15)


@dataclass(frozen=True, slots=True)
class Bar:
    """How many frames are left at a step.

    ``kind``: what it counts; ``value``: stars, or a label's letter.
    """

    kind: Literal["shot", "decided", "picks", "stars", "label", "delivered"]
    value: str
    frames: int


def funnel(
    tally: Mapping[Mark, int], letters: Sequence[str], delivered: int, deleted: int = 0
) -> list[Bar]:
    """Each step from shot to delivered.

    Stars and labels are those of picks; only those that some pick has. ``deleted``: frames that
    were shot, decided and deleted for good.
    """
    shot = sum(tally.values()) + deleted
    picks = {mark: n for mark, n in tally.items() if mark.decision is Decision.PICK}
    undecided = sum(n for mark, n in tally.items() if mark.decision is Decision.UNDECIDED)
    bars = [
        Bar("shot", "", shot),
        Bar("decided", "", shot - undecided),
        Bar("picks", "", sum(picks.values())),
    ]
    for stars in range(1, MAX_STARS + 1):
        number = sum(n for mark, n in picks.items() if mark.stars >= stars)
        if number:
            bars.append(Bar("stars", str(stars), number))
    for letter in letters:
        number = sum(n for mark, n in picks.items() if mark.label == letter)
        if number:
            bars.append(Bar("label", letter, number))
    bars.append(Bar("delivered", "", delivered))
    return bars


def nearly_the_same(
    ids: Sequence[int],
    groups: Sequence[int],
    signatures: Sequence[bytes | None],
    picks: Collection[int],
) -> list[list[int]]:
    """Runs of picks, one after the other in a group, that look nearly the same; at least two in
    each.

    ``ids``, ``groups``, ``signatures``: of the frames of a shoot, in order of time.
    """
    kept = [n for n, frame in enumerate(ids) if frame in picks]
    apart = likeness.distances_between_neighbours([signatures[n] for n in kept])
    runs: list[list[int]] = []
    joined = False
    for (one, other), distance in zip(pairwise(kept), apart, strict=True):
        # An unknown distance is NaN, which is not close.
        close = groups[one] == groups[other] and bool(distance <= NEARLY_THE_SAME)
        if close and joined:
            runs[-1].append(ids[other])
        elif close:
            runs.append([ids[one], ids[other]])
        joined = close
    return runs
