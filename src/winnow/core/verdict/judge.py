"""Judging the frames of a group: how sharp each is at the part that matters (see ``what_matters``),
and how it differs from the others.

The edges there are compared with themselves in all frames (see ``softness``), and frames that look
softer once more by their pixels (see ``close_look``).
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from winnow.core.measure import focus_map, softness, subject_lock
from winnow.core.measure.faces import Point
from winnow.core.measure.softness import Difference
from winnow.core.measure.subject_lock import Place
from winnow.core.verdict import close_look, what_matters
from winnow.core.verdict.order import Standing, State, alone, standings
from winnow.core.verdict.what_matters import FACE_RADIUS, Matter, Seen

VERSION: Final = 5

# So many face widths around a face are the person.
_PERSON: Final = 2.5
# The whole frame around the place, as a share of the long edge.
_WHOLE: Final = 0.7
# A frame is focused somewhere else than most, where it is clearly sharper at so many of the edges
# that most have not in focus, and clearly softer at so many of all.
_SHARPER: Final = 0.3
_SOFTER: Final = 0.03


@dataclass(frozen=True, slots=True)
class Judged:
    """One frame of a group.

    ``x``, ``y``: the part that matters, 0…1 of the upright picture; ``at``: what it is; ``radius``:
    around it, px at 100 %; ``sure``: whether it was found there. ``blur``: there, px; ``state``,
    ``times``, ``tied``: how it stands in its group, see ``order.Standing``; ``softer``: logarithm
    of its blur against the sharpest of the group, infinite where its edges are gone; ``of``: how
    many frames were compared. ``lean``, ``elsewhere``: of the whole frame, see
    ``softness.Difference``. ``moved``: that a motion blurred it was seen at full size; then
    ``angle`` and ``length`` are of it. Where it wasn't looked at there they are of the whole frame;
    else None. ``sharpest``: blur of the sharpest part of the frame, px; ``apart``: how far that is
    from the part that matters, as a share of the long edge. None where it can't be told.
    """

    x: float
    y: float
    at: Matter
    radius: float
    sure: bool
    blur: float | None = None
    softer: float | None = None
    of: int = 0
    lean: float | None = None
    angle: float | None = None
    length: float | None = None
    elsewhere: float | None = None
    sharpest: float | None = None
    apart: float | None = None
    state: State = ""
    times: float = 1.0
    tied: int = 0
    moved: bool = False

    @property
    def standing(self) -> Standing:
        """How sharp it is at the part that matters."""
        return Standing(self.blur, self.state, self.times, self.tied)


def judge(seen: Sequence[Seen]) -> list[Judged]:
    """Judge the frames of a group, in the order of time."""
    at, radius, places = what_matters.places(seen)
    spots, sure, compared = _at_places(seen, places, radius, at)
    if at == "sharpest part" and (meant := _outvoted(seen, spots, compared)):
        there = what_matters.found(seen, [meant])
        # A part that most frames don't show is none to compare them at.
        if 2 * sum(place.confidence >= subject_lock.SURE for place in there) > len(seen):
            places = there
            spots, sure, compared = _at_places(seen, places, radius, at, meant=True)
    regions = [focus_map.sharpest_region(frame.map) if frame.map else None for frame in seen]
    figures = [
        focus_map.figure_at(frame.map, *spot, radius) if frame.map and known else None
        for frame, spot, known in zip(seen, spots, sure, strict=True)
    ]
    if at not in ("eyes", "focus point"):
        # Where nobody says what matters, few edges around the place are no reason to say nothing.
        figures = [
            figure or (region.figure if region and known else None)
            for figure, region, known in zip(figures, regions, sure, strict=True)
        ]
    softness_of = {n: comparison[0] for n, comparison in compared.items()}
    extra = close_look.measured(seen, spots, softness_of, radius)
    softness_of = close_look.with_measured(softness_of, extra, figures)
    standings = _standings(seen, figures, sure, softness_of)
    out = []
    for n, place in enumerate(places):
        frame, region = seen[n], regions[n]
        _, different = compared.get(n, (None, None))
        standing = standings[n]
        angle, length = (different.angle, different.length) if different else (None, None)
        if n in extra and (extra[n].moved or extra[n].sure):
            known = extra[n]
            angle, length = (known.angle, known.length) if known.moved else (None, None)
        out.append(
            Judged(
                place.x, place.y, at, radius, sure[n],
                blur=standing.blur,
                state=standing.state,
                times=standing.times,
                tied=standing.tied,
                softer=softness_of.get(n),
                of=len(compared),
                lean=_known(different.lean if different else None),
                angle=_known(angle),
                length=_known(length),
                elsewhere=_known(different.elsewhere if different else None),
                sharpest=region.figure.blur if region else None,
                apart=_away(spots[n], region) / frame.long if region else None,
                moved=n in extra and extra[n].moved,
            )
        )  # fmt: skip
    return out


def _at_places(
    seen: Sequence[Seen], places: Sequence[Place], radius: float, at: Matter, *, meant: bool = False
) -> tuple[list[Point], list[bool], dict[int, tuple[float | None, Difference]]]:
    """Where the places lie, px; whether each is sure; and how the frames compare there."""
    spots = [
        (place.x * frame.width, place.y * frame.height)
        for place, frame in zip(places, seen, strict=True)
    ]
    sure = [place.confidence >= subject_lock.SURE for place in places]
    return spots, sure, _compared(seen, spots, sure, radius, at, meant=meant)


def _is_focused_elsewhere(different: Difference) -> bool:
    """Whether a frame is clearly sharper than most at many edges, and clearly softer at some."""
    return different.elsewhere >= _SHARPER and different.worse >= _SOFTER


def _outvoted(
    seen: Sequence[Seen],
    spots: Sequence[Point],
    compared: Mapping[int, tuple[float | None, Difference]],
) -> tuple[int, Point] | None:
    """Where the sharpest frame is softer than most: that is the part that most of them mean. None
    where it is nowhere."""
    known = {n: softer for n, (softer, _) in compared.items() if softer is not None}
    if not known:
        return None
    first = min(known, key=lambda n: known[n])
    different = compared[first][1]
    if not _is_focused_elsewhere(different):
        return None
    frame = seen[first]
    x = (spots[first][0] + different.worse_at[0]) / frame.width
    y = (spots[first][1] + different.worse_at[1]) / frame.height
    return first, (min(1.0, max(0.0, x)), min(1.0, max(0.0, y)))


def _standings(
    seen: Sequence[Seen],
    figures: Sequence[focus_map.Figure | None],
    sure: Sequence[bool],
    softer: Mapping[int, float | None],
) -> list[Standing]:
    """How sharp each frame is at the part that matters. ``softer``: of those that were compared."""
    out = []
    for n, frame in enumerate(seen):
        figure, missing = figures[n], frame.map is not None and not sure[n]
        out.append(
            Standing(None, "not found") if missing else alone(figure.blur if figure else None)
        )
    which = list(softer)
    if len(which) > 1:
        among = standings([out[n].blur for n in which], [softer[n] for n in which])
        for n, standing in zip(which, among, strict=True):
            out[n] = standing
    return out


def _known(value: float | None) -> float | None:
    return None if value is None or np.isnan(value) else value


def _away(spot: Point, region: focus_map.Region) -> float:
    """From a place to the nearest point of a region, px."""
    left, top, right, bottom = region.box
    across = max(left - spot[0], 0, spot[0] - right)
    down = max(top - spot[1], 0, spot[1] - bottom)
    return float(np.hypot(across, down))


def _compared(
    seen: Sequence[Seen],
    spots: Sequence[Point],
    sure: Sequence[bool],
    radius: float,
    at: Matter,
    *,
    meant: bool,
) -> dict[int, tuple[float | None, Difference]]:
    """How soft each frame is against the sharpest, and how it differs, of those that can be
    compared."""
    which = [n for n, frame in enumerate(seen) if frame.map is not None and sure[n]]
    maps = [m for n in which if (m := seen[n].map) is not None]
    if len(which) < 2 or len({round(m.cell, 3) for m in maps}) > 1:
        return {}
    where = [spots[n] for n in which]
    whole = softness.against_group(maps, where, _WHOLE * max(frame.long for frame in seen))
    softer = np.array([comparison.softer for comparison in whole])
    if at == "eyes":
        # A face's edges are few: those of the person around it are asked as well.
        around = softness.against_group(maps, where, _PERSON * radius / FACE_RADIUS)
        person = np.array([comparison.softer for comparison in around])
        face = softness.compared(maps, where, radius)
        both = (face + person) / 2
        softer = np.where(np.isnan(face), person, np.where(np.isnan(person), face, both))
    elif at == "focus point" or meant:
        softer = softness.compared(maps, where, radius)
    known = softer[np.isfinite(softer)]
    told = meant or at in ("eyes", "focus point")
    if known.size and (told or not _is_focused_elsewhere(whole[int(np.nanargmin(softer))])):
        # Against the sharpest frame, also where it is the only sharp one. Where nobody says what
        # matters, one frame that is sharp somewhere else must not make all others soft.
        softer = softer - known.min()
    return {
        n: (_known(float(blur)), different)
        for n, blur, different in zip(which, softer, whole, strict=True)
    }
