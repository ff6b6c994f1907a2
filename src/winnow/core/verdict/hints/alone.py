"""Alone: no similar frame in the shoot. It can't be compared, and nothing else shows what it shows.

The distance is that of ``core.likeness``, to the most similar frame.
"""

from __future__ import annotations

from collections.abc import Sequence

from winnow.core.verdict.hints.kind import Kind, Limit, Looked, Noticed, Shoot
from winnow.say import say

KIND = Kind(
    "alone",
    say("Alone"),
    say("The only frame of its group, and no other frame of the shoot is like it."),
    figure=say("away from the most similar frame (100: nothing alike)"),
    limit=Limit(25, between=(5, 80), decimals=0),
    fault=False,
)


def notice(group: Sequence[Looked], shoot: Shoot) -> list[Noticed]:
    """Of frames that are alone in their group."""
    if len(group) != 1 or group[0].id not in shoot.nearest:
        return []
    away = 100 * shoot.nearest[group[0].id]
    return [
        Noticed(
            group[0].id, away, say("the most similar frame is {away:.0f} of 100 away", away=away)
        )
    ]
