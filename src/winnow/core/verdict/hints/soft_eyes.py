"""Soft eyes: the eyes of the sharpest face that counts are blurred. An absolute figure.

The blur is that of the frame's verdict, see ``core.verdict.eye_blur``. The threshold is above what
the demo's sharp portraits have (1.2 px). Common practice: a portrait is focused on the eyes; of
several people one pair of sharp eyes is asked for.
"""

from __future__ import annotations

from collections.abc import Sequence

from winnow.core.verdict.eye_blur import blurs_of
from winnow.core.verdict.hints.kind import Kind, Limit, Looked, Noticed, Shoot
from winnow.say import say

KIND = Kind(
    "soft_eyes",
    say("Soft eyes"),
    say("No face that counts has an eye that is sharp at 100 %."),
    figure=say("blur of the sharpest eye"),
    limit=Limit(1.4, between=(0.8, 10), unit=" px"),
)


def notice(group: Sequence[Looked], shoot: Shoot) -> list[Noticed]:
    """Of each frame that was judged at the eyes of a face."""
    out = []
    for frame in group:
        known = blurs_of(frame.faces or (), frame.judged, frame.ratio)
        blurs = [blur for blur in known if blur is not None]
        if blurs:
            out.append(
                Noticed(
                    frame.id, min(blurs), say("the sharpest eye has {blur:.1f} px", blur=min(blurs))
                )
            )
    return out
