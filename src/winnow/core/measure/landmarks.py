"""What the points of a face say by their geometry: how open eyes and mouth are, where it looks, how
far the head is turned.

Points are (n, 2), in px of any picture; each figure is a share of a length of the same face, so
that its size says nothing.
"""

from __future__ import annotations

from typing import Final

import numpy as np
from numpy.typing import NDArray

Points = NDArray[np.float64] | NDArray[np.float32]

# Along the contour of an eye: 0 to 8 is the lower lid from corner to corner, 9 to 15 the upper one.
# Near the corners lids always meet: they are not compared there.
_LOWER: Final = slice(2, 7)
_UPPER: Final = slice(10, 15)
_CORNERS: Final = (0, 8)


def between(one: NDArray[np.floating], other: NDArray[np.floating]) -> float:
    """The distance of two points."""
    return float(np.hypot(*(other - one)))


def lids(contour: Points) -> float:
    """How far the lids of an eye are apart, by its width: the eye aspect ratio of T. Soukupová and
    J. Čech (CVWW 2016), as the mean of five pairs of points, not two.

    ``contour``: (16, 2), the lower lid from corner to corner, then the upper one between them.
    """
    width = max(between(contour[_CORNERS[0]], contour[_CORNERS[1]]), 1e-6)
    return float(np.hypot(*(contour[_UPPER] - contour[_LOWER]).T).mean() / width)


def iris_aside(contour: Points, iris: NDArray[np.floating]) -> float:
    """How far an iris is beside the middle of its eye, towards the contour's second corner, by the
    eye's width."""
    first, second = contour[_CORNERS[0]], contour[_CORNERS[1]]
    width = max(between(first, second), 1e-6)
    return float((iris - (first + second) / 2) @ (second - first)) / width**2


def mouth(lips: Points, inner: Points, outer: Points, eyes: Points) -> tuple[float, float]:
    """How far the lips are apart by the mouth's width inside (the mouth aspect ratio), and how wide
    the mouth is by the distance of the eyes' outer corners.

    Each (2, 2): the middles of the upper and the lower lip inside, the corners of the mouth inside
    and outside, and the outer corners of the eyes.
    """
    gap = between(*lips) / max(between(*inner), 1e-6)
    return gap, between(*outer) / max(between(*eyes), 1e-6)


def corners_up(upper_lip: NDArray[np.floating], corners: Points, down: Points) -> float:
    """How far the corners of a mouth are above its upper lip, by its width. ``down``: the face's
    own, of length 1."""
    above = float((upper_lip - (corners[0] + corners[1]) / 2) @ down)
    return above / max(between(*corners), 1e-6)


def turned(across: float, deeper: float) -> float:
    """How far a head is turned to the side, degrees; to the right of the picture above zero.

    ``across``: from the outer corner of the left eye to that of the right one along the face's own
    width, ``deeper``: how much farther from the camera the right one is, in the same px.
    """
    return float(np.degrees(np.arctan2(deeper, max(across, 1e-6))))
