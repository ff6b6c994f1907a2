"""Judging the frames of a group: what matters in them, where it is in each, and how sharp it is
there.

What matters: the eyes of the largest face; else where the camera focused; else the sharpest part
that most of the frames agree on. The same part is then found in all of them (by the face, or by
subject lock), and its edges are compared with themselves (see ``softness``).
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Final, Literal

import numpy as np

from winnow.core.measure import extra_blur, faces, focus_map, softness, subject_lock
from winnow.core.measure.extra_blur import ExtraBlur
from winnow.core.measure.faces import Face, Point
from winnow.core.measure.focus_map import FocusMap
from winnow.core.measure.softness import Difference
from winnow.core.measure.subject_lock import Gray, Place
from winnow.core.verdict.order import Standing, State, alone, blur_of_sharpest, standings

VERSION: Final = 5

Matter = Literal["eyes", "focus point", "sharpest part", ""]

# How far around the place edges are compared: as a share of the long edge, or of a face's width.
RADIUS: Final = 0.094
FACE_RADIUS: Final = 1.0
# So many face widths around a face are the person.
_PERSON: Final = 2.5
_LEAST_CELLS: Final = 4
# The whole frame around the place, as a share of the long edge.
_WHOLE: Final = 0.7
# A face stands for the group when so many of its frames show it; the others may be blurred.
_SHOWN: Final = 0.3
# So many frames say where they are sharpest, when neither faces nor the camera tell.
_VOTERS: Final = 9
# So many frames are tried as the one to which the others are held, where the first is unlike most
# of them.
_TRIED: Final = 3
_NEAR: Final = 0.12  # of the long edge: two of them mean the same part
# A frame is focused somewhere else than most, where it is clearly sharper at so many of the edges
# that most have not in focus, and clearly softer at so many of all.
_SHARPER: Final = 0.3
_SOFTER: Final = 0.03
# Frames whose edges look softer than the sharpest by this (logarithms of blur) are looked at at
# full size, at most so far around the place, px.
_LOOKS_SOFTER: Final = 0.06
_FARTHEST: Final = 256
# What moved between two frames, if only an eyelid, reads as so much blur, px².
_CHANGED: Final = 0.25
# What the sharpest frame is blurred by, px: its figure, within these.
_OWN: Final = 0.5
_OWN_MOST: Final = 3.0


@dataclass(frozen=True, slots=True)
class Seen:
    """What is known of one frame.

    ``width``, ``height``: px at 100 %, upright; ``focus_point``: 0…1, if the camera says; ``gray``:
    gives a smaller grey picture (h, w) of it, None where there is none; ``close``: gives its
    brightness at 100 % around a place, see ``extra_blur.cut``, None where it can't.
    """

    width: int
    height: int
    map: FocusMap | None
    faces: Sequence[Face]
    focus_point: Point | None
    gray: Callable[[], Gray | None]
    close: Callable[[float, float, int], Gray | None] = lambda x, y, reach: None

    @property
    def ratio(self) -> float:
        """Width by height."""
        return self.width / self.height

    @property
    def long(self) -> int:
        """The long edge, px."""
        return max(self.width, self.height)


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
    at, radius, places = _places(seen)
    spots, sure, compared = _at_places(seen, places, radius, at)
    if at == "sharpest part" and (meant := _outvoted(seen, spots, compared)):
        there = _found(seen, [meant])
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
    extra = _extra(seen, spots, softness_of, radius)
    softness_of = _with_extra(softness_of, extra, figures)
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


def _extra(
    seen: Sequence[Seen],
    spots: Sequence[Point],
    softer: Mapping[int, float | None],
    radius: float,
) -> dict[int, ExtraBlur]:
    """The blur of frames beyond that of the sharpest of them, of those that look softer."""
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
        measured = None if part is None else extra_blur.measure(sharp, part)
        if measured is not None:
            out[n] = measured
    return out


def _with_extra(
    softer: Mapping[int, float | None],
    extra: Mapping[int, ExtraBlur],
    figures: Sequence[focus_map.Figure | None],
) -> dict[int, float | None]:
    """How soft frames are, by what was measured closely where it was."""
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


def _places(seen: Sequence[Seen]) -> tuple[Matter, float, list[Place]]:
    cell = max((frame.map.cell for frame in seen if frame.map), default=16.0)
    least = _LEAST_CELLS * cell
    row = _main_face(seen)
    if row is not None:
        widths = [
            (frame.faces[f].box[2] - frame.faces[f].box[0]) * frame.width
            for frame, f in zip(seen, row, strict=True)
            if f is not None
        ]
        radius = max(least, FACE_RADIUS * float(np.median(widths)))
        return "eyes", radius, _at_face(seen, row)
    radius = max(least, RADIUS * max(frame.long for frame in seen))
    if sum(frame.focus_point is not None for frame in seen) > len(seen) / 2:
        return "focus point", radius, _found(seen, _by_blur_at_their_points(seen, radius))
    votes = _agreed(seen)
    return ("sharpest part" if votes else ""), radius, _found(seen, votes or [(0, (0.5, 0.5))])


def _main_face(seen: Sequence[Seen]) -> list[int | None] | None:
    """The row of the largest face that enough of the frames show."""
    rows = faces.rows([frame.faces for frame in seen], seen[0].ratio)
    for row in rows:
        if sum(f is not None for f in row) >= _SHOWN * len(seen):
            return row
    return None


def _at_face(seen: Sequence[Seen], row: Sequence[int | None]) -> list[Place]:
    """The middle of the face; where the face wasn't found, subject lock looks for it."""
    out: list[Place | None] = []
    for frame, f in zip(seen, row, strict=True):
        out.append(None if f is None else Place(*frame.faces[f].middle, 1, 0, 1))
    shown = [n for n, place in enumerate(out) if place is not None]
    for n, place in enumerate(out):
        if place is None:
            nearest = min(shown, key=lambda other: abs(other - n))
            reference = out[nearest]
            assert reference is not None
            out[n] = _lock(seen, nearest, (reference.x, reference.y), n)
    return [place for place in out if place is not None]


def _lock(seen: Sequence[Seen], first: int, point: Point, other: int) -> Place:
    """A point of one frame in another, both 0…1."""
    if first == other:
        return Place(point[0], point[1], 1, 0, 1)
    before, after = seen[first].gray(), seen[other].gray()
    if before is None or after is None:
        return Place(point[0], point[1], 1, 0, 0)
    spot = (point[0] * before.shape[1] - 0.5, point[1] * before.shape[0] - 0.5)
    place = subject_lock.locate(before, spot, after)
    return Place(
        (place.x + 0.5) / after.shape[1],
        (place.y + 0.5) / after.shape[0],
        place.scale,
        place.angle,
        place.confidence,
    )


def _locked(seen: Sequence[Seen], first: int, point: Point) -> list[Place]:
    return [_lock(seen, first, point, n) for n in range(len(seen))]


def _found(seen: Sequence[Seen], wanted: Sequence[tuple[int, Point]]) -> list[Place]:
    """The part that matters in every frame.

    ``wanted``: frames that show it, and where, the one to begin with first. Where most of the
    others don't show it as that frame does (much darker or brighter, or turned), another one may be
    nearer to all of them.
    """
    best: list[Place] = []
    most = 0
    for first, point in wanted[:_TRIED]:
        places = _locked(seen, first, point)
        sure = sum(place.confidence >= subject_lock.SURE for place in places)
        if sure > most:
            best, most = places, sure
        if 2 * sure > len(seen):
            break
    return best


def _by_blur_at_their_points(seen: Sequence[Seen], radius: float) -> list[tuple[int, Point]]:
    """The frames whose camera says where it focused, and where, the sharpest there first."""

    def blur(n: int, point: Point) -> float:
        frame = seen[n]
        if frame.map is None:
            return np.inf
        x, y = point
        figure = focus_map.figure_at(frame.map, x * frame.width, y * frame.height, radius)
        return figure.blur if figure else focus_map.MOST

    known = [(n, frame.focus_point) for n, frame in enumerate(seen) if frame.focus_point]
    return sorted(known, key=lambda point: blur(*point))


def _agreed(seen: Sequence[Seen]) -> list[tuple[int, Point]]:
    """The sharpest part that most frames agree on: frames that show it, and where, the sharpest
    first; none where no frame shows an edge.

    A frame with missed focus is sharpest somewhere else; it is outvoted.
    """
    step = max(1, len(seen) // _VOTERS)
    votes: list[tuple[int, Point, float]] = []
    for n in range(0, len(seen), step):
        frame = seen[n]
        region = focus_map.sharpest_region(frame.map) if frame.map else None
        if region:
            left, top, right, bottom = region.box
            middle = ((left + right) / 2 / frame.width, (top + bottom) / 2 / frame.height)
            votes.append((n, (min(1.0, middle[0]), min(1.0, middle[1])), region.figure.blur))
    if len(votes) < 2:
        return [(n, point) for n, point, _ in votes]
    first = min(votes, key=lambda vote: vote[2])[0]
    # All of them seen from one frame.
    there = []
    for n, point, _ in votes:
        place = _lock(seen, n, point, first)
        there.append((place.x, place.y) if place.confidence >= subject_lock.SURE else point)
    ratio = seen[first].ratio
    scaled = np.array(there) * np.array([ratio, 1.0]) / max(ratio, 1.0)
    near = np.hypot(*(scaled[:, None] - scaled).transpose(2, 0, 1)) < _NEAR
    agree = near.sum(1)
    ranked = sorted(range(len(votes)), key=lambda n: (-agree[n], votes[n][2]))
    return [(votes[n][0], votes[n][1]) for n in ranked]
