"""Soft: more blurred than the sharpest frame of the group, at the part that matters.

Each edge is compared with itself in the other frames, see ``core.measure.softness`` and
``core.verdict.judge``. A third more blurred is where it can be seen at 100 % (from looking at the
demo's frames beside its truth, not published).
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from winnow.core.verdict.hints.kind import Kind, Limit, Looked, Noticed, Shoot
from winnow.core.verdict.judge import Judged
from winnow.core.verdict.order import TIE_PX
from winnow.say import say

KIND = Kind(
    "soft",
    say("Soft"),
    say("More blurred, at the part that matters, than the sharpest frame of its group."),
    figure=say("more blurred than the sharpest"),
    limit=Limit(30, between=(10, 120), unit=" %", decimals=0),
)
# In logarithms of blur, from here on a frame is taken for a soft one by other kinds.
CLEARLY = 0.24
_MOST = 2.3
_PLACES = {
    "eyes": say("the eyes"),
    "focus point": say("the focus point"),
    "sharpest part": say("the part that matters"),
    "": say("the part that matters"),
}


def place_of(judged: Judged) -> str:
    """The part that matters, in a word."""
    return _PLACES[judged.at]


def is_soft(judged: Judged) -> bool:
    """Whether a frame is clearly softer than the sharpest of its group."""
    if judged.softer is None or judged.softer <= CLEARLY:
        return False
    return judged.blur is None or px_softer(judged) >= TIE_PX


def px_softer(judged: Judged) -> float:
    """How many px more blurred a frame is than the sharpest of its group; nothing where either is
    not known."""
    if judged.blur is None or judged.softer is None:
        return 0.0
    return judged.blur * (1 - float(np.exp(-max(judged.softer, 0.0))))


def notice(group: Sequence[Looked], shoot: Shoot) -> list[Noticed]:
    """Of each frame that was compared."""
    out = []
    for frame in group:
        judged = frame.judged
        if judged is None or judged.softer is None:
            continue
        px = px_softer(judged)
        if judged.blur is not None and px < TIE_PX:
            continue
        softer = min(judged.softer, _MOST)
        percent = 100 * (float(np.exp(softer)) - 1)
        if judged.softer > _MOST or judged.blur is None:
            words = say("too soft at {place} to show an edge", place=place_of(judged))
        else:
            words = say(
                "{px:.1f} px softer at {place} than the sharpest of {of}",
                px=px,
                place=place_of(judged),
                of=judged.of,
            )
        out.append(Noticed(frame.id, percent, words))
    return out
