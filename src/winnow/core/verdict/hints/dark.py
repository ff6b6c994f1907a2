"""Dark against its group: a flash that did not fire, a cloud, a wrong setting.

The brightness of the picture in EV against the median of its group (see ``core.exposure``). A flash that did
not fire shows as several EV.
"""

from __future__ import annotations

from collections.abc import Sequence
from statistics import median

from winnow.core.verdict.hints.kind import Kind, Looked, Noticed, Shoot
from winnow.say import say

KIND = Kind(
    name="dark",
    title=say("Dark against its group"),
    meaning=say("Darker than the other frames of its group."),
    figure=say("under the group"),
    unit=" EV",
    threshold=1,
    least=0.3,
    most=4,
    decimals=1,
)


def notice(group: Sequence[Looked], shoot: Shoot) -> list[Noticed]:
    """Of each frame that is darker than its group's median."""
    known = [one for one in group if one.brightness_ev is not None]
    if len(known) < 2:
        return []
    usual = median(one.brightness_ev for one in known if one.brightness_ev is not None)
    flashes = sum(bool(one.flash) for one in group) > len(group) / 2
    out = []
    for one in known:
        under = usual - (one.brightness_ev or 0.0)
        if under > 0:
            words = say("{under:.1f} EV darker than its group", under=under)
            if flashes and not one.flash:
                words += say("; the others had a flash")
            out.append(Noticed(one.id, under, words))
    return out
