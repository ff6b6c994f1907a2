"""Clipped: parts of the picture are at the upper end of a channel. See
``core.measure.exposure``."""

from __future__ import annotations

from collections.abc import Sequence

from winnow.core.verdict.hints.kind import Kind, Limit, Looked, Noticed, Shoot
from winnow.say import say

KIND = Kind(
    "clipped",
    say("Clipped"),
    say("Highlights at the end of a channel, where no detail is left in the picture."),
    figure=say("of the picture clipped"),
    limit=Limit(5, between=(0.5, 30), unit=" %"),
)


def notice(group: Sequence[Looked], shoot: Shoot) -> list[Noticed]:
    """Of each frame with clipped highlights."""
    return [
        Noticed(
            frame.id,
            100 * frame.clipped_high,
            say("{share:.1f} % of it is clipped", share=100 * frame.clipped_high),
        )
        for frame in group
        if frame.clipped_high
    ]
