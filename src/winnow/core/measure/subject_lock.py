"""Subject lock: where the part of the subject at a point of one frame is in another frame.

Sources: coarse shift of the whole by phase correlation (C. D. Kuglin and D. C. Hines, 1975);
candidates by normalised cross-correlation of the surroundings of the point (J. P. Lewis, "Fast
normalized cross-correlation", 1995), from coarse to fine; sub-pixel place, turn and zoom by
maximising the enhanced correlation coefficient (G. D. Evangelidis and E. Z. Psarakis, PAMI 30,
2008), which brightness and contrast don't change.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray

Gray = NDArray[np.uint8]
# Below this the place is not to be trusted: plain coordinates are better.
SURE: Final = 0.5
_COARSE_PX: Final = 256
_MIDDLE_PX: Final = 1100
_CANDIDATES: Final = 6
# A candidate far from where the shift of the whole, or none, puts it must be this much better.
_FAR: Final = 0.35
# So large are the surroundings that are looked for, as shares of the long edge: where a small part
# shows too little, or isn't found for sure, a larger one.
_SHARES: Final = (0.045, 0.09, 0.18)
_ENOUGH: Final = 0.8
_LARGEST_PATCH: Final = 60  # px: what is larger is compared smaller
# So much there must be to hold on to, in variances of the noise.
_CORNERS: Final = 0.12
_LEAST_CORNERS: Final = 1.2
_LARGEST_TURN: Final = 9.0  # degrees
_LARGEST_ZOOM: Final = 1.15
# Surroundings with less contrast than this (grey levels) show nothing that could be found again.
_FLAT: Final = 1.5


@dataclass(frozen=True, slots=True)
class Place:
    """Where the point is in the other frame.

    ``x``, ``y``: px of it; ``scale``: its subject is so much larger; ``angle``: degrees that it is
    turned to the right; ``confidence``: 0…1, see ``SURE``.
    """

    x: float
    y: float
    scale: float
    angle: float
    confidence: float


def locate(reference: Gray, point: tuple[float, float], other: Gray) -> Place:
    """Find what is at ``point`` (x, y in px) of a frame in another frame.

    Both are grey pictures (h, w) of frames at one scale; they may differ in size. Always gives a
    place: where the confidence is low, that of plain coordinates.
    """
    plain = Place(
        point[0] * other.shape[1] / reference.shape[1],
        point[1] * other.shape[0] / reference.shape[0],
        1.0,
        0.0,
        0.0,
    )
    best: Place | None = None
    seen = compared = _Seen.of(reference, point, other)
    noise = max(_noise(seen.middle), _noise(seen.other_middle))
    least = max(_LEAST_CORNERS, _CORNERS * noise**2)
    for share in _SHARES:
        radius = max(12, int(share * max(seen.middle.shape)))
        if _corners(seen.middle, seen.point_in_middle, radius) < least:
            continue  # a larger part shows more
        smaller = seen.smaller(_LARGEST_PATCH / radius)
        place = _located(smaller, share)
        if place and (best is None or place.confidence > best.confidence):
            best, compared = place, smaller
        if best and best.confidence >= _ENOUGH:
            break
    if best is None or best.confidence < SURE:
        return replace(plain, confidence=best.confidence if best else 0.0)
    if compared.down < seen.down:
        closer = refine(seen.middle, seen.point_in_middle, seen.other_middle, _at(best, seen.down))
        best = _at(closer, 1 / seen.down)
    return best if seen.down == 1 else refine(reference, point, other, best)


def _at(place: Place, factor: float) -> Place:
    x, y = _times((place.x, place.y), factor)
    return replace(place, x=x, y=y)


@dataclass(frozen=True, slots=True)
class _Seen:
    """Both frames from afar, and from half way; ``down``: how much smaller the middle ones are."""

    coarse: Gray
    other_coarse: Gray
    middle: Gray
    other_middle: Gray
    point: tuple[float, float]
    point_in_middle: tuple[float, float]
    down: float
    step: float

    @staticmethod
    def of(reference: Gray, point: tuple[float, float], other: Gray) -> _Seen:
        long = max(*reference.shape, *other.shape)
        down, coarse = min(1.0, _MIDDLE_PX / long), min(1.0, _COARSE_PX / long)
        return _Seen(
            _resized(reference, coarse), _resized(other, coarse),
            _resized(reference, down), _resized(other, down),
            _times(point, coarse), _times(point, down), down, down / coarse,
        )  # fmt: skip

    def smaller(self, factor: float) -> _Seen:
        """The same with smaller pictures in the middle, where the factor is below 1."""
        if factor >= 1:
            return self
        return replace(
            self,
            middle=_resized(self.middle, factor),
            other_middle=_resized(self.other_middle, factor),
            point_in_middle=_times(self.point_in_middle, factor),
            down=self.down * factor,
            step=self.step * factor,
        )


def refine(
    reference: Gray, point: tuple[float, float], other: Gray, near: Place, radius: int = 48
) -> Place:
    """The place to a fraction of a pixel, from pictures at full size and a place that is right to a
    few px.

    ``near`` is in px of ``other``. Where the fine picture says nothing, or something far off,
    ``near`` stays.
    """
    patch = _patch(reference, point, radius)
    if patch is None or float(patch.std()) < _FLAT:
        return near
    exact = _aligned(reference, point, other, near, radius)
    if exact is None or np.hypot(exact.x - near.x, exact.y - near.y) > radius / 3:
        return near
    return Place(exact.x, exact.y, exact.scale, exact.angle, near.confidence)


def _noise(picture: Gray) -> float:
    """Standard deviation of the noise in grey levels, by J. Immerkær (CVIU 64, 1996)."""
    kernel = np.array([[1, -2, 1], [-2, 4, -2], [1, -2, 1]], np.float32)
    # A band of it is enough to tell.
    band = picture[picture.shape[0] * 3 // 8 : picture.shape[0] * 5 // 8]
    rough = cv2.filter2D(band, cv2.CV_32F, kernel)[1:-1, 1:-1]
    return float(np.abs(rough).mean() * np.sqrt(np.pi / 2) / 6) if rough.size else 0.0


def _corners(picture: Gray, point: tuple[float, float], radius: int) -> float:
    """How much there is to hold on to in every direction: the smaller eigenvalue of the mean
    structure tensor (J. Shi and C. Tomasi, CVPR 1994), in squared grey levels a pixel."""
    patch = _patch(picture, point, radius)
    if patch is None:
        return 0.0
    smooth = cv2.GaussianBlur(patch.astype(np.float32), (0, 0), 1)
    x, y = (cv2.Sobel(smooth, cv2.CV_32F, dx, dy) / 8 for dx, dy in ((1, 0), (0, 1)))
    a, b, c = float((x * x).mean()), float((x * y).mean()), float((y * y).mean())
    return (a + c - float(np.hypot(a - c, 2 * b))) / 2


def _located(seen: _Seen, share: float) -> Place | None:
    """The best place found from surroundings of one size, in px of the other frame."""
    radius = max(12, int(share * max(seen.middle.shape)))
    places = _candidates(seen.coarse, seen.point, seen.other_coarse, share)
    mid, point, other = seen.middle, seen.point_in_middle, seen.other_middle
    tried: list[tuple[float, float, float]] = []
    for x, y, far in places:
        near = _times((x, y), seen.step)
        near_place = _nearby(mid, point, other, near, radius, 2 * seen.step)
        if near_place is not None:
            tried.append((near_place[2] - far, near_place[0], near_place[1]))
    if not tried:
        return None
    score, x, y = max(tried)
    start = Place(x, y, 1.0, 0.0, 0.0)
    place = _aligned(mid, point, other, start, radius) or start
    alike = _likeness(mid, point, other, place, radius)
    # What else in the frame looks the same: a fence, a row of windows.
    rivals = [s for s, rx, ry in tried if np.hypot(rx - x, ry - y) > radius / 2]
    confidence = max(0.0, alike) * min(1.0, 0.55 + 3 * (score - max(rivals, default=0.0)))
    return _at(replace(place, confidence=confidence), 1 / seen.down)


def _candidates(
    reference: Gray, point: tuple[float, float], other: Gray, share: float
) -> list[tuple[float, float, float]]:
    """Places (x, y) that look alike from afar, and what each loses for being far from the expected
    ones."""
    radius = max(6, int(share * max(reference.shape)))
    patch = _patch(reference, point, radius)
    if patch is None or float(patch.std()) < _FLAT / 2:
        return []
    room = cv2.copyMakeBorder(other, radius, radius, radius, radius, cv2.BORDER_REFLECT_101)
    score = cv2.matchTemplate(room, patch, cv2.TM_CCOEFF_NORMED)
    ys, xs = np.ogrid[0 : score.shape[0], 0 : score.shape[1]]
    far = np.full(score.shape, np.inf, np.float32)
    for shift in ((0.0, 0.0), _whole_shift(reference, other)):
        off = np.hypot(xs - point[0] - shift[0], ys - point[1] - shift[1])
        far = np.minimum(far, off / max(other.shape))
    worth = score - _FAR * far
    candidates = []
    for _ in range(_CANDIDATES):
        _, best, _, (x, y) = cv2.minMaxLoc(worth)
        if best < 0.2:
            break
        candidates.append((float(x), float(y), float(_FAR * far[y, x])))
        reach = max(3, radius // 2)
        worth[max(0, y - reach) : y + reach + 1, max(0, x - reach) : x + reach + 1] = -1
    return candidates


def _whole_shift(reference: Gray, other: Gray) -> tuple[float, float]:
    h, w = (min(a, b) for a, b in zip(reference.shape, other.shape, strict=True))
    first, second = (
        np.ascontiguousarray(picture[:h, :w], dtype=np.float32) for picture in (reference, other)
    )
    window = cv2.createHanningWindow((w, h), cv2.CV_32F)
    (x, y), response = cv2.phaseCorrelate(first, second, window)
    return (x, y) if response > 0.03 else (0.0, 0.0)


def _nearby(
    reference: Gray,
    point: tuple[float, float],
    other: Gray,
    near: tuple[float, float],
    radius: int,
    reach: float,
) -> tuple[float, float, float] | None:
    """The best place (x, y) within ``reach`` px of another, and its correlation."""
    patch = _patch(reference, point, radius)
    around = _patch(other, near, radius + int(np.ceil(reach)) + 1)
    if patch is None or around is None:
        return None
    score = cv2.matchTemplate(around, patch, cv2.TM_CCOEFF_NORMED)
    _, best, _, (x, y) = cv2.minMaxLoc(score)
    middle = (score.shape[1] - 1) / 2
    base = np.round(near[0]), np.round(near[1])
    off = (point[0] - np.round(point[0]), point[1] - np.round(point[1]))
    return float(base[0] + x - middle + off[0]), float(base[1] + y - middle + off[1]), float(best)


def _aligned(
    reference: Gray, point: tuple[float, float], other: Gray, near: Place, radius: int
) -> Place | None:
    """The place with turn and zoom, by the enhanced correlation; None where it finds none."""
    patch = _patch(reference, point, radius)
    reach = int(1.6 * radius)
    around = _patch(other, (near.x, near.y), reach)
    if patch is None or around is None or float(patch.std()) < _FLAT / 2:
        return None
    px, py = point[0] - np.round(point[0]) + radius, point[1] - np.round(point[1]) + radius
    ox, oy = np.round(near.x) - reach, np.round(near.y) - reach
    turn = near.scale * np.exp(1j * np.deg2rad(near.angle))
    linear = np.array([[turn.real, -turn.imag], [turn.imag, turn.real]])
    start = np.array([near.x - ox, near.y - oy]) - linear @ np.array([px, py])
    warp = np.column_stack([linear, start]).astype(np.float32)
    first, second = (cv2.GaussianBlur(picture, (0, 0), 1.0) for picture in (patch, around))
    best: tuple[float, NDArray[np.float32]] | None = None
    for motion in (cv2.MOTION_TRANSLATION, cv2.MOTION_AFFINE):
        if motion == cv2.MOTION_TRANSLATION and (near.scale != 1 or near.angle):
            continue
        try:
            criteria = (cv2.TERM_CRITERIA_EPS | cv2.TERM_CRITERIA_COUNT, 60, 1e-5)
            begin = best[1] if best else warp
            alike, made = cv2.findTransformECC(
                first, second, begin.copy(), motion, criteria, None, 1
            )
        except cv2.error:
            continue
        if best is None or alike > best[0] + 0.002:
            best = alike, made.astype(np.float32)
    if best is None:
        return None
    x, y = best[1] @ np.array([px, py, 1.0])
    (a, b), (c, d) = best[1][:, :2]
    scale = float(np.sqrt(abs(a * d - b * c)))
    angle = float(np.rad2deg(np.arctan2(c - b, a + d)))
    if abs(angle) > _LARGEST_TURN or not 1 / _LARGEST_ZOOM < scale < _LARGEST_ZOOM:
        return None
    if np.hypot(x + ox - near.x, y + oy - near.y) > radius / 2:
        return None
    return Place(float(x + ox), float(y + oy), scale, angle, 0.0)


def _likeness(
    reference: Gray, point: tuple[float, float], other: Gray, place: Place, radius: int
) -> float:
    """Correlation of the surroundings as they lie on each other."""
    turn = place.scale * np.exp(1j * np.deg2rad(place.angle))
    linear = np.array([[turn.real, -turn.imag], [turn.imag, turn.real]])
    px, py = point[0] - np.round(point[0]) + radius, point[1] - np.round(point[1]) + radius
    start = np.array([place.x, place.y]) - linear @ np.array([px, py])
    side = 2 * radius + 1
    seen = cv2.warpAffine(
        other, np.column_stack([linear, start]), (side, side),
        flags=cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP, borderMode=cv2.BORDER_REFLECT_101,
    )  # fmt: skip
    patch = _patch(reference, point, radius)
    if patch is None:
        return 0.0
    return float(cv2.matchTemplate(seen, patch, cv2.TM_CCOEFF_NORMED)[0, 0])


def _patch(picture: Gray, point: tuple[float, float], radius: int) -> Gray | None:
    """The square around a point, mirrored beyond the edges; None for one that is not in the
    picture."""
    h, w = picture.shape
    x, y = int(np.round(point[0])), int(np.round(point[1]))
    if not (0 <= x < w and 0 <= y < h) or radius >= min(h, w):
        return None
    left, top, right, bottom = x - radius, y - radius, x + radius + 1, y + radius + 1
    inside = picture[max(0, top) : min(h, bottom), max(0, left) : min(w, right)]
    edges = (max(0, -top), max(0, bottom - h), max(0, -left), max(0, right - w))
    if any(edges):
        # Mirroring can't give more than there is.
        if max(edges[:2]) >= inside.shape[0] or max(edges[2:]) >= inside.shape[1]:
            return np.asarray(cv2.copyMakeBorder(inside, *edges, cv2.BORDER_REPLICATE), np.uint8)
        return np.asarray(cv2.copyMakeBorder(inside, *edges, cv2.BORDER_REFLECT_101), np.uint8)
    return np.ascontiguousarray(inside)


def _resized(picture: Gray, factor: float) -> Gray:
    if factor == 1:
        return picture
    size = (max(1, round(picture.shape[1] * factor)), max(1, round(picture.shape[0] * factor)))
    return np.asarray(cv2.resize(picture, size, interpolation=cv2.INTER_AREA), np.uint8)


def _times(point: tuple[float, float], factor: float) -> tuple[float, float]:
    """The same point in a picture of another size: centres of pixels are at whole numbers."""
    return (point[0] + 0.5) * factor - 0.5, (point[1] + 0.5) * factor - 0.5
