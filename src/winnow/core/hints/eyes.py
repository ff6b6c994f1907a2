"""Eyes closed: a face that counts has an eye whose lids are closer than the threshold.

Tiny faces, those blurred in the background and those turned to the side don't count (see ``core.faces``).
"""

from __future__ import annotations

from collections.abc import Sequence

from winnow.core import faces
from winnow.core.hints.kind import Kind, Looked, Noticed, Shoot

KIND = Kind(
    name="eyes_closed",
    title="Eyes closed",
    meaning="A face that counts has closed eyes, or half closed ones.",
    figure="gap between the lids, of the eye's width",
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
        lids = f"lids {100 * min(gaps):.0f} % of the eye’s width apart"
        words = lids if len(gaps) == 1 else f"{closed} of {len(gaps)} faces; {lids}"
        out.append(Noticed(one.id, 100 * min(gaps), words))
    return out
