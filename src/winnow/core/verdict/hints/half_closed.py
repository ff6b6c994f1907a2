"""Half closed: a face that counts has eyes that are less open than the same person's usually are.

How far lids are apart differs from person to person, so an eye is compared with the same person's
in the frames of its group. Closed eyes are another kind; those that are more blurred than the
person's sharpest, or of a frame that moved, say nothing of their lids: a smear looks narrow.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import Final

import numpy as np

from winnow.core.measure.faces import rows
from winnow.core.verdict.eye_blur import blurs_of
from winnow.core.verdict.hints import eyes
from winnow.core.verdict.hints.kind import Kind, Limit, Looked, Noticed, Shoot
from winnow.core.verdict.judge import Judged
from winnow.say import say

KIND = Kind(
    "half_closed",
    say("Eyes half closed"),
    say("A face that counts has eyes less open than the same person’s are in the group, not shut."),
    figure=say("how open the eyes are, of what is usual of the person"),
    # Open eyes in the demo's sharp frames stay above 87 %, half closed ones that aren't shut below
    # 84 %.
    limit=Limit(85, between=(50, 95), unit=" %", decimals=0, below=True),
)
# What three quarters of a person's frames are below is usual; it takes three faces of somebody.
_USUALLY: Final = 0.75
_FEWEST: Final = 3
# More than so much more blurred than the sharpest of a person hides the lids.
_BLURRED: Final = 1.5


def shares_in(
    gaps: Sequence[float | None], blurs: Sequence[float | None], below: float
) -> list[float | None]:
    """How open the eyes of one person are in each of some frames, by what is usual, 1 as usual.

    ``gaps``: between the lids, as shares of the eye's width; ``blurs``: of the sharper eye, px at
    100 %; None where not known. ``below``: how far apart closed lids are at most. None where they
    are closed, blurred or not seen, and where too few faces say what is usual.
    """
    known = [gap for gap in gaps if gap is not None]
    if len(known) < _FEWEST:
        return [None] * len(gaps)
    usual = float(np.quantile(known, _USUALLY))
    seen = [blur for blur in blurs if blur is not None and math.isfinite(blur)]
    most = _BLURRED * min(seen, default=0)
    return [
        None if gap is None or gap <= below or (blur is not None and blur > most) else gap / usual
        for gap, blur in zip(gaps, blurs, strict=True)
    ]


def lid_blurs(blurs: Sequence[float | None], judged: Judged | None) -> list[float | None]:
    """The blur of each face's eyes as far as it hides the lids, px: endless where a motion does."""
    return [math.inf] * len(blurs) if judged and judged.moved else list(blurs)


def is_half(share: float | None, thresholds: Mapping[str, float]) -> bool:
    """Whether eyes that are so open are half closed, by thresholds of kinds."""
    limit = thresholds.get(KIND.name, KIND.limit.usual)
    return share is not None and KIND.names(100 * share, limit)


def shares_of(group: Sequence[Looked], shoot: Shoot) -> dict[int, list[float | None]]:
    """How open the eyes of each frame's faces are, of what is usual of each person in the group;
    see ``shares_in``."""
    seen = [frame for frame in group if frame.faces]
    out: dict[int, list[float | None]] = {
        frame.id: [None] * len(frame.faces or ()) for frame in seen
    }
    blurs = [
        lid_blurs(blurs_of(frame.faces or (), frame.judged, frame.ratio), frame.judged)
        for frame in seen
    ]
    below = eyes.closed_below(shoot.thresholds)
    for row in rows([frame.faces or () for frame in seen], seen[0].ratio if seen else 1.5):
        at = list(enumerate(row))
        gaps = [None if n is None else (seen[f].faces or ())[n].gap for f, n in at]
        blurred = [None if n is None else blurs[f][n] for f, n in at]
        for (f, n), share in zip(at, shares_in(gaps, blurred, below), strict=True):
            if n is not None:
                out[seen[f].id][n] = share
    return out


def half_of(group: Sequence[Looked], shoot: Shoot) -> dict[int, int]:
    """How many faces of each frame have half closed eyes."""
    return {
        frame: sum(is_half(share, shoot.thresholds) for share in shares)
        for frame, shares in shares_of(group, shoot).items()
    }


def notice(group: Sequence[Looked], shoot: Shoot) -> list[Noticed]:
    """Of each frame with a face whose eyes can be compared."""
    out = []
    for frame, shares in shares_of(group, shoot).items():
        known = [100 * share for share in shares if share is not None]
        if known:
            words = say("eyes {open:.0f} % as open as usual", open=min(known))
            out.append(Noticed(frame, min(known), words))
    return out
