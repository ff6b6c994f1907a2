"""Mid-speech: the mouth of a face that counts is open, and does not smile.

Practitioners choose people by expression, and a mouth open in speech is a common reason to leave a
frame that is sharp, eyes open (common practice). A broad smile opens the lips as well: that is not
named.
"""

from __future__ import annotations

from collections.abc import Sequence

from winnow.core.measure import expression
from winnow.core.measure.faces import Face
from winnow.core.verdict.hints.kind import Kind, Limit, Looked, Noticed, Shoot
from winnow.say import say

KIND = Kind(
    "speech",
    say("Mid-speech"),
    say("A face that counts has its mouth open, and does not smile."),
    figure=say("lips apart, of the mouth’s width"),
    limit=Limit(100 * expression.OPEN_FROM, between=(5, 40), unit=" %"),
)


def speaking_of(faces_seen: Sequence[Face], percent: float) -> int:
    """How many faces are in mid-speech.

    ``percent``: how far lips are apart at least, of the mouth's width.
    """
    gaps = [expression.mouth_gap(face) for face in faces_seen]
    return sum(100 * gap >= percent for gap in gaps if gap is not None)


def notice(group: Sequence[Looked], shoot: Shoot) -> list[Noticed]:
    """Of each frame with a face whose mouth can be seen."""
    out = []
    for frame in group:
        gaps = [expression.mouth_gap(face) for face in frame.faces or ()]
        known = [100 * gap for gap in gaps if gap is not None]
        if known:
            lips = say("lips {gap:.0f} % of the mouth’s width apart", gap=max(known))
            out.append(Noticed(frame.id, max(known), lips))
    return out
