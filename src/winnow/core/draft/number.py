"""From what is picked to the number that is to be kept, one frame at a time: which pick is lost
most easily, and what is missing.

A pick whose group keeps another one goes before the only one of its group; fewer stars before more;
of those the one that is most like another pick that stays. What is missing is the best of groups
without a pick first, then the most different good seconds; what was rejected by hand comes last.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection, Sequence
from dataclasses import dataclass
from itertools import groupby
from typing import Final

import numpy as np
from numpy.typing import NDArray

from winnow.core.draft.apart import DIFFERENT, nearest, to_followers
from winnow.core.draft.draft import Candidate, in_order
from winnow.core.marks import Decision
from winnow.core.tally import NEARLY_THE_SAME
from winnow.say import say

# So many frames of a group are offered at most.
_OFFERED: Final = 4


@dataclass(frozen=True, slots=True)
class Question:
    """A frame that may go, or may be added.

    ``others``: what may go, or be added, instead; ``beside``: the pick that is most like it, where
    one is near, and of something that is added, in its group; ``words``: what would be lost or
    gained.
    """

    frame: int
    others: tuple[int, ...]
    beside: int | None
    words: str


def trim(
    candidates: Sequence[Candidate], over: int, settled: Collection[int] = (), most: int = 12
) -> list[Question]:
    """Which picks to let go, the easiest to lose first, each as if those before it were gone.

    ``candidates``: in the order of time; ``settled``: frames that stay; ``most``: how many
    questions at most.
    """
    picks = [candidate for candidate in candidates if candidate.decision is Decision.PICK]
    kept = np.ones(len(picks), np.bool_)
    followers = _apart(picks)
    in_group = Counter(pick.group for pick in picks)
    out: list[Question] = []
    for _ in range(min(over, most)):
        least, which = nearest(followers, kept)
        movable = [k for k, pick in enumerate(picks) if kept[k] and pick.frame not in settled]
        if not movable:
            break
        k = min(
            movable, key=lambda k: _ease(picks[k], in_group[picks[k].group], float(least[k]), k)
        )
        frame, other = picks[k], picks[which[k]] if which[k] >= 0 else None
        beside = other.frame if other else None
        words = _loss(frame, other, in_group[frame.group], float(least[k]))
        instead = () if beside is None or beside in settled else (beside,)
        out.append(Question(frame.frame, instead, beside, words))
        kept[k] = False
        in_group[frame.group] -= 1
    return out


def _ease(
    frame: Candidate, of_its_group: int, apart: float, at: int
) -> tuple[bool, int, bool, float, int, int]:
    """How easily a pick is lost: the less, the more easily."""
    # Two that are most like each other are equally far: the worse of them goes, then the later one.
    return (of_its_group < 2, frame.stars, frame.usable, round(apart, 4), -frame.place, -at)


def _loss(frame: Candidate, other: Candidate | None, of_its_group: int, apart: float) -> str:
    number = frame.group + 1
    if of_its_group < 2:
        return say("the only pick of group {number}: its moment would be lost", number=number)
    if other is not None and other.group == frame.group and apart <= NEARLY_THE_SAME:
        return say("nearly the same as another pick of its group")
    return say("group {number} keeps another pick, which differs", number=number)


def fill(
    candidates: Sequence[Candidate], missing: int, settled: Collection[int] = (), most: int = 12
) -> list[Question]:
    """What to add, the most missing first, each as if those before it were picked.

    ``candidates``: in the order of time; ``settled``: frames that are not wanted; ``most``: how
    many questions at most.
    """
    usable = {
        number: [
            candidate
            for candidate in in_order(list(members))
            if candidate.usable and _is_open(candidate, settled)
        ]
        for number, members in groupby(candidates, lambda candidate: candidate.group)
    }
    place = {
        candidate.frame: n
        for members in usable.values()
        for n, candidate in enumerate(_offered(members))
    }
    those = [
        candidate
        for candidate in candidates
        if candidate.decision is Decision.PICK or candidate.frame in place
    ]
    picked = np.array([candidate.decision is Decision.PICK for candidate in those], np.bool_)
    followers = _apart(those)
    in_group = Counter(
        candidate.group for candidate in those if candidate.decision is Decision.PICK
    )
    out: list[Question] = []
    for _ in range(min(missing, most)):
        least, which = nearest(followers, picked)
        offers = []
        for k, candidate in enumerate(those):
            if picked[k]:
                continue
            apart = float(least[k])
            tier = _tier(candidate, place[candidate.frame], in_group[candidate.group], apart)
            if tier is not None:
                offers.append((tier, -round(apart, 4), k))
        if not offers:
            break
        tier, _, k = min(offers)
        frame = those[k]
        others = tuple(
            candidate.frame for candidate in usable[frame.group] if candidate.frame != frame.frame
        )
        pick = those[which[k]] if which[k] >= 0 else None
        beside = pick.frame if pick is not None and pick.group == frame.group else None
        out.append(Question(frame.frame, others, beside, _gain(tier, frame.group + 1)))
        picked[k] = True
        in_group[frame.group] += 1
    return out


def _apart(those: Sequence[Candidate]) -> NDArray[np.float32]:
    """How far frames are from those that follow them; those of another group are farther than any
    of one's own."""
    followers = to_followers([candidate.signature for candidate in those])
    groups = np.array([candidate.group for candidate in those])
    for away, row in enumerate(followers, 1):
        row[:-away] += groups[away:] != groups[:-away]
    return followers


def _is_open(candidate: Candidate, settled: Collection[int]) -> bool:
    return candidate.decision is not Decision.PICK and candidate.frame not in settled


def _offered(group: Sequence[Candidate]) -> list[Candidate]:
    """Of a group's usable frames those that may be added: undecided ones first."""
    return sorted(group, key=lambda candidate: candidate.decision is Decision.REJECT)[:_OFFERED]


def _tier(candidate: Candidate, place: int, of_its_group: int, apart: float) -> int | None:
    """In which row a frame is asked for; None: it adds nothing, or not yet.

    ``place``: 0 for the best of its group.
    """
    rejected = candidate.decision is Decision.REJECT
    if of_its_group == 0:
        return None if place else 2 if rejected else 0
    if apart < DIFFERENT:
        return None
    return 3 if rejected else 1


def _gain(tier: int, number: int) -> str:
    return (
        say("nothing of group {number} is picked yet", number=number),
        say("a second of group {number} that differs from what is picked", number=number),
        say("group {number} is rejected whole: its best frame that can be used", number=number),
        say("rejected, though it differs from what is picked of group {number}", number=number),
    )[tier]
