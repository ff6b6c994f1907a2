"""Soft eyes: the eyes of the sharpest face that counts are blurred. An absolute figure.

The threshold is what the demo's sharp portraits stay below. Common practice: a portrait is focused
on the eyes; of several people one pair of sharp eyes is asked for.
"""

from __future__ import annotations

from collections.abc import Sequence

from winnow.core.verdict.hints.kind import Kind, Looked, Noticed, Shoot
from winnow.say import say

KIND = Kind(
    name="soft_eyes",
    title=say("Soft eyes"),
    meaning=say("No face that counts has an eye that is sharp at 100 %."),
    figure=say("blur of the sharpest eye"),
    unit=" px",
    threshold=2,
    least=1,
    most=10,
    decimals=1,
)


def notice(group: Sequence[Looked], shoot: Shoot) -> list[Noticed]:
    """Of each frame with a face whose eyes show edges."""
    out = []
    for frame in group:
        blurs = [face.blur for face in frame.faces or () if face.blur is not None]
        if blurs:
            out.append(
                Noticed(
                    frame.id, min(blurs), say("the sharpest eye has {blur:.1f} px", blur=min(blurs))
                )
            )
    return out
