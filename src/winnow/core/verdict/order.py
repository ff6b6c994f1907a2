"""How sharp frames are against each other at one place, and how that is said: the same wherever a
figure is shown.

A frame's blur follows from how its edges compare with the same edges in the others, so that figures
and order never contradict each other: a smear that leaves only a few thin edges has no small figure
of its own.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final, Literal

import numpy as np
from typing_extensions import TypedDict  # what Pydantic asks for before Python 3.12

from winnow.core.measure import focus_map, softness
from winnow.core.measure.focus_map import FocusMap
from winnow.say import say, say_of

# Differences that nobody sees are ties: of blur in logarithms, and in px at 100 %.
TIE: Final = 0.06
TIE_PX: Final = 0.15
# Of frames this much softer than the sharpest (in logarithms), figures of their own say little.
_ALIKE: Final = 0.4

State = Literal["", "sharpest", "tied", "softer", "no edge", "not found"]


@dataclass(frozen=True, slots=True)
class Standing:
    """How sharp a frame is. ``blur``: px at 100 %, None where there is no edge to measure.

    ``state``: against the others it was compared with, "" where it wasn't. ``times``: its blur by
    that of the sharpest; ``tied``: with how many others it can't be told apart, of those that
    nothing is sharper than.
    """

    blur: float | None = None
    state: State = ""
    times: float = 1.0
    tied: int = 0

    @property
    def words(self) -> str:
        """The state in words; "" where it wasn't compared."""
        match self.state:
            case "sharpest":
                return say("sharpest")
            case "tied":
                return say_of(self.tied, "as sharp as {n} other", "as sharp as {n} others")
            case "softer":
                return say("softer than the best ({times:.1f}×)", times=self.times)
            case "no edge":
                return say("no edge to measure: very soft, shaken or dark")
            case "not found":
                return say("its part is not found in this frame")
        return ""

    @property
    def short(self) -> str:
        """The same in a word or two."""
        match self.state:
            case "tied":
                return say("sharp")
            case "softer":
                return say("{times:.1f}×", times=self.times)
            case "no edge":
                return say("no edge")
            case "not found":
                return say("not found")
        return self.words


class StandingWords(TypedDict):
    """How sharp a frame is against its group, in words, as windows get it."""

    state: State
    words: str
    short: str


def in_words(standing: Standing) -> StandingWords:
    """A standing in words."""
    return {"state": standing.state, "words": standing.words, "short": standing.short}


def compared(
    maps: Sequence[FocusMap], spots: Sequence[tuple[float, float]], radius: float
) -> list[Standing]:
    """How sharp frames are at a place of each, in px at 100 %; focus counts within ``radius`` px
    around it. Maps of different cells can't be compared."""
    figures = [
        focus_map.figure_at(focus, *at, radius) for focus, at in zip(maps, spots, strict=True)
    ]
    blurs = [figure.blur if figure else None for figure in figures]
    if len(maps) < 2 or len({round(focus.cell, 3) for focus in maps}) > 1:
        return [alone(blur) for blur in blurs]
    softer = softness.compared(list(maps), list(spots), radius)
    return standings(blurs, [None if np.isnan(ratio) else float(ratio) for ratio in softer])


def alone(blur: float | None) -> Standing:
    """A frame that can't be compared with others."""
    return Standing(blur, "" if blur is not None else "no edge")


def blur_of_sharpest(blurs: Sequence[float | None], softer: Sequence[float | None]) -> float | None:
    """The blur in px of a frame whose ``softer`` is nothing, from the figures of those that are
    nearly as sharp as the sharpest; see ``standings``. None where none of them has one."""
    known = [(b, s) for b, s in zip(blurs, softer, strict=True) if s is not None and np.isfinite(s)]
    least = min((s for _, s in known), default=0.0)
    normed = [b / np.exp(s) for b, s in known if b and s <= least + _ALIKE]
    return float(np.median(normed)) if normed else None


def standings(blurs: Sequence[float | None], softer: Sequence[float | None]) -> list[Standing]:
    """The standings of frames that were compared at one place.

    ``blurs``: the figure of each alone, px. ``softer``: logarithms of blur against the sharpest of
    them, infinite where its edges are gone, None where it can't be told.
    """
    known = [n for n, ratio in enumerate(softer) if ratio is not None and np.isfinite(ratio)]
    if not known:
        return [
            Standing(None, "no edge") if soft is not None else alone(blur)
            for blur, soft in zip(blurs, softer, strict=True)
        ]
    logs = np.array([softer[n] for n in known], np.float64)
    base = blur_of_sharpest(blurs, softer)
    px = (base or 1.0) * np.exp(logs)

    def sharper(one: int, other: int) -> bool:
        seen = base is None or px[other] - px[one] > TIE_PX
        return bool(seen and logs[one] < logs[other] - TIE)

    places = range(len(known))
    top = [n for n in places if not any(sharper(other, n) for other in places)]
    best = float(px[top].min())
    out = [
        Standing(None, "no edge") if soft is not None else Standing(blur, "")
        for blur, soft in zip(blurs, softer, strict=True)
    ]
    for n, at in enumerate(known):
        blur = float(px[n]) if base is not None else None
        if n not in top:
            out[at] = Standing(blur, "softer", float(px[n]) / best)
        elif len(top) > 1:
            out[at] = Standing(blur, "tied", 1.0, len(top) - 1)
        else:
            out[at] = Standing(blur, "sharpest" if len(known) > 1 else "")
    return out
