"""Dark against its group: a flash that did not fire, a cloud, a wrong setting.

How many EV the picture is under its group (see ``light``). A flash that did not fire shows as
several EV. In a series of exposures, being darker is no fault.
"""

from __future__ import annotations

from collections.abc import Sequence

from winnow.core.verdict.hints import light
from winnow.core.verdict.hints.kind import Kind, Limit, Looked, Noticed, Shoot
from winnow.say import say

KIND = Kind(
    "dark",
    say("Dark against its group"),
    say("Darker than the other frames of its group."),
    figure=say("under the group"),
    limit=Limit(1, between=(0.3, 4), unit=" EV"),
)


def without_flash(group: Sequence[Looked]) -> set[int]:
    """The frames whose flash did not fire, where those of most others did."""
    flashes = sum(bool(frame.flash) for frame in group) > len(group) / 2
    return {frame.id for frame in group if flashes and not frame.flash}


def notice(group: Sequence[Looked], shoot: Shoot) -> list[Noticed]:
    """Of each frame that is darker than its group's median."""
    unlit = without_flash(group)
    meant = light.series(group)
    out = []
    for frame, brighter in light.against_group(group).items():
        if brighter >= 0 or frame in meant:
            continue
        words = say("{under:.1f} EV darker than its group", under=-brighter)
        if frame in unlit:
            words += say("; the others had a flash")
        out.append(Noticed(frame, -brighter, words))
    return out
