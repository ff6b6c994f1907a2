"""Eyes closed: a face that counts has an eye whose lids are closer than the threshold.

Tiny faces, those blurred in the background and those turned to the side don't count (see ``core.faces``).
"""

from __future__ import annotations

from collections.abc import Sequence

from winnow.core.measure import faces
from winnow.core.verdict.hints.kind import Kind, Looked, Noticed, Shoot
from winnow.say import say

KIND = Kind(
    name="eyes_closed",
    title=say("Eyes closed"),
    meaning=say("A face that counts has closed eyes, or half closed ones."),
    figure=say("gap between the lids, of the eye's width"),
    unit=" %",
    threshold=100 * faces.CLOSED_BELOW,
    least=5,
    most=25,
    decimals=1,
    below=True,
)


def notice(group: Sequence[Looked], shoot: Shoot) -> list[Noticed]:
    """Of each frame with a face whose eyes can be seen."""
    out = []
    for one in group:
        gaps = [face.gap for face in one.faces or () if face.gap is not None]
        if not gaps:
            continue
        closed = sum(gap < faces.CLOSED_BELOW for gap in gaps)
        lids = say("lids {gap:.0f} % of the eye’s width apart", gap=100 * min(gaps))
        words = (
            lids
            if len(gaps) == 1
            else say("{closed} of {gap} faces; {lids}", closed=closed, gap=len(gaps), lids=lids)
        )
        out.append(Noticed(one.id, 100 * min(gaps), words))
    return out
