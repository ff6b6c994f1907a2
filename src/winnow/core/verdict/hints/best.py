"""Best of its group: an order with its reasons in words; what can't be told apart is said to be
tied.

What makes a frame unusable comes first: no edge where it matters, nothing sharp at all, damage, a
flash that did not fire, far too dark or bright. Then the eyes (fewer closed ones), gaze and mouth
of the faces that somebody said count most, then those of all; then motion and how sharp the part
that matters is, then the light, then smiles. Differences that nobody sees are ties.
In a group without a usable frame there is no best.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Final

from winnow.core.measure import expression
from winnow.core.verdict import open_together
from winnow.core.verdict.hints import (
    blurred,
    bright,
    dark,
    eyes,
    gaze,
    half_closed,
    light,
    motion,
    speech,
)
from winnow.core.verdict.hints.kind import Kind, Limit, Looked, Noticed, Shoot
from winnow.core.verdict.order import TIE, TIE_PX, Standing
from winnow.say import say, say_of

KIND = Kind(
    "best",
    say("Best of its group"),
    say("Nothing in its group is better: eyes, gaze, mouth, light, motion, sharpness."),
    figure=say("frames that are as good, itself included"),
    limit=Limit(2, between=(1, 8), decimals=0, below=True),
    fault=False,
)


# Moved, these change what is counted in reasons, and who is best.
COUNTS_BY = frozenset(
    part.KIND.name for part in (eyes, half_closed, gaze, speech, motion, dark, bright, blurred)
)
# So far from its group nobody brings the light back (common practice: a file of 8 bits stands about
# two EV).
_FAR_EV: Final = 2.0
# A flash that the others had adds at least so much where it is seen at all.
_MISFIRED_EV: Final = 0.4


@dataclass(frozen=True, slots=True)
class Weighed:
    """What the order of a group is made from, of one frame.

    ``unusable``: why, "" for one that can be used; ``first``: of the faces that somebody said count
    most, how many have closed eyes, how many less open ones, and how many look away or are in
    mid-speech; the others are of all faces that count. ``seen``: faces whose eyes can be seen,
    ``closed`` of them; ``narrowed``: people whose eyes are less open than in other frames;
    ``aside``: faces that look away; ``speaking``: in mid-speech; ``off``: its light speaks against
    it; ``away``: how far from its group's, EV; ``smiling``, ``serious``: faces of
    which it is told that they smile, or don't.
    """

    frame: int
    unusable: str
    first: tuple[int, int, int]
    seen: int
    closed: int
    narrowed: int
    aside: int
    speaking: int
    moved: bool
    off: bool
    away: float
    smiling: int
    serious: int
    softer: float | None
    standing: Standing

    def better(self, other: Weighed) -> bool:
        """Whether this frame is clearly better than another one."""
        mine, theirs = self._people(), other._people()
        if mine != theirs:
            return mine < theirs
        if self.sharper(other) or other.sharper(self):
            return self.sharper(other)
        if self.off != other.off:
            return other.off
        return self.smiles_more(other)

    def smiles_more(self, other: Weighed) -> bool:
        """Whether it is told of more faces that they smile, and of fewer that they don't: of most
        faces in between nothing is told."""
        return self.smiling > other.smiling and self.serious < other.serious

    def _people(self) -> tuple[bool, tuple[int, int, int], int, int, int, bool]:
        """What comes before how sharp it is, the worse the larger."""
        signs = self.aside + self.speaking
        return bool(self.unusable), self.first, self.closed, self.narrowed, signs, self.moved

    def sharper(self, other: Weighed) -> bool:
        """Whether somebody can see that this frame is sharper."""
        if self.softer is None or other.softer is None:
            return False
        blur, rival = self.standing.blur, other.standing.blur
        seen = blur is None or rival is None or rival - blur > TIE_PX
        return seen and self.softer < other.softer - TIE


def weighed(group: Sequence[Looked], shoot: Shoot) -> list[Weighed]:
    """The frames of a group that can be compared, in the order of time."""

    def named(kind: Kind, noticed: Sequence[Noticed]) -> set[int]:
        return {notice.frame for notice in noticed if shoot.names(kind, notice.figure)}

    moved = named(motion.KIND, motion.notice(group, shoot))
    off = named(dark.KIND, dark.notice(group, shoot)) | named(
        bright.KIND, bright.notice(group, shoot)
    )
    # Of a series of exposures no frame is at fault, and the one in the middle is exposed as
    # metered.
    off |= {frame for frame, step in light.series(group).items() if step}
    soft_all_over = named(blurred.KIND, blurred.notice(group, shoot))
    away = light.against_group(group)
    unlit = {frame for frame in dark.without_flash(group) if away.get(frame, 0.0) <= -_MISFIRED_EV}
    of_all = _signs(group, shoot)
    of_first = _signs([_with_those_who_count_most(frame) for frame in group], shoot)

    def first(frame: Looked) -> tuple[int, int, int]:
        _, closed, narrowed, aside, speaking = of_first[frame.id]
        return closed, narrowed, aside + speaking

    def unusable(frame: Looked) -> str:
        assert frame.judged is not None
        if frame.damaged:
            return say("damaged")
        if frame.judged.state == "no edge":
            return say("no edge to measure")
        if frame.id in soft_all_over:
            return say("soft all over")
        if frame.id in unlit:
            return say("the flash did not fire")
        if abs(away.get(frame.id, 0.0)) >= _FAR_EV:
            return say("far too dark") if away[frame.id] < 0 else say("far too bright")
        return ""

    return [
        Weighed(
            frame.id,
            unusable(frame),
            first(frame),
            *of_all[frame.id],
            frame.id in moved,
            frame.id in off,
            away.get(frame.id, 0.0),
            *expression.smiling_of(frame.faces or ()),
            frame.judged.softer,
            frame.judged.standing,
        )
        for frame in group
        if frame.judged is not None
    ]


def _with_those_who_count_most(frame: Looked) -> Looked:
    return replace(frame, faces=[face for face in frame.faces or () if face.weight == "most"])


def _signs(group: Sequence[Looked], shoot: Shoot) -> dict[int, tuple[int, int, int, int, int]]:
    """Of each frame's faces how many have eyes that are seen, closed ones, less open ones, how many
    look away, and how many are in mid-speech."""
    below = eyes.closed_below(shoot.thresholds)
    narrowed = half_closed.half_of(group, shoot)
    return {
        frame.id: (
            *eyes.closed_of(frame.faces or (), below),
            narrowed.get(frame.id, 0),
            gaze.away_of(frame.faces or (), shoot.threshold(gaze.KIND), below),
            speech.speaking_of(frame.faces or (), shoot.threshold(speech.KIND)),
        )
        for frame in group
    }


@dataclass(frozen=True, slots=True)
class Verdict:
    """How a frame stands in its group.

    ``place``: one more than frames are better, ``of`` those that were judged; ``best``: none is
    better, and it can be used; ``usable``: nothing makes it unusable; ``words``: the reasons.
    ``together``: where no frame of the group shows everybody with open eyes, those that together
    do, itself among them; empty elsewhere.
    """

    frame: int
    place: int
    of: int
    best: bool
    usable: bool
    words: str
    together: tuple[int, ...] = ()


def verdicts(group: Sequence[Looked], shoot: Shoot) -> list[Verdict]:
    """The verdicts on the frames of a group that were judged, from best to worst, ties in the order
    of time.

    A frame alone has none.
    """
    known = weighed(group, shoot)
    if len(known) < 2:
        return []
    better = {weighed.frame: sum(other.better(weighed) for other in known) for weighed in known}
    best = [weighed for weighed in known if not weighed.unusable and not better[weighed.frame]]
    ranked = sorted(known, key=lambda weighed: better[weighed.frame])
    together = _together(
        group, [weighed.frame for weighed in ranked if not weighed.unusable], shoot
    )
    return [
        Verdict(
            weighed.frame,
            better[weighed.frame] + 1,
            len(known),
            weighed in best,
            not weighed.unusable,
            _reasons(weighed, best, known) if weighed in best else _against(weighed, best),
            together if weighed.frame in together else (),
        )
        for weighed in ranked
    ]


def _together(group: Sequence[Looked], usable: Sequence[int], shoot: Shoot) -> tuple[int, ...]:
    """The fewest frames, of those that can be used, from best to worst, in which together
    everybody's eyes are open, where no frame of the group has that."""
    at = {frame.id: n for n, frame in enumerate(group)}
    places = open_together.of_faces(
        [frame.faces or () for frame in group],
        group[0].ratio,
        eyes.closed_below(shoot.thresholds),
        [at[frame] for frame in usable],
    )
    return tuple(group[n].id for n in places)


def in_order(group: Sequence[Looked], shoot: Shoot) -> list[int]:
    """The frames of a group from best to worst; those that are tied in the order of time."""
    ranked = [verdict.frame for verdict in verdicts(group, shoot)]
    return ranked + [frame.id for frame in group if frame.id not in ranked]


def notice(group: Sequence[Looked], shoot: Shoot) -> list[Noticed]:
    """Of the frames that no other one of their group is better than; of none where none can be
    used."""
    best = [verdict for verdict in verdicts(group, shoot) if verdict.best]
    return [Noticed(weighed.frame, len(best), weighed.words) for weighed in best]


def _against(weighed: Weighed, best: Sequence[Weighed]) -> str:
    """What speaks against a frame that is not the best."""
    if weighed.unusable:
        why = say("can’t be used: {why}", why=weighed.unusable)
        return why if best else say("{why}; nor can any other of its group", why=why)
    words = _against_people(weighed, best)
    if weighed.moved:
        words.append(say("moved"))
    if weighed.standing.state == "softer":
        words.append(weighed.standing.words)
    elif any(other.sharper(weighed) for other in best):
        words.append(say("a little softer than the best"))
    if weighed.off:
        ev = abs(weighed.away)
        words.append(
            say("{ev:.1f} EV darker", ev=ev)
            if weighed.away < 0
            else say("{ev:.1f} EV brighter", ev=ev)
        )
    return say("not the best: {why}", why=", ".join(words) or say("nothing speaks against it"))


def _against_people(weighed: Weighed, best: Sequence[Weighed]) -> list[str]:
    """What speaks against a frame by the faces in it."""
    least = min(other.first for other in best)
    if weighed.first > least:
        return [_of_the_first(weighed.first, least)]
    words = []
    if weighed.closed > min(other.closed for other in best):
        closed = say_of(
            weighed.seen, "eyes closed", "{closed} of {n} with closed eyes", closed=weighed.closed
        )
        words.append(closed)
    elif weighed.narrowed > min(other.narrowed for other in best):
        words.append(say("eyes less open"))
    if weighed.aside > min(other.aside for other in best):
        words.append(say("looking away"))
    if weighed.speaking > min(other.speaking for other in best):
        words.append(say("mid-speech"))
    if any(other.smiles_more(weighed) for other in best):
        words.append(say("smiles less"))
    return words


def _of_the_first(signs: tuple[int, int, int], least: tuple[int, int, int]) -> str:
    """What speaks against a frame by the faces that count most, against the least that does."""
    if signs[0] > least[0]:
        return say("eyes closed in a face that counts most")
    if signs[1] > least[1]:
        return say("eyes less open in a face that counts most")
    return say("looking away or mid-speech in a face that counts most")


def _for_people(weighed: Weighed, others: Sequence[Weighed]) -> list[str]:
    """What speaks for a frame by the faces in it, against others that are not the best."""
    words = []
    if any(other.first > weighed.first for other in others):
        words.append(say("better in the face that counts most"))
    shut = any(other.closed or other.narrowed for other in others)
    if weighed.seen and not weighed.closed and not weighed.narrowed and shut:
        words.append(say("eyes open"))
    if weighed.seen and not weighed.aside and any(other.aside for other in others):
        words.append(say("looks at the camera"))
    if not weighed.speaking and any(other.speaking for other in others):
        words.append(say("mouth closed"))
    if any(weighed.smiles_more(other) for other in others):
        words.append(say("smiles"))
    return words


def _reasons(weighed: Weighed, best: Sequence[Weighed], known: Sequence[Weighed]) -> str:
    others = [other for other in known if other not in best]
    words = []
    if others and all(other.unusable for other in others):
        words.append(say("the others can’t be used"))
    words += _for_people(weighed, others)
    if not weighed.moved and any(other.moved for other in others):
        words.append(say("still"))
    softer = [other for other in others if weighed.sharper(other)]
    blur = weighed.standing.blur
    rivals = [other.standing.blur for other in softer]
    px = [rival - blur for rival in rivals if rival is not None and blur is not None]
    if px and len(px) == len(others):
        words.append(say("sharper by {px:.1f} px", px=min(px)))
    elif softer:
        words.append(say("among the sharpest"))
    if not weighed.off and any(other.off for other in others):
        words.append(say("well exposed"))
    if len(best) > 1:
        words.append(say_of(len(best) - 1, "tied with {n} other", "tied with {n} others"))
    if not others:
        return say_of(len(best) - 1, "as good as the other one", "as good as the {n} others")
    return say(
        "best of {number}: {reasons}",
        number=len(known),
        reasons=", ".join(words) or say("nothing speaks against it"),
    )
