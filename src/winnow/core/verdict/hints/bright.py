"""Bright against its group: a wrong setting, a flash too strong, another light.

How many EV the picture is over its group (see ``light``). In a series of exposures, being brighter
is no fault.
"""

from __future__ import annotations

from collections.abc import Sequence

from winnow.core.verdict.hints import light
from winnow.core.verdict.hints.kind import Kind, Limit, Looked, Noticed, Shoot
from winnow.say import say

KIND = Kind(
    "bright",
    say("Bright against its group"),
    say("Brighter than the other frames of its group."),
    figure=say("over the group"),
    limit=Limit(1, between=(0.3, 4), unit=" EV"),
)


def notice(group: Sequence[Looked], shoot: Shoot) -> list[Noticed]:
    """Of each frame that is brighter than its group's median."""
    meant = light.series(group)
    return [
        Noticed(frame, over, say("{over:.1f} EV brighter than its group", over=over))
        for frame, over in light.against_group(group).items()
        if over > 0 and frame not in meant
    ]
