"""Frames beside each other: where each shows the same part of the subject, and how sharp it is
there."""

from __future__ import annotations

from collections.abc import Sequence
from concurrent.futures import CancelledError, ThreadPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from dataclasses import dataclass, replace
from threading import Lock
from typing import Final

import cv2
from cachetools import LRUCache

from winnow.core.measure import expression, focus_map, subject_lock
from winnow.core.measure import faces as core_faces
from winnow.core.measure.faces import Face
from winnow.core.measure.subject_lock import Gray, Place
from winnow.core.verdict import order, point_of_interest
from winnow.core.verdict.eye_blur import blurs_of
from winnow.core.verdict.hints import eyes
from winnow.core.verdict.judge import Judged
from winnow.core.verdict.order import Standing
from winnow.photos.cache import PictureCache
from winnow.photos.pictures import gray_of_preview
from winnow.store import faces, frame_figures, frames, hints
from winnow.store.db import Database
from winnow.work.compare.close_ups import CloseUps
from winnow.work.workers.part_tasks import Part
from winnow.work.workers.tasks import Failure

# Grey pictures of 1,024 px, for the lock: 0.7 MB each.
_MOST_HELD: Final = 60
_THREADS: Final = 2
# Focus is compared around the place, as a share of the long edge.
_RADIUS: Final = 0.05
# How far around the place pictures are laid on each other at full size.
_FINE_RADIUS_PX: Final = 72
_LONGEST_S: Final = 10.0
# Who looks closer asks for the point that was answered: so far from it, 0…1, it is another one.
_SAME_POINT: Final = 1e-4


@dataclass(frozen=True, slots=True)
class Beside:
    """One of the frames. ``x``, ``y``: the same part of the subject, 0…1 of the upright picture.

    ``scale``, ``angle``: how its subject lies against the reference; ``sure``: whether the place
    was found, or plain coordinates stand for it. ``standing``: how sharp it is there; ``judged``:
    that is the verdict of its group, at the part that matters, and not only what was measured at
    this place. ``clipped_high``, ``clipped_low``: shares, 0…1. ``ev``: how much brighter than its
    group, where a hint names it for that. ``faces``: how many that count have eyes that can be
    seen, ``closed``: how many of them have closed ones, ``smiling``: how many smile;
    ``eyes_blur``: of the sharpest of these eyes, px at 100 %; ``radius``: how far around the place
    focus was compared, px.
    """

    frame: int
    x: float
    y: float
    scale: float
    angle: float
    confidence: float
    sure: bool
    standing: Standing
    judged: bool
    clipped_high: float | None
    clipped_low: float | None
    ev: float | None
    faces: int | None
    closed: int | None
    smiling: int | None
    eyes_blur: float | None
    radius: float


class SubjectLock:
    """Finds the same part in frames, from their previews."""

    def __init__(self, db: Database, cache: PictureCache, close_ups: CloseUps) -> None:
        self._db = db
        self._cache = cache
        self._close_ups = close_ups
        self._held: LRUCache[str, Gray] = LRUCache(_MOST_HELD)
        self._lock = Lock()
        self._pool = ThreadPoolExecutor(_THREADS, "subject lock")
        # One frame a thread: OpenCV's own threads would only be in each other's way.
        cv2.setNumThreads(1)

    def beside(
        self,
        reference: int,
        point: tuple[float, float] | None,
        wanted: Sequence[int],
        *,
        fine: bool = False,
    ) -> list[Beside]:
        """The frames with the part of the subject that is at a point of the reference, the
        reference first.

        ``point``: 0…1 of the upright picture; None: the part that matters, at which groups are
        judged; of a face, its sharper eye. Then what is said of sharpness is the verdict, wherever
        it is known, and frames of other groups are looked at by what matters in them. ``fine``:
        places are made exact from the pictures at full size, for which these are decoded. Raises
        KeyError for a frame that is not there.
        """
        ids = [reference, *(frame for frame in wanted if frame != reference)]
        known = frame_figures.for_comparing(self._db, ids)
        maps = {
            frame: focus_map.unpack(packed) for frame in ids if (packed := known[frame].focus_map)
        }
        people = faces.of_frames(self._db, ids)
        verdicts = judged = hints.judged_of(self._db, ids)
        matters = _point_of(
            known[reference],
            maps.get(reference),
            people.get(reference, []),
            judged.get(reference),
        )
        if point is None:
            point = matters
        own = max(abs(point[0] - matters[0]), abs(point[1] - matters[1])) <= _SAME_POINT
        if not own:
            judged = {}
        # Another moment shows another subject: it is looked at by its own.
        apart = {f for f in ids if own and known[f].group != known[reference].group}
        # One frame alone has nothing to be found in.
        keys = [known[f].key if len(ids) > 1 else None for f in ids]
        pictures = dict(zip(ids, self._pool.map(self._gray, keys), strict=True))
        at = point

        def found(frame: int) -> Place:
            if frame in apart:
                faces_here, judgement = people.get(frame, []), judged.get(frame)
                x, y = _point_of(known[frame], maps.get(frame), faces_here, judgement)
                return Place(x, y, 1, 0, 1.0)
            other = None if frame == reference else pictures[frame]
            return _located(pictures[reference], at, other, certain=frame == reference)

        by_face = point_of_interest.at_faces(
            [people.get(f, []) for f in ids], [_ratio(known[f]) for f in ids], at
        )
        places = dict(zip(ids, self._pool.map(found, ids), strict=True))
        for frame, place in zip(ids[1:], by_face[1:], strict=True):
            if place is not None and frame not in apart:
                places[frame] = point_of_interest.of_both(places[frame], place)
        if fine:
            places = self._refined(known, places, reference, apart)
        together = {f: row for f, row in known.items() if f not in apart}
        standings = _measured(together, maps, places)
        # Of different subjects none is sharper than another.
        for frame in apart:
            standings |= _measured({frame: known[frame]}, maps, places)
        standings |= {f: judged[f].standing for f in judged}
        shoot_id = frames.shoot_of(self._db, reference)
        thresholds = hints.thresholds(self._db, shoot_id or 0)
        closed_below = eyes.closed_below(thresholds)
        off = hints.light_of(self._db, ids, thresholds)

        told_eyes = {
            f: _eyes_of(people.get(f), verdicts.get(f), _ratio(known[f]), closed_below) for f in ids
        }
        return [
            Beside(
                frame=frame,
                x=places[frame].x,
                y=places[frame].y,
                scale=places[frame].scale,
                angle=places[frame].angle,
                confidence=places[frame].confidence,
                sure=places[frame].confidence >= subject_lock.SURE,
                standing=standings[frame],
                judged=frame in judged,
                clipped_high=known[frame].clipped_high,
                clipped_low=known[frame].clipped_low,
                ev=off.get(frame),
                faces=told_eyes[frame][0],
                closed=told_eyes[frame][1],
                smiling=told_eyes[frame][2],
                eyes_blur=told_eyes[frame][3],
                radius=judged[frame].radius
                if frame in judged
                else _RADIUS * max(known[frame].width or 0, known[frame].height or 0),
            )
            for frame in ids
        ]

    def _refined(
        self,
        known: dict[int, frame_figures.Comparable],
        places: dict[int, Place],
        reference: int,
        apart: set[int],
    ) -> dict[int, Place]:
        """The places, made exact at full size; one whose picture can't be had stays as it is, and
        one of those that are ``apart``, in which nothing of the reference is looked for."""
        sizes = {f: (row.width, row.height) for f, row in known.items() if row.width and row.height}
        wanted = {
            frame: _part_around(places[frame], *sizes[frame])
            for frame in places
            if frame in sizes
            and frame not in apart
            and (frame == reference or places[frame].confidence >= subject_lock.SURE)
        }
        futures = {f: self._close_ups.gray(f, part) for f, part in wanted.items()}
        seen: dict[int, Gray] = {}
        for frame, future in futures.items():
            try:
                part = future.result(_LONGEST_S)
            except (TimeoutError, BrokenProcessPool, CancelledError):
                continue
            if not isinstance(part, Failure):
                seen[frame] = part
        if reference not in seen:
            return places

        def local(frame: int, place: Place) -> tuple[float, float]:
            width, height = sizes[frame]
            part = wanted[frame]
            return place.x * width - 0.5 - part.left, place.y * height - 0.5 - part.top

        first = local(reference, places[reference])
        out = dict(places)
        for frame in seen:
            if frame == reference:
                continue
            x, y = local(frame, places[frame])
            near = replace(places[frame], x=x, y=y)
            exact = subject_lock.refine(seen[reference], first, seen[frame], near, _FINE_RADIUS_PX)
            width, height = sizes[frame]
            out[frame] = replace(
                exact,
                x=(exact.x + wanted[frame].left + 0.5) / width,
                y=(exact.y + wanted[frame].top + 0.5) / height,
            )
        return out

    def _gray(self, key: str | None) -> Gray | None:
        """A frame's preview at half its size, in grey; None where there is no preview yet."""
        if key is None:
            return None
        with self._lock:
            held = self._held.get(key)
            if held is not None:
                return held
        data = self._cache.read(key, "preview")
        if data is None:
            return None
        try:
            gray = gray_of_preview(data)
        except ValueError:
            return None  # it is damaged, and will be made anew
        with self._lock:
            self._held[key] = gray
        return gray

    def close(self) -> None:
        """End the threads."""
        self._pool.shutdown(cancel_futures=True)


def _located(
    first: Gray | None, at: tuple[float, float], other: Gray | None, *, certain: bool
) -> Place:
    """Where a picture shows what is at a point of the first; plain coordinates where one of them is
    not there, which is ``certain`` of the first itself."""
    if first is None or other is None:
        return Place(at[0], at[1], 1, 0, 1.0 if certain else 0.0)
    spot = (at[0] * first.shape[1] - 0.5, at[1] * first.shape[0] - 0.5)
    place = subject_lock.locate(first, spot, other)
    return replace(place, x=(place.x + 0.5) / other.shape[1], y=(place.y + 0.5) / other.shape[0])


def _part_around(place: Place, width: int, height: int) -> Part:
    reach = 2 * _FINE_RADIUS_PX
    left = min(max(0, int(place.x * width) - reach), max(0, width - 1))
    top = min(max(0, int(place.y * height) - reach), max(0, height - 1))
    return Part(left, top, min(2 * reach, width - left), min(2 * reach, height - top))


def _point_of(
    row: frame_figures.Comparable,
    map_: focus_map.FocusMap | None,
    people: Sequence[Face],
    judged: Judged | None,
) -> tuple[float, float]:
    if judged is not None and judged.sure and judged.at not in ("", "eyes"):
        return judged.x, judged.y
    told = None if row.focus_x is None or row.focus_y is None else (row.focus_x, row.focus_y)
    return point_of_interest.point(people, told, map_, (row.width or 0, row.height or 0))


def _eyes_of(
    people: Sequence[Face] | None, judged: Judged | None, ratio: float, closed_below: float
) -> tuple[int | None, int | None, int | None, float | None]:
    """Of the faces that count: how many have eyes that can be seen, how many of them closed ones,
    how many smile, and the blur of the sharpest eyes, px at 100 %; None for what was not looked
    at."""
    if people is None:
        return None, None, None, None
    counting = [people[n] for n in core_faces.counting(people, ratio)]
    seen, closed = eyes.closed_of(counting, closed_below)
    smiling, _ = expression.smiling_of(counting)
    blurs = [b for b in blurs_of(counting, judged, ratio) if b is not None]
    return seen, closed, smiling, min(blurs, default=None)


def _ratio(row: frame_figures.Comparable) -> float:
    return frame_figures.ratio_of(row.width, row.height)


def _measured(
    known: dict[int, frame_figures.Comparable],
    maps: dict[int, focus_map.FocusMap],
    places: dict[int, Place],
) -> dict[int, Standing]:
    """How sharp each frame is at its place; without a figure, or a sure place, nothing is said."""
    sizes = {f: (row.width, row.height) for f, row in known.items() if row.width and row.height}
    ids = [f for f in sizes if f in maps and places[f].confidence >= subject_lock.SURE]
    spots = [(places[f].x * sizes[f][0], places[f].y * sizes[f][1]) for f in ids]
    radius = _RADIUS * max((max(sizes[f]) for f in ids), default=0)
    standings = dict(zip(ids, order.compared([maps[f] for f in ids], spots, radius), strict=True))
    missing = Standing(None, "not found")
    return {f: standings.get(f, missing if f in maps else Standing()) for f in known}
