"""Clipped: parts of the picture are at the upper end of a channel. See ``core.exposure``."""

from __future__ import annotations

from collections.abc import Sequence

from winnow.core.hints.kind import Kind, Looked, Noticed, Shoot

KIND = Kind(
    name="clipped",
    title="Clipped",
    meaning="Highlights at the end of a channel, where no detail is left in the picture.",
    figure="of the picture clipped",
    unit=" %",
    threshold=5,
    least=0.5,
    most=30,
    decimals=1,
)


def notice(group: Sequence[Looked], shoot: Shoot) -> list[Noticed]:
    """Of each frame with clipped highlights."""
    return [
        Noticed(one.id, 100 * one.clipped_high, f"{100 * one.clipped_high:.1f} % of it is clipped")
        for one in group
        if one.clipped_high
    ]
