"""The draft: a proposal of what to keep, from verdicts, what is decided already, and the number to
keep.

One frame a group first, the best that can be used. Where people are told apart, everybody is in one
at least. Up to the number, the most different good seconds; over it, frames are left out that are
most like another that is kept, those last without which somebody would be in none. Pure and
deterministic; no mark is changed by it.
"""

from __future__ import annotations

import heapq
from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from itertools import groupby
from typing import Final

import numpy as np

from winnow.core.draft.apart import DIFFERENT, from_kept, nearest, to_followers
from winnow.core.marks import Decision
from winnow.say import say

# Frames that are as good as the best, with which a second may be chosen, are so many at most.
_MOST_A_GROUP: Final = 4


@dataclass(frozen=True, slots=True)
class Candidate:
    """A frame that the draft may propose.

    ``place``: one more than frames of its group are better, 0 where it isn't known; ``best``: none
    is better; ``usable``: nothing makes it unusable; ``words``: the verdict on it; ``people``: the
    numbers of those who are in it.
    """

    frame: int
    group: int
    decision: Decision = Decision.UNDECIDED
    stars: int = 0
    place: int = 0
    best: bool = False
    usable: bool = True
    words: str = ""
    signature: bytes | None = None
    people: frozenset[int] = frozenset()


@dataclass(frozen=True, slots=True)
class Proposal:
    """What is proposed for a group.

    ``frames``: from best to worst; ``keep``: those to keep; ``runner_up``: the next to it;
    ``sure``: it is one, and better than all others; ``decided``: nothing is undecided in it, or it
    has a pick; ``words``: why.
    """

    group: int
    frames: tuple[int, ...]
    keep: tuple[int, ...]
    runner_up: int | None
    sure: bool
    decided: bool
    words: str


@dataclass(frozen=True, slots=True)
class Draft:
    """The proposals in the order of groups; ``picked``: frames that are picks already, which are
    among those kept."""

    proposals: tuple[Proposal, ...] = ()
    picked: int = 0

    @property
    def kept(self) -> int:
        """How many frames would be kept in all."""
        return sum(len(proposal.keep) for proposal in self.proposals)


@dataclass(slots=True)
class _Group:
    """A group while the draft is made.

    ``order``: from best to worst; ``proposable``: those that can be proposed, in order; ``only``:
    the people who are in none but these frames of it, each with who that is.
    """

    number: int
    order: list[Candidate]
    proposable: list[Candidate]
    decided: bool
    keep: list[Candidate] = field(default_factory=list)
    only: dict[int, frozenset[int]] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Agreement:
    """How a person's picks compare with the verdicts.

    ``groups``: with a pick and a frame that is called best; ``other``: those of them in which no
    such frame is picked.
    """

    groups: int
    other: int


def agreement(candidates: Iterable[Candidate]) -> Agreement:
    """Count the groups in which another frame was taken than one that is called best.

    ``candidates``: group by group.
    """
    groups = other = 0
    for _, members in groupby(candidates, lambda candidate: candidate.group):
        frames = list(members)
        picks = [frame for frame in frames if frame.decision is Decision.PICK]
        # Where it is alone there is nothing to choose.
        if len(frames) > 1 and picks and any(frame.best for frame in frames):
            groups += 1
            other += not any(pick.best for pick in picks)
    return Agreement(groups, other)


def draft(candidates: Sequence[Candidate], number: int | None = None) -> Draft:
    """Propose what to keep.

    ``candidates``: in the order of time, group by group; ``number``: how many to keep in all, None
    for one a group.
    """
    groups = [
        _begun(of_group, list(members))
        for of_group, members in groupby(candidates, lambda c: c.group)
    ]
    _show_everybody(groups)
    kept = sum(len(group.keep) for group in groups)
    if number is not None and kept < number:
        _fill(groups, number - kept)
    elif number is not None and kept > number:
        _trim(groups, kept - number)
    return Draft(
        tuple(_proposal(group) for group in groups),
        sum(candidate.decision is Decision.PICK for candidate in candidates),
    )


def in_order(group: Sequence[Candidate]) -> list[Candidate]:
    """The frames of a group from best to worst: what can be used first, then by the verdict, then
    by stars."""
    return sorted(
        group, key=lambda candidate: (not candidate.usable, candidate.place or 1, -candidate.stars)
    )


def _begun(number: int, members: list[Candidate]) -> _Group:
    """A group with its first proposal: what is picked already, else the best that is undecided and
    can be used."""
    order = in_order(members)
    picks = [candidate for candidate in members if candidate.decision is Decision.PICK]
    undecided = [candidate for candidate in order if candidate.decision is Decision.UNDECIDED]
    decided = bool(picks) or not undecided
    group = _Group(
        number,
        order,
        [] if decided else [candidate for candidate in undecided if candidate.usable],
        decided,
    )
    group.keep = picks or group.proposable[:1]
    return group


def _show_everybody(groups: Sequence[_Group]) -> None:
    """Keep one more frame where somebody would be in none: the one that shows most of those who are
    missing, of these the best of its group."""
    missing = {n for group in groups for frame in group.proposable for n in frame.people}
    missing -= {n for group in groups for frame in group.keep for n in frame.people}
    while missing:
        group, frame = max(
            ((group, frame) for group in groups for frame in group.proposable),
            key=lambda offer: len(offer[1].people & missing),
        )
        group.keep.append(frame)
        group.only[frame.frame] = frame.people & missing
        missing -= frame.people


def _fill(groups: Sequence[_Group], missing: int) -> None:
    """Add the most different good seconds, one after the other."""
    heap: list[tuple[float, int, int]] = []
    for n, group in enumerate(groups):
        _push(heap, group, n)
    while missing and heap:
        _, n, frame = heapq.heappop(heap)
        group = groups[n]
        group.keep.append(
            next(candidate for candidate in group.proposable if candidate.frame == frame)
        )
        missing -= 1
        if len(group.keep) < _MOST_A_GROUP:
            _push(heap, group, n)


def _push(heap: list[tuple[float, int, int]], group: _Group, n: int) -> None:
    """Put the best second of a group on the heap: of the good ones the most different from those
    kept.

    Those as good as the best come before others, whatever they look like.
    """
    rest = [candidate for candidate in group.proposable if candidate not in group.keep]
    good = [candidate for candidate in rest if candidate.best]
    for shift, those in (
        (0.0, good),
        (1.0, [candidate for candidate in rest if not candidate.best]),
    ):
        if not those:
            continue
        away = from_kept(_signatures(those), _signatures(group.keep))
        at = int(np.argmax(away))
        if away[at] >= DIFFERENT or shift or len(good) == len(rest):
            heapq.heappush(heap, (shift - float(away[at]), n, those[at].frame))
            return


def _trim(groups: Sequence[_Group], over: int) -> None:
    """Leave frames out, those first that are most like another that is kept, and those last without
    which somebody would be in none; what is picked already stays."""
    kept = [(group, frame) for group in groups for frame in group.keep]
    alive = np.ones(len(kept), np.bool_)
    followers = to_followers(_signatures([frame for _, frame in kept]))
    seen = Counter(person for _, frame in kept for person in frame.people)
    movable = [k for k, (group, _) in enumerate(kept) if not group.decided]
    for _ in range(min(over, len(movable))):
        least, _ = nearest(followers, alive)
        k = min(
            (k for k in movable if alive[k]),
            key=lambda k: (any(seen[n] == 1 for n in kept[k][1].people), least[k], k),
        )
        alive[k] = False
        group, frame = kept[k]
        group.keep.remove(frame)
        seen -= Counter(frame.people)


def _signatures(those: Sequence[Candidate]) -> list[bytes | None]:
    return [candidate.signature for candidate in those]


def _proposal(group: _Group) -> Proposal:
    keep = group.keep
    rest = [
        candidate
        for candidate in group.order
        if candidate not in keep and candidate.decision is not Decision.REJECT
    ]
    alone = len(group.order) == 1
    only_best = (
        len(keep) == 1 and keep[0].best and sum(candidate.best for candidate in group.order) == 1
    )
    sure = bool(keep) and not group.decided and (alone or only_best)
    return Proposal(
        group.number,
        tuple(candidate.frame for candidate in group.order),
        tuple(candidate.frame for candidate in keep),
        next((candidate.frame for candidate in rest if candidate.usable), None),
        sure,
        group.decided,
        _words(group),
    )


def _words(group: _Group) -> str:
    if group.decided:
        picked = sum(candidate.decision is Decision.PICK for candidate in group.keep)
        return say("decided: {picked} picked", picked=picked) if picked else say("decided: no pick")
    if not group.keep:
        if group.proposable:
            return say("left out: its frame is most like another that is kept")
        return say("no frame of this group can be used")
    if len(group.order) == 1:
        return say("alone in its group")
    first = group.keep[0].words or say("not compared yet")
    if len(group.keep) == 1:
        return first
    people = sorted(n for frame in group.keep for n in group.only.get(frame.frame, ()))
    if people:
        who = say(", ").join(say("person {number}", number=n) for n in people)
        return say("{why}; and {who}, in no other frame that is kept", why=first, who=who)
    return say("{why}; and what differs most from it", why=first)
