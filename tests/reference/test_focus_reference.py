"""Focus, motion and likeness against published laws, reference packages and free photographs."""

import cv2
import numpy as np
import pytest
import skimage.data
from skimage.measure import blur_effect

from winnow.core.groups import runs
from winnow.core.groups.runs import group_numbers
from winnow.core.measure import focus, focus_map, motion
from winnow.core.measure.likeness import (
    as_table,
    distances,
    distances_between_neighbours,
    reframed,
    signature,
)

NAMES = ["camera", "astronaut", "chelsea", "coffee", "rocket"]


def picture(name: str) -> np.ndarray:
    """A free photograph of scikit-image (public domain or CC0), as luma."""
    found = getattr(skimage.data, name)()
    return found if found.ndim == 2 else cv2.cvtColor(found, cv2.COLOR_RGB2GRAY)


def slanted_edge(blur: float) -> np.ndarray:
    """An edge of 5° as in ISO 12233, seen through a Gaussian."""
    from scipy.special import erf

    y, x = np.mgrid[:512, :512].astype(float)
    a = np.radians(5)
    away = (x - 256) * np.cos(a) + (y - 256) * np.sin(a)
    return (64 + 128 * 0.5 * (1 + erf(away / (np.sqrt(2) * blur))) + 0.5).astype(np.uint8)


@pytest.mark.parametrize("blur", [0.7, 1, 2, 3])
def test_mtf50_of_a_slanted_edge(blur: float) -> None:
    """The MTF of a Gaussian is exp(-2 pi² s² f²), half of it at 0.1874 / s cycles per px. What we
    measure, put into that law, must agree within 5 % with the MTF50 of the edge itself, found as in
    ISO 12233 from its profile, four times oversampled."""
    edge = slanted_edge(blur)
    measured = float(np.nanmedian(focus.measure(edge).blur))
    law = np.sqrt(np.log(2) / 2) / np.pi / measured
    assert law == pytest.approx(0.1874 / measured, rel=0.001)
    assert law == pytest.approx(mtf50(edge), rel=0.05)


def mtf50(edge: np.ndarray) -> float:
    """ISO 12233: project along the edge, bin at a quarter px, differentiate, transform."""
    y, x = np.mgrid[: edge.shape[0], : edge.shape[1]].astype(float)
    a = np.radians(5)
    away = (x - 256) * np.cos(a) + (y - 256) * np.sin(a)
    near = np.abs(away) < 32
    bins = np.floor((away[near] + 32) * 4).astype(int)
    profile = np.bincount(bins, edge[near].astype(float), 256) / np.bincount(bins, minlength=256)
    line = np.diff(profile) * np.hanning(255)
    response = np.abs(np.fft.rfft(line, 4096))
    frequency = np.fft.rfftfreq(4096, 0.25)
    # The bins (once) and the difference (once) are boxes of a quarter px themselves.
    response = response / response[0] / np.maximum(np.sinc(frequency / 4) ** 2, 0.1)
    at = int(np.argmax(response < 0.5))
    before, after = response[at - 1], response[at]
    return float(np.interp(0.5, [after, before], [frequency[at], frequency[at - 1]]))


@pytest.mark.parametrize("name", NAMES)
def test_rank_order_on_photographs(name: str) -> None:
    """Perfect over these blurs, and the same order as scikit-image's blur_effect, that is F. Crete
    et al., "The blur effect", SPIE 6492 (2007)."""
    ours, theirs = [], []
    for blur in (0, 0.8, 1.2, 2, 3, 4, 6):
        soft = cv2.GaussianBlur(picture(name), (0, 0), blur) if blur else picture(name)
        region = focus_map.sharpest_region(focus.measure(soft))
        assert region
        ours.append(region.figure.blur)
        theirs.append(float(blur_effect(soft)))
    assert ours == sorted(ours)
    assert len(set(ours)) == len(ours)
    assert np.argsort(ours).tolist() == np.argsort(theirs).tolist()


def moved(luma: np.ndarray, length: float, angle: float) -> np.ndarray:
    """Blurred evenly along a line of this length in px, at this angle in degrees."""
    side, fine = 2 * int(np.ceil(length / 2)) + 5, 8
    kernel = np.zeros((side * fine, side * fine))
    along = np.linspace(-length / 2, length / 2, 4001) * fine
    middle = (side * fine - 1) / 2
    a = np.radians(angle)
    rows = np.rint(middle + along * np.sin(a)).astype(int)
    columns = np.rint(middle + along * np.cos(a)).astype(int)
    np.add.at(kernel, (rows, columns), 1)
    kernel = kernel.reshape(side, fine, side, fine).sum((1, 3))
    return cv2.filter2D(luma, -1, kernel / kernel.sum(), borderType=cv2.BORDER_REFLECT)


# Under noise the rocket before its night sky has too few edges left.
@pytest.mark.parametrize(
    ("name", "noise"), [(name, 0) for name in NAMES] + [(name, 3) for name in NAMES[:4]]
)
def test_motion_of_known_length_and_angle(name: str, noise: float) -> None:
    """Angle within 10°, length within 20 %, from 6 px on; under noise from 9 px on."""
    for length in (9, 14, 20, 30) if noise else (6, 9, 14, 20, 30):
        for angle in (0, 50, 160):
            blurred = moved(picture(name), length, angle).astype(float)
            blurred += np.random.default_rng(1).normal(0, noise, blurred.shape)
            found = motion.measure(np.clip(blurred + 0.5, 0, 255).astype(np.uint8))
            assert found
            assert abs((found.angle - angle + 90) % 180 - 90) <= 10
            assert found.length == pytest.approx(length, rel=0.2)
            if not noise:
                assert found.clearness > 30


def test_motion_needs_room() -> None:
    assert motion.measure(np.zeros((100, 400), np.uint8)) is None


def of(*pictures: np.ndarray) -> list[float]:
    return distances_between_neighbours([signature(p) for p in pictures]).tolist()


@pytest.mark.parametrize("name", ["astronaut", "chelsea", "coffee", "rocket"])
def test_likeness_is_not_disturbed_by_exposure_framing_and_small_motion(name: str) -> None:
    """±1 EV, 10 % closer, and 3 % aside stay far below what another picture gives."""
    original = getattr(skimage.data, name)()
    others = [getattr(skimage.data, other)() for other in NAMES[1:] if other != name]
    apart = min(of(original, other)[0] for other in others)
    h, w = original.shape[:2]
    linear = (original / 255.0) ** 2.2
    changed = [
        (np.clip(linear * 2.0**ev, 0, 1) ** (1 / 2.2) * 255).astype(np.uint8) for ev in (-1, 1)
    ]
    changed.append(cv2.resize(original[h // 20 : -h // 20, w // 20 : -w // 20], (w, h)))
    changed.append(np.roll(original, round(0.03 * w), 1))
    for change in changed:
        assert of(original, change)[0] < 0.6 * apart


@pytest.mark.parametrize("name", ["astronaut", "chelsea", "coffee", "rocket"])
def test_a_photograph_framed_anew_is_still_the_same(name: str) -> None:
    """A fifth aside; another photograph stays another one."""
    original = getattr(skimage.data, name)()
    w = original.shape[1]
    parts = (original[:, : round(0.8 * w)], original[:, round(0.2 * w) :])
    same = as_table([signature(part) for part in parts])
    others = [getattr(skimage.data, other)() for other in NAMES[1:] if other != name]
    apart = [reframed(same[:1], as_table([signature(other)]))[0] for other in others]
    assert reframed(same[:1], same[1:])[0] < runs.DEFAULT_THRESHOLD * runs.BURST_RAISE
    assert reframed(same[:1], same[1:])[0] < distances(same[:1], same[1:])[0]
    assert min(apart) > runs.DEFAULT_THRESHOLD


def test_ten_thousand_frames_in_groups() -> None:
    """Regrouping needs no pictures, only the stored distances (its speed is in the benchmarks)."""
    rng = np.random.default_rng(0)
    times = np.cumsum(rng.exponential(4, 10_000))
    groups = group_numbers(times, rng.random(9_999).astype(np.float32), np.zeros(10_000, np.bool_))
    assert groups[0] == 0
    assert set(np.diff(groups)) <= {0, 1}
