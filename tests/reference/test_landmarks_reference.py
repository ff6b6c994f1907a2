"""The signs of a face against published definitions, on points whose figures follow by hand.

Eyes: the eye aspect ratio of T. Soukupová and J. Čech, "Real-Time Eye Blink Detection using Facial
Landmarks" (CVWW 2016), equation 1. Heads: the pose that OpenCV's ``solvePnP`` finds for a generic
head (six points, from memory of a widely used example for that function). Mouths: the mouth aspect
ratio, common practice: the lips' distance by the mouth's width.
"""

import cv2
import numpy as np
import pytest
from numpy.typing import NDArray

from winnow.core.measure import landmarks

Points = NDArray[np.float64]


def eye(openness: float, width: float = 120.0, turned: float = 0.0) -> Points:
    """The contour of an eye with lids like parabolas, ``openness`` of its width apart in the
    middle."""
    x = np.linspace(-0.5, 0.5, 9)
    lid = openness / 2 * (1 - 4 * x**2)
    lower, upper = np.stack([x, lid], 1), np.stack([x, -lid], 1)[1:-1]
    contour = width * np.concatenate([lower, upper])
    cos, sin = np.cos(np.radians(turned)), np.sin(np.radians(turned))
    return contour @ np.array([[cos, sin], [-sin, cos]]) + 300


def eye_aspect_ratio(contour: Points) -> float:
    """Equation 1: (|p2 − p6| + |p3 − p5|) / (2 |p1 − p4|), with the points of the lids a third and
    two thirds along the eye."""
    lower = np.stack([np.interp([8 / 3, 16 / 3], range(9), contour[:9, k]) for k in (0, 1)], 1)
    upper_lid = np.concatenate([contour[:1], contour[9:], contour[8:9]])
    upper = np.stack([np.interp([8 / 3, 16 / 3], range(9), upper_lid[:, k]) for k in (0, 1)], 1)
    across = np.hypot(*(contour[8] - contour[0]))
    return float(np.hypot(*(upper - lower).T).sum() / (2 * across))


@pytest.mark.parametrize("openness", [0.0, 0.1, 0.2, 0.3, 0.45])
@pytest.mark.parametrize("turned", [0, 30, -70])
def test_lids_are_as_far_apart_as_the_eye_aspect_ratio_says(openness: float, turned: float) -> None:
    contour = eye(openness, turned=turned)
    # Five pairs of points see a parabola 0.875 as high as it is in the middle, two pairs 0.889.
    assert landmarks.lids(contour) == pytest.approx(0.875 * openness, abs=1e-9)
    assert landmarks.lids(contour) == pytest.approx(eye_aspect_ratio(contour), rel=0.03)
    # Whatever the face's size.
    assert landmarks.lids(eye(openness, 12.0, turned)) == pytest.approx(landmarks.lids(contour))


def test_an_iris_is_beside_the_middle_by_a_share_of_the_eye() -> None:
    contour = eye(0.3, width=100, turned=20)
    along = (contour[8] - contour[0]) / 100
    middle = (contour[0] + contour[8]) / 2
    assert landmarks.iris_aside(contour, middle) == pytest.approx(0)
    assert landmarks.iris_aside(contour, middle + 12 * along) == pytest.approx(0.12)
    across = np.array([-along[1], along[0]])
    assert landmarks.iris_aside(contour, middle - 12 * along + 9 * across) == pytest.approx(-0.12)


def test_a_mouth_is_open_by_its_aspect_ratio() -> None:
    lips = np.array([[50.0, 90], [50, 102]])
    inner = np.array([[30.0, 96], [70, 96]])
    outer = np.array([[25.0, 96], [75, 96]])
    eyes = np.array([[10.0, 20], [90, 20]])
    assert landmarks.mouth(lips, inner, outer, eyes) == pytest.approx((12 / 40, 50 / 80))
    down = np.array([0.0, 1])
    assert landmarks.corners_up(np.array([50.0, 106]), outer, down) == pytest.approx(0.2)


# Nose, chin, outer corners of the eyes, corners of the mouth; to the right, down, away.
HEAD = np.array(
    [
        [0.0, 0, 0], [0, 330, 65], [-225, -170, 135], [225, -170, 135], [-150, 150, 125],
        [150, 150, 125],
    ]
)  # fmt: skip
CAMERA = np.array([[4000.0, 0, 1500], [0, 4000, 1000], [0, 0, 1]])


def turn(yaw: float, nod: float, tilt: float) -> Points:
    """A head turned to the right of the picture, then nodding, then tilted: degrees."""
    about_y = cv2.Rodrigues(np.array([0.0, -np.radians(yaw), 0]))[0]
    about_x = cv2.Rodrigues(np.array([np.radians(nod), 0.0, 0]))[0]
    about_z = cv2.Rodrigues(np.array([0.0, 0, np.radians(tilt)]))[0]
    return np.asarray(about_z @ about_x @ about_y, np.float64)


def pose_from_points(seen: Points) -> float:
    """How far the head is turned by its pose: of the way that the nose points."""
    ok, rotation, _ = cv2.solvePnP(HEAD, seen, CAMERA, None, flags=cv2.SOLVEPNP_SQPNP)
    assert ok
    nose = cv2.Rodrigues(rotation)[0] @ np.array([0.0, 0, -1])
    return float(np.degrees(np.arctan2(nose[0], -nose[2])))


@pytest.mark.parametrize("yaw", [-35, -20, -8, 0, 12, 25, 35])
@pytest.mark.parametrize(("nod", "tilt"), [(0, 0), (12, 0), (-15, 0), (0, 25), (10, -30)])
def test_a_head_is_turned_as_its_pose_says(yaw: float, nod: float, tilt: float) -> None:
    away = np.array([0.0, 0, 8000])
    turned = HEAD @ turn(yaw, nod, tilt).T
    seen = cv2.projectPoints(turned + away, np.zeros(3), np.zeros(3), CAMERA, None)[0][:, 0]
    # As a mesh gives it: the picture's px, and depth in the same.
    left, right = turned[2], turned[3]
    line = right[:2] - left[:2]
    said = landmarks.turned(float(np.hypot(*line)), float(right[2] - left[2]))
    assert said == pytest.approx(yaw, abs=3)
    if tilt == 0:
        assert pose_from_points(seen) == pytest.approx(said, abs=3)
