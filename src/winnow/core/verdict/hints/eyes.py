"""Eyes closed: a face that counts has an eye whose lids are closer than the threshold.

Tiny faces, those blurred in the background and those turned to the side don't count (see
``core.measure.faces``).
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Final

import numpy as np

from winnow.core.measure.faces import CLOSED_BELOW, Face, are_closed, rows
from winnow.core.verdict.hints.kind import Kind, Limit, Looked, Noticed, Shoot
from winnow.say import say

KIND = Kind(
    "eyes_closed",
    say("Eyes closed"),
    say("A face that counts has closed eyes, or half closed ones."),
    figure=say("gap between the lids, of the eye’s width"),
    limit=Limit(100 * CLOSED_BELOW, between=(5, 25), unit=" %", below=True),
)
# Less open than so much of what is usual of a person, which is what three quarters of the frames
# are below (from the demo's portraits: open eyes vary by a fifth).
_NARROW: Final = 0.78
_USUALLY: Final = 0.75
_FEWEST: Final = 3


def closed_below(thresholds: Mapping[str, float]) -> float:
    """How far apart closed lids are at most, as a share of the eye's width, by thresholds of
    kinds."""
    return thresholds.get(KIND.name, KIND.limit.usual) / 100


def closed_of(faces_seen: Sequence[Face], below: float) -> tuple[int, int]:
    """Of how many faces the eyes can be seen, and how many of these are closed."""
    told = [closed for face in faces_seen if (closed := are_closed(face, below)) is not None]
    return len(told), sum(told)


def narrowed_in(gaps: Sequence[float | None]) -> list[bool]:
    """In which of a person's faces the eyes are clearly less open than they usually are; ``gaps``:
    between the lids, as shares of the eye's width, None where they aren't seen.

    Half-closed eyes are told so where the shape of a person's eyes would be no measure; it takes
    three faces of somebody.
    """
    known = [gap for gap in gaps if gap is not None]
    if len(known) < _FEWEST:
        return [False] * len(gaps)
    usual = float(np.quantile(known, _USUALLY))
    return [gap is not None and gap < _NARROW * usual for gap in gaps]


def narrowed_of(group: Sequence[Looked]) -> dict[int, int]:
    """Of how many faces the eyes are clearly less open than the same person's usually are in the
    group, frame by frame; see ``narrowed_in``."""
    seen = [frame for frame in group if frame.faces]
    out = dict.fromkeys((frame.id for frame in seen), 0)
    for row in rows([frame.faces or () for frame in seen], seen[0].ratio if seen else 1.5):
        gaps = [
            None if n is None else (frame.faces or ())[n].gap
            for frame, n in zip(seen, row, strict=True)
        ]
        for frame, narrow in zip(seen, narrowed_in(gaps), strict=True):
            out[frame.id] += narrow
    return out


def notice(group: Sequence[Looked], shoot: Shoot) -> list[Noticed]:
    """Of each frame with a face whose eyes can be seen."""
    out = []
    for frame in group:
        gaps = [face.gap for face in frame.faces or () if face.gap is not None]
        if not gaps:
            continue
        _, closed = closed_of(frame.faces or (), closed_below(shoot.thresholds))
        lids = say("lids {gap:.0f} % of the eye’s width apart", gap=100 * min(gaps))
        words = (
            lids
            if len(gaps) == 1
            else say("{closed} of {gap} faces; {lids}", closed=closed, gap=len(gaps), lids=lids)
        )
        out.append(Noticed(frame.id, 100 * min(gaps), words))
    return out
