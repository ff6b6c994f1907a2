"""Subject lock on natural pictures with known motion, and beside scikit-image's registration.

Pictures: astronaut (public domain), coffee and chelsea (CC0) of scikit-image. Known shifts are made
in the Fourier domain, exactly, as `skimage.registration.phase_cross_correlation` (Guizar-Sicairos
et al., Optics Letters 33, 2008) expects them.
"""

import cv2
import numpy as np
import pytest
import skimage.data
from numpy.typing import NDArray
from scipy.ndimage import fourier_shift
from skimage.color import rgb2gray
from skimage.registration import phase_cross_correlation

from winnow.core.measure.subject_lock import SURE, Gray, locate, refine

POINTS = [(0.35, 0.4), (0.5, 0.5), (0.62, 0.35)]


def gray(name: str) -> Gray:
    picture = getattr(skimage.data, name)()
    return (rgb2gray(picture[:300, :440] if name == "chelsea" else picture) * 255).astype(np.uint8)


def shifted(picture: Gray, dx: float, dy: float) -> Gray:
    moved = np.fft.ifft2(fourier_shift(np.fft.fft2(picture.astype(float)), (dy, dx))).real
    return np.clip(np.rint(moved), 0, 255).astype(np.uint8)


@pytest.mark.parametrize("name", ["astronaut", "coffee", "chelsea"])
@pytest.mark.parametrize("shift", [(3.3, -2.6), (-11.75, 7.4), (24.5, 18.2)])
def test_known_shifts_within_half_a_pixel(name: str, shift: tuple[float, float]) -> None:
    picture = gray(name)
    moved = shifted(picture, *shift)
    theirs, _, _ = phase_cross_correlation(picture, moved, upsample_factor=20, normalization=None)
    assert np.allclose(-theirs[::-1], shift, atol=0.1)
    for share in POINTS:
        x, y = share[0] * picture.shape[1], share[1] * picture.shape[0]
        found = locate(picture, (x, y), moved)
        assert found.confidence > SURE
        assert abs(found.x - x - shift[0]) < 0.5
        assert abs(found.y - y - shift[1]) < 0.5


def warped(picture: Gray, angle: float, zoom: float) -> tuple[Gray, NDArray[np.float64]]:
    h, w = picture.shape
    matrix = cv2.getRotationMatrix2D((w / 2, h / 2), -angle, zoom)
    matrix[:, 2] += (7.0, -5.0)
    return cv2.warpAffine(
        picture, matrix, (w, h), flags=cv2.INTER_CUBIC, borderMode=cv2.BORDER_REFLECT_101
    ), np.asarray(matrix)


@pytest.mark.parametrize("name", ["astronaut", "coffee", "chelsea"])
@pytest.mark.parametrize(("angle", "zoom", "stops"), [(3, 1.05, 1), (-3, 0.95, -1), (3, 0.95, 0)])
def test_turned_zoomed_brighter_and_noisy_within_four_pixels(
    name: str, angle: float, zoom: float, stops: float
) -> None:
    picture = gray(name)
    moved, matrix = warped(picture, angle, zoom)
    # An exposure is in linear light: sRGB's curve is close to a power of 2.2.
    light = np.minimum((moved / 255.0) ** 2.2 * 2**stops, 1) ** (1 / 2.2) * 255
    noisy = light + np.random.default_rng(1).normal(0, 0.02 * 255, light.shape)
    other = np.clip(np.rint(noisy), 0, 255).astype(np.uint8)
    for share in POINTS:
        x, y = share[0] * picture.shape[1], share[1] * picture.shape[0]
        expected = matrix @ np.array([x, y, 1])
        found = locate(picture, (x, y), other)
        assert np.hypot(found.x - expected[0], found.y - expected[1]) < 4, share
        assert found.confidence > SURE


def test_the_subject_is_followed_against_a_still_background() -> None:
    background = gray("coffee")
    subject = cv2.resize(
        gray("astronaut")[0:220, 120:330], (105, 110), interpolation=cv2.INTER_AREA
    )
    first, second = background.copy(), background.copy()
    first[150:260, 200:305] = subject
    second[130:240, 320:425] = subject
    found = locate(first, (250.0, 200.0), second)
    assert found.confidence > SURE
    assert (round(found.x), round(found.y)) == (370, 180)
    still = locate(first, (80.0, 80.0), second)
    assert (round(still.x), round(still.y)) == (80, 80)


def test_a_place_is_refined_at_full_size() -> None:
    small = gray("astronaut")
    large = cv2.resize(small, None, fx=3, fy=3, interpolation=cv2.INTER_CUBIC)
    moved = shifted(large, 31.4, -17.7)
    near = locate(large, (700.0, 500.0), moved)
    found = refine(large, (700.0, 500.0), moved, near)
    assert abs(found.x - 731.4) < 0.5
    assert abs(found.y - 482.3) < 0.5


def test_where_nothing_can_be_found_the_coordinates_stay_and_it_is_said() -> None:
    flat = np.full((200, 300), 128, np.uint8)
    found = locate(flat, (100.0, 50.0), flat)
    assert (found.x, found.y, found.confidence) == (100, 50, 0)
    noise = np.random.default_rng(1).integers(0, 255, (200, 300)).astype(np.uint8)
    other = np.random.default_rng(2).integers(0, 255, (200, 300)).astype(np.uint8)
    found = locate(noise, (100.0, 50.0), other)
    assert found.confidence < SURE
    assert (found.x, found.y) == (100, 50)
    # Another scene altogether.
    assert locate(gray("astronaut"), (200.0, 150.0), gray("coffee")).confidence < SURE
