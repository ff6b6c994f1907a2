"""Soft all over: nothing in the frame is sharp; shaken, or focused on nothing. An absolute
figure."""

from __future__ import annotations

from collections.abc import Sequence

from winnow.core.measure import focus_map
from winnow.core.verdict.hints.kind import Kind, Limit, Looked, Noticed, Shoot
from winnow.say import say

KIND = Kind(
    "blurred",
    say("Soft all over"),
    say("Not even its sharpest part is sharp at 100 %."),
    figure=say("blur of the sharpest part"),
    limit=Limit(2.5, between=(0.8, 10), unit=" px"),
)


def notice(group: Sequence[Looked], shoot: Shoot) -> list[Noticed]:
    """Of each frame with a focus map."""
    out = []
    for frame in group:
        if frame.judged is None:
            continue
        blur = frame.judged.sharpest
        words = (
            say("no edge to be seen")
            if blur is None
            else say("nothing is sharper than {blur:.1f} px", blur=blur)
        )
        out.append(Noticed(frame.id, focus_map.MOST if blur is None else blur, words))
    return out
