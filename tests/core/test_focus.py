"""Focus: the map of made edges, how it is read, turned and packed."""

import numpy as np
import pytest
from scipy.special import erf

from winnow.core.measure import focus, focus_map


def stripes(
    blur: float, angle: float = 0, contrast: float = 0.5, noise: float = 0, side: int = 512
) -> np.ndarray:
    """Edges 110 px apart at an angle, each a step seen through a Gaussian; noise in shares of
    255."""
    y, x = np.mgrid[:side, :side].astype(float)
    a = np.radians(angle)
    along = (x - side / 2 + 0.3) * np.cos(a) + (y - side / 2 + 0.2) * np.sin(a)
    steps = sum(
        (-1) ** k * 0.5 * (1 + erf((along - 110 * k) / (np.sqrt(2) * blur))) for k in range(-6, 7)
    )
    light = (steps - steps.min()) / np.ptp(steps)
    picture = 128 + 255 * contrast * (light - 0.5)
    picture += np.random.default_rng(1).standard_normal(picture.shape) * noise * 255
    return np.clip(picture + 0.5, 0, 255).astype(np.uint8)


def median(luma: np.ndarray) -> float:
    return float(np.nanmedian(focus.measure(luma).blur))


@pytest.mark.parametrize("blur", [0.7, 1, 1.5, 2, 3, 4, 6])
@pytest.mark.parametrize("contrast", [0.2, 0.5, 1])
def test_known_blur_is_measured_within_a_tenth(blur: float, contrast: float) -> None:
    for angle in (0, 25, 45, 130):
        assert median(stripes(blur, angle, contrast)) == pytest.approx(blur, rel=0.1)


@pytest.mark.parametrize("blur", [0.7, 1, 2, 4, 6])
@pytest.mark.parametrize("contrast", [0.2, 1])
def test_within_15_percent_under_noise_of_2_percent(blur: float, contrast: float) -> None:
    for angle in (0, 25, 90):
        assert median(stripes(blur, angle, contrast, 0.02)) == pytest.approx(blur, rel=0.15)


def test_exposure_does_not_matter() -> None:
    """±1 EV (a factor of two in linear light) leaves the figure within a tenth."""
    normal = stripes(1.5, 20, 0.3) / 255
    for ev in (-1, 1):
        linear = np.clip(normal**2.2 * 2.0**ev, 0, 1)
        other = (linear ** (1 / 2.2) * 255 + 0.5).astype(np.uint8)
        assert median(other) == pytest.approx(median((normal * 255).astype(np.uint8)), rel=0.1)


def test_noise_alone_has_no_edges() -> None:
    grain = np.random.default_rng(3).normal(128, 8, (512, 512)).astype(np.uint8)
    assert np.isfinite(focus.measure(grain).blur).mean() < 0.01


def test_what_has_no_edges_has_no_figure() -> None:
    flat = focus.measure(np.full((256, 320), 90, np.uint8))
    assert not np.isfinite(flat.blur).any()
    assert focus_map.sharpest_region(flat) is None
    assert focus_map.figure_at(flat, 100, 100, 200) is None
    tiny = focus.measure(np.full((20, 30), 90, np.uint8))
    assert not np.isfinite(tiny.blur).any()


def test_directions_are_across_the_edges() -> None:
    for angle in (0, 30, 90, 150):
        found = focus.measure(stripes(1, angle))
        here = found.direction[np.isfinite(found.blur)] * (180.0 / focus_map.DIRECTIONS)
        apart = np.abs((here - angle + 90) % 180 - 90)
        assert np.median(apart) < 6


def half_sharp() -> np.ndarray:
    """Sharp on the left, soft on the right."""
    picture = stripes(0.8, 20, 0.6, 0.005)
    picture[:, 256:] = stripes(5, 20, 0.6, 0.005)[:, 256:]
    return picture


def test_figures_of_places_and_the_sharpest_region() -> None:
    found = focus.measure(half_sharp())
    left, right = (focus_map.figure_at(found, x, 256, 120) for x in (110, 400))
    assert left
    assert right
    assert right.blur > 3 * left.blur
    region = focus_map.sharpest_region(found)
    assert region
    assert region.box[2] <= 256 + 2 * focus_map.TILE
    assert region.figure.blur == pytest.approx(left.blur, rel=0.25)


def test_tiles_hold_the_median_of_their_edges() -> None:
    blur = np.full((4, 8), np.nan, np.float32)
    blur[0, 0], blur[1, 1], blur[3, 3], blur[0, 5] = 1, 3, 8, 2
    found, edges = focus_map.tiles(focus_map.FocusMap(blur, np.zeros((4, 8), np.uint8), 16, 1))
    assert found.tolist() == [[3, 2]]
    assert edges.tolist() == [[3, 1]]


@pytest.mark.parametrize("orientation", range(1, 9))
def test_a_turned_map_is_the_map_of_the_turned_picture(orientation: int) -> None:
    picture = half_sharp()[:448]
    picture[:200] = np.roll(stripes(2, 60, 0.6, 0.005), 7, 0)[:200]
    turned = picture.T if orientation >= 5 else picture
    turned = turned[:, ::-1] if orientation in (2, 3, 6, 7) else turned
    turned = turned[::-1] if orientation in (3, 4, 7, 8) else turned
    wanted = focus.measure(np.ascontiguousarray(turned))
    found = focus_map.turned(focus.measure(picture), orientation)
    assert found.blur.shape == wanted.blur.shape
    both = np.isfinite(found.blur) & np.isfinite(wanted.blur)
    assert both.mean() > 0.2
    assert np.median(np.abs(found.blur[both] / wanted.blur[both] - 1)) < 0.1
    steps = (found.direction[both].astype(int) - wanted.direction[both] + 16) % 32 - 16
    assert np.median(np.abs(steps)) <= 1


def test_packing_keeps_a_map_within_two_percent() -> None:
    found = focus.measure(half_sharp())
    packed = focus_map.pack(found)
    assert len(packed) < found.blur.size * 2 + 100
    again = focus_map.unpack(packed)
    assert (np.isfinite(again.blur) == np.isfinite(found.blur)).all()
    there = np.isfinite(found.blur)
    assert np.abs(again.blur[there] / found.blur[there] - 1).max() < 0.02
    assert (again.direction[there] == found.direction[there]).all()
    assert again.cell == found.cell
    with pytest.raises(ValueError, match="not a focus map"):
        focus_map.unpack(b"something else")
