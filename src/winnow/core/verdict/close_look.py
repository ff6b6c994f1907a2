"""Frames that look softer than the sharpest of their group, compared with it at full size.

Edges hardly tell a short motion, and pixels tell too little where there is more noise than
subject: each decides where it knows more.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Final

import numpy as np

from winnow.core.measure import extra_blur, focus_map
from winnow.core.measure.extra_blur import ExtraBlur
from winnow.core.measure.faces import Point
from winnow.core.verdict.order import blur_of_sharpest
from winnow.core.verdict.what_matters import Seen

# Frames whose edges look softer than the sharpest by this (logarithms of blur) are looked at at
# full size, at most so far around the place, px.
_LOOKS_SOFTER: Final = 0.06
_FARTHEST: Final = 256
# What moved between two frames, if only an eyelid, reads as so much blur, px².
_CHANGED: Final = 0.25
# What the sharpest frame is blurred by, px: its figure, within these.
_OWN: Final = 0.5
_OWN_MOST: Final = 3.0


def measured(
    seen: Sequence[Seen],
    spots: Sequence[Point],
    softer: Mapping[int, float | None],
    radius: float,
) -> dict[int, ExtraBlur]:
    """The blur of frames beyond that of the sharpest of them, of those that look softer.

    ``spots``: the part that matters in each, px at 100 %; ``softer``: of those that were compared,
    by their edges, logarithms of blur; ``radius``: how far around it focus counts, px.
    """
    known = {n: ratio for n, ratio in softer.items() if ratio is not None}
    if not known:
        return {}
    first = min(known, key=lambda n: known[n])
    which = [n for n, ratio in known.items() if ratio > known[first] + _LOOKS_SOFTER]
    reach = int(min(max(radius, extra_blur.LEAST_SIDE / 2), _FARTHEST))
    sharp = seen[first].close(*spots[first], reach) if which else None
    if sharp is None:
        return {}
    out = {}
    for n in which:
        part = seen[n].close(*spots[n], reach)
        more = None if part is None else extra_blur.measure(sharp, part)
        if more is not None:
            out[n] = more
    return out


def with_measured(
    softer: Mapping[int, float | None],
    extra: Mapping[int, ExtraBlur],
    figures: Sequence[focus_map.Figure | None],
) -> dict[int, float | None]:
    """How soft frames are, by what was measured closely where it was. ``figures``: of each frame of
    the group, at the part that matters."""
    out = dict(softer)
    known = {n: ratio for n, ratio in softer.items() if ratio is not None}
    if not extra:
        return out
    first = min(known, key=lambda n: known[n])
    which = list(known)
    blurs = [figure.blur if (figure := figures[n]) else None for n in which]
    of_sharpest = blur_of_sharpest(blurs, [known[n] for n in which]) or _OWN
    own = min(max(of_sharpest, _OWN), _OWN_MOST) ** 2
    for n, more in extra.items():
        beyond = max(0.0, more.variance - _CHANGED)
        softer_by = known[first] + 0.5 * float(np.log(1 + beyond / own))
        # Where little is known, an edge may show what the whole does not.
        out[n] = softer_by if more.sure else max(softer_by, known[n])
    return out
