"""Eyes closed: a face that counts has an eye whose lids are closer than the threshold.

Tiny faces, those blurred in the background and those turned to the side don't count (see
``core.measure.faces``).
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from winnow.core.measure.faces import CLOSED_BELOW, Face, are_closed
from winnow.core.verdict.hints.kind import Kind, Limit, Looked, Noticed, Shoot
from winnow.say import say

KIND = Kind(
    "eyes_closed",
    say("Eyes closed"),
    say("A face that counts has closed eyes, or nearly closed ones."),
    figure=say("gap between the lids, of the eye’s width"),
    limit=Limit(100 * CLOSED_BELOW, between=(5, 25), unit=" %", below=True),
)


def closed_below(thresholds: Mapping[str, float]) -> float:
    """How far apart closed lids are at most, as a share of the eye's width, by thresholds of
    kinds."""
    return thresholds.get(KIND.name, KIND.limit.usual) / 100


def closed_of(faces_seen: Sequence[Face], below: float) -> tuple[int, int]:
    """Of how many faces the eyes can be seen, and how many of these are closed."""
    told = [closed for face in faces_seen if (closed := are_closed(face, below)) is not None]
    return len(told), sum(told)


def notice(group: Sequence[Looked], shoot: Shoot) -> list[Noticed]:
    """Of each frame with a face whose eyes can be seen."""
    out = []
    for frame in group:
        gaps = [face.gap for face in frame.faces or () if face.gap is not None]
        if not gaps:
            continue
        _, closed = closed_of(frame.faces or (), closed_below(shoot.thresholds))
        lids = say("lids {gap:.0f} % of the eye’s width apart", gap=100 * min(gaps))
        words = (
            lids
            if len(gaps) == 1
            else say("{closed} of {gap} faces; {lids}", closed=closed, gap=len(gaps), lids=lids)
        )
        out.append(Noticed(frame.id, 100 * min(gaps), words))
    return out
