"""Looking away: a face that counts looks beside the camera, as its irises tell.

Closed eyes and heads that are turned away say nothing of that. Whether somebody should look at the
camera is the photographer's to say: in a group it speaks against a frame only where others look at
it.
"""

from __future__ import annotations

from collections.abc import Sequence

from winnow.core.measure import expression
from winnow.core.measure.faces import Face
from winnow.core.verdict.hints.eyes import closed_below
from winnow.core.verdict.hints.kind import Kind, Limit, Looked, Noticed, Shoot
from winnow.say import say

KIND = Kind(
    "gaze",
    say("Looking away"),
    say("A face that counts looks beside the camera."),
    figure=say("beside the camera, of the eye’s width"),
    limit=Limit(100 * expression.AWAY_FROM, between=(5, 30), unit=" %"),
)


def away_of(faces_seen: Sequence[Face], percent: float, below: float) -> int:
    """How many faces look away.

    ``percent``: how far beside the camera at least, of the eye's width; ``below``: how far apart
    closed lids are at most.
    """
    shares = [expression.looks_aside(face, below) for face in faces_seen]
    return sum(100 * value >= percent for value in shares if value is not None)


def notice(group: Sequence[Looked], shoot: Shoot) -> list[Noticed]:
    """Of each frame with a face whose eyes are open and can be seen."""
    below = closed_below(shoot.thresholds)
    out = []
    for frame in group:
        shares = [expression.looks_aside(face, below) for face in frame.faces or ()]
        known = [100 * value for value in shares if value is not None]
        if known:
            words = say(
                "looks {aside:.0f} % of the eye’s width beside the camera", aside=max(known)
            )
            out.append(Noticed(frame.id, max(known), words))
    return out
