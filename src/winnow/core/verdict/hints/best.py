"""Best of its group: an order with its reasons in words; what can't be told apart is said to be tied.

First the eyes (fewer closed ones), then faults of the exposure and motion, then how sharp the part that matters
is. Differences that nobody sees are ties.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from winnow.core.verdict.hints import dark, eyes, motion
from winnow.core.verdict.hints.kind import Kind, Looked, Noticed, Shoot
from winnow.core.verdict.order import TIE
from winnow.say import say, say_of

KIND = Kind(
    name="best",
    title=say("Best of its group"),
    meaning=say(
        "Nothing in its group is better, by eyes, exposure, motion and sharpness where it matters."
    ),
    figure=say("frames that are as good, itself included"),
    unit="",
    threshold=2,
    least=1,
    most=8,
    below=True,
    fault=False,
)


# Moved, these change what is counted in reasons, and who is best.
COUNTS_BY = frozenset((eyes.KIND.name, motion.KIND.name, dark.KIND.name))


@dataclass(frozen=True, slots=True)
class Standing:
    """What the order of a group is made from, of one frame."""

    frame: int
    seen: int
    closed: int
    moved: bool
    dark: bool
    softer: float | None
    blur: float | None

    def better(self, other: Standing) -> bool:
        """Whether this frame is clearly better than another one."""
        mine = self.closed, self.moved + self.dark
        theirs = other.closed, other.moved + other.dark
        if mine != theirs:
            return mine < theirs
        if self.softer is None or other.softer is None:
            return False
        return self.softer < other.softer - TIE


def standings(group: Sequence[Looked], shoot: Shoot) -> list[Standing]:
    """The frames of a group that can be compared."""
    moved = {
        one.frame for one in motion.notice(group, shoot) if shoot.names(motion.KIND, one.figure)
    }
    darker = {one.frame for one in dark.notice(group, shoot) if shoot.names(dark.KIND, one.figure)}
    below = eyes.closed_below(shoot.thresholds)
    counted = {one.id: eyes.closed_of(one.faces or (), below) for one in group}
    return [
        Standing(
            one.id,
            *counted[one.id],
            one.id in moved,
            one.id in darker,
            one.judged.softer,
            one.judged.blur,
        )
        for one in group
        if one.judged is not None
    ]


def in_order(group: Sequence[Looked], shoot: Shoot) -> list[int]:
    """The frames of a group from best to worst; those that are tied in the order of time."""
    known = standings(group, shoot)
    worse_than = {one.frame: sum(other.better(one) for other in known) for one in known}
    ranked = sorted(known, key=lambda one: worse_than[one.frame])
    rest = [one.id for one in group if one.id not in worse_than]
    return [one.frame for one in ranked] + rest


def notice(group: Sequence[Looked], shoot: Shoot) -> list[Noticed]:
    """Of the frames that no other one of their group is better than."""
    known = standings(group, shoot)
    if len(known) < 2:
        return []
    best = [one for one in known if not any(other.better(one) for other in known)]
    if len(best) == len(known):
        return []  # nothing is known to be better than anything
    return [Noticed(one.frame, len(best), _reasons(one, best, known)) for one in best]


def _reasons(one: Standing, best: Sequence[Standing], known: Sequence[Standing]) -> str:
    others = [other for other in known if other not in best]
    words = []
    if one.seen and not one.closed and any(other.closed for other in others):
        words.append(say("eyes open"))
    if not one.moved and any(other.moved for other in others):
        words.append(say("still"))
    if not one.dark and any(other.dark for other in others):
        words.append(say("well exposed"))
    if one.softer is not None:
        rivals = [
            other.blur - one.blur
            for other in others
            if other.blur is not None and one.blur is not None and other.softer is not None
            and other.softer > one.softer + TIE
        ]  # fmt: skip
        if rivals and len(rivals) == len(others) and min(rivals) >= 0.1:
            words.append(say("sharper by {px:.1f} px", px=min(rivals)))
        elif rivals:
            words.append(say("among the sharpest"))
    if len(best) > 1:
        words.append(say_of(len(best) - 1, "tied with {n} other", "tied with {n} others"))
    return say(
        "best of {number}: {reasons}",
        number=len(known),
        reasons=", ".join(words) or say("nothing speaks against it"),
    )
