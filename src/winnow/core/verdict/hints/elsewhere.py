"""Focus elsewhere: the focus fell in front of the part that matters, or behind it.

The frame is soft there, while other edges are clearly sharper in it than in most frames of its
group (see ``softness.Difference``). Which of both it was can't be told from one picture.
"""

from __future__ import annotations

from collections.abc import Sequence

from winnow.core.verdict.hints import soft
from winnow.core.verdict.hints.kind import Kind, Limit, Looked, Noticed, Shoot
from winnow.core.verdict.judge import Judged
from winnow.say import say

KIND = Kind(
    "elsewhere",
    say("Focus elsewhere"),
    say("Soft where it matters, while other parts are sharper than in its group."),
    figure=say("of the other edges sharper than usual"),
    limit=Limit(8, between=(3, 60), unit=" %", decimals=0),
)
_SHARE = 0.08
# Nobody knows what matters when neither faces nor the camera tell: then this much has to be
# sharper.
_UNTOLD = 0.3


def is_elsewhere(judged: Judged) -> bool:
    """Whether the focus of a soft frame fell elsewhere, rather than nowhere."""
    return not judged.moved and judged.elsewhere is not None and judged.elsewhere >= _SHARE


def notice(group: Sequence[Looked], shoot: Shoot) -> list[Noticed]:
    """Of the frames that are soft where it matters."""
    out = []
    for frame in group:
        judged = frame.judged
        if judged is None or judged.elsewhere is None or judged.moved:
            continue
        is_soft = soft.is_soft(judged)
        untold = judged.at not in ("eyes", "focus point") and judged.elsewhere > _UNTOLD
        if is_soft or untold:
            words = say("focus fell in front or behind: other parts are sharper than in its group")
            if judged.blur is not None and is_soft:
                words += say(
                    ", {place} {blur:.1f} px", place=soft.place_of(judged), blur=judged.blur
                )
            out.append(Noticed(frame.id, 100 * judged.elsewhere, words))
    return out
