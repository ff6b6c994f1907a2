"""The blur that one picture of a part has beyond another: on free photographs (scikit-image's, CC0
or public domain), blurred by known amounts in light, as a lens and a hand do."""

from typing import Any

import cv2
import numpy as np
import pytest
import skimage.data
from numpy.typing import NDArray

from winnow.core.measure import extra_blur

Gray = NDArray[np.uint8]
PICTURES = ("camera", "coffee", "brick", "gravel")


def photograph(name: str) -> Gray:
    picture = getattr(skimage.data, name)()
    gray = picture if picture.ndim == 2 else cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY)
    return np.ascontiguousarray(gray[40:360, 60:380])


def frame(
    picture: Gray,
    kernel: NDArray[np.float32] | None = None,
    *,
    noise: float = 1.5,
    shift: tuple[float, float] = (0, 0),
    turn: float = 0.0,
    times: float = 1.0,
    seed: int = 1,
) -> Gray:
    """A frame of a photograph: light through a kernel, displaced in px, turned in degrees, so many
    times as bright, with noise in grey levels."""
    light = ((picture / 255) ** 2.2 * 0.7).astype(np.float32)
    if kernel is not None:
        light = cv2.filter2D(light, -1, kernel, borderType=cv2.BORDER_REFLECT)
    middle = (picture.shape[1] / 2, picture.shape[0] / 2)
    warp = cv2.getRotationMatrix2D(middle, turn, 1)
    warp[:, 2] += shift
    size = (picture.shape[1], picture.shape[0])
    light = cv2.warpAffine(light, warp, size, flags=cv2.INTER_CUBIC, borderMode=cv2.BORDER_REFLECT)
    stored = 255 * np.clip(light * times, 0, 1) ** (1 / 2.2)
    stored += np.random.default_rng(seed).normal(0, noise, stored.shape)
    return np.clip(np.rint(stored), 0, 255).astype(np.uint8)


def gaussian(sigma: float) -> NDArray[np.float32]:
    x = np.arange(-4 * int(np.ceil(sigma)), 4 * int(np.ceil(sigma)) + 1)
    line = np.exp(-0.5 * (x / sigma) ** 2)
    return (np.outer(line, line) / line.sum() ** 2).astype(np.float32)


def disc(diameter: float) -> NDArray[np.float32]:
    n, fine = int(np.ceil(diameter / 2)) + 1, 8
    side = (2 * n + 1) * fine
    y, x = (np.mgrid[:side, :side] - (side - 1) / 2) / fine
    inside = (np.hypot(y, x) <= diameter / 2).astype(np.float32)
    kernel = inside.reshape(2 * n + 1, fine, 2 * n + 1, fine).mean((1, 3))
    return kernel / kernel.sum()


def path(length: float, angle: float, curve: float = 0.0) -> NDArray[np.float32]:
    """An even motion, turning by ``curve`` degrees on its way."""
    steps = int(length * 16)
    turn = np.radians(angle + curve * np.linspace(-0.5, 0.5, steps))
    x, y = np.cumsum(np.cos(turn)) * length / steps, np.cumsum(np.sin(turn)) * length / steps
    n = int(length) + 2
    kernel = np.zeros((2 * n + 1, 2 * n + 1), np.float32)
    for px, py in zip(x - x.mean() + n, y - y.mean() + n, strict=True):
        left, top = int(px), int(py)
        for dx in (0, 1):
            for dy in (0, 1):
                kernel[top + dy, left + dx] += abs(1 - dx - px + left) * abs(1 - dy - py + top)
    return kernel / kernel.sum()


def measured(sharper: Gray, softer: Gray) -> extra_blur.ExtraBlur:
    found = extra_blur.measure(sharper, softer)
    assert found is not None
    return found


@pytest.mark.parametrize("name", PICTURES)
@pytest.mark.parametrize("sigma", [1.0, 2.0, 3.5])
def test_a_gaussian_is_measured_by_its_variance(name: str, sigma: float) -> None:
    picture = photograph(name)
    found = measured(frame(picture), frame(picture, gaussian(sigma), seed=2, shift=(2.3, -1.6)))
    assert found.variance == pytest.approx(sigma**2, rel=0.25)
    assert not found.moved


@pytest.mark.parametrize("name", PICTURES)
def test_a_disc_out_of_focus_spreads_as_its_radius_says(name: str) -> None:
    """An even disc of the diameter d has the variance d² / 16 along each axis."""
    picture = photograph(name)
    found = measured(frame(picture), frame(picture, disc(8), seed=2))
    assert found.variance == pytest.approx(8**2 / 16, rel=0.25)
    assert not found.moved


@pytest.mark.parametrize("name", PICTURES)
@pytest.mark.parametrize(("length", "angle"), [(5, 20), (9, 110), (14, 65)])
def test_a_motion_has_its_length_and_direction(name: str, length: float, angle: float) -> None:
    """An even motion over L px has the variance L² / 12 along it, and none across."""
    picture = photograph(name)
    found = measured(frame(picture), frame(picture, path(length, angle), seed=2, shift=(1.5, 2.5)))
    assert found.moved
    assert found.length == pytest.approx(length, rel=0.2)
    assert abs((found.angle - angle + 90) % 180 - 90) < 8


@pytest.mark.parametrize("name", PICTURES)
@pytest.mark.parametrize("curve", [60, 120])
def test_a_curved_motion_is_one(name: str, curve: float) -> None:
    picture = photograph(name)
    assert measured(frame(picture), frame(picture, path(8, 30, curve), seed=2)).moved


@pytest.mark.parametrize("name", PICTURES)
def test_another_frame_of_the_same_is_no_softer(name: str) -> None:
    """Though its noise is another, it is displaced, a little turned, and a little brighter."""
    picture = photograph(name)
    ways: list[dict[str, Any]] = [
        {}, {"shift": (4.4, -2.7)}, {"turn": 1.0}, {"times": 1.2}, {"noise": 4.0}
    ]  # fmt: skip
    for known in ways:
        found = measured(frame(picture), frame(picture, seed=2, **known))
        assert abs(found.variance) < 0.25, known
        assert not found.moved, known


@pytest.mark.parametrize("name", PICTURES)
def test_the_other_way_round_it_is_the_sharper_one(name: str) -> None:
    picture = photograph(name)
    found = measured(frame(picture, gaussian(1)), frame(picture, seed=2))
    assert found.variance < -0.2
    assert not found.moved


def test_what_changed_between_two_frames_is_no_blur() -> None:
    """A tenth of the part shows something else, as where steam rises or an eye closed."""
    picture, other = photograph("camera"), photograph("gravel")
    changed = picture.copy()
    changed[100:200, 120:220] = other[100:200, 120:220]
    found = measured(frame(picture), frame(changed, seed=2))
    assert found.variance < 0.6
    assert not found.moved


def test_where_nothing_can_be_told_nothing_is() -> None:
    picture = photograph("camera")
    flat = np.full_like(picture, 120)
    assert extra_blur.measure(frame(flat), frame(flat, seed=2)) is None
    # Much brighter, so that its tones were made otherwise; and clipped all over.
    assert extra_blur.measure(frame(picture, times=0.3), frame(picture, times=1.2)) is None
    white = np.full_like(picture, 255)
    assert extra_blur.measure(white, white) is None
    small = picture[:100, :100]
    assert extra_blur.measure(small, small) is None
    assert extra_blur.measure(picture, picture[:, 1:]) is None


def test_a_part_is_cut_within_the_picture() -> None:
    whole = np.arange(200 * 300, dtype=np.uint32).reshape(200, 300).astype(np.uint8)
    part = extra_blur.cut(whole, 5, 190, 64)
    assert part is not None
    assert np.array_equal(part, whole[72:200, :128])
    assert extra_blur.cut(whole, 150, 100, 101) is None
