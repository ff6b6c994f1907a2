"""Lens, hand and sensor of the demo, against optics' own formulas and what was put in."""

import cv2
import numpy as np
import pytest

from winnow.demo import masters, optics, sensor
from winnow.demo.optics import Framing

BODY = sensor.Body((1.0, 1.0, 1.0), 1.0)


def deviation(picture: np.ndarray) -> tuple[float, float]:
    """Standard deviation in px of a spot's light, along x and y."""
    y, x = np.mgrid[: picture.shape[0], : picture.shape[1]]
    light = picture / picture.sum()
    cx, cy = (light * x).sum(), (light * y).sum()
    return float(np.sqrt((light * (x - cx) ** 2).sum())), float(
        np.sqrt((light * (y - cy) ** 2).sum())
    )


def spot(size: int = 160, channels: int = 3) -> np.ndarray:
    picture = np.zeros((size, size, channels), np.float32)
    picture[size // 2, size // 2] = 1
    return picture


def test_blur_at_infinity_is_the_allowed_circle_at_the_hyperfocal_distance() -> None:
    # H = f^2 / (N c) (Ray, Applied Photographic Optics, 3rd ed., ch. 22): a 50 mm lens at f/8
    # with c = 0.03 mm gives 10.4 m. On a frame 36 mm and 2,400 px wide, c is 2 px.
    px_per_mm = 2400 / 36
    focal_px = 50 * px_per_mm
    lens = focal_px * (0.050 / 8)
    hyperfocal = 50**2 / (8 * 0.03) / 1000
    assert hyperfocal == pytest.approx(10.4, abs=0.05)
    assert optics.blur_px(lens, hyperfocal, 1e9) == pytest.approx(0.03 * px_per_mm, rel=1e-6)
    # From half that distance on, everything is as sharp.
    assert optics.blur_px(lens, hyperfocal, hyperfocal / 2) == pytest.approx(2.0, rel=1e-6)


@pytest.mark.parametrize("diameter", [3.0, 9.0, 24.0, 60.0])
def test_a_point_spreads_to_a_disc_and_keeps_its_light(diameter: float) -> None:
    wide = optics.spread(spot(320), diameter)[..., 0]
    assert wide.sum() == pytest.approx(1, rel=0.02)
    # A uniform disc of diameter d has a deviation of d / 4 along each axis.
    assert deviation(wide) == pytest.approx((diameter / 4, diameter / 4), rel=0.12, abs=0.35)


def test_what_is_in_focus_stays_and_the_rest_blurs_by_its_distance() -> None:
    metres = masters.distances(2.0)
    near, far = (int(np.abs(metres - m).argmin()) for m in (2.5, 12.0))
    codes = np.full((160, 320), near, np.uint8)
    codes[:, 160:] = far
    picture = np.zeros((160, 320, 3), np.float32)
    picture[80, 80] = picture[80, 240] = 1
    lens = 12 / abs(1 / float(metres[near]) - 1 / float(metres[far]))  # 12 px apart
    sharp_near = optics.defocus(picture, codes, metres, float(metres[near]), lens)
    assert np.array_equal(sharp_near[:, :140], picture[:, :140])
    assert deviation(sharp_near[:, 180:, 0])[0] == pytest.approx(3, rel=0.15)
    sharp_far = optics.defocus(picture, codes, metres, float(metres[far]), lens)
    assert np.allclose(sharp_far[:, 190:], picture[:, 190:])
    assert deviation(sharp_far[:, :140, 0])[0] == pytest.approx(3, rel=0.15)


@pytest.mark.parametrize("angle", [0, 30, 90, 145])
def test_shake_blurs_along_its_path_only(angle: float) -> None:
    length = 24.0
    blurred = optics.shaken(spot(), length, angle)[..., 0].astype(np.float64)
    y, x = np.mgrid[:160, :160] - 80
    a = np.radians(angle)
    along, across = x * np.cos(a) + y * np.sin(a), -x * np.sin(a) + y * np.cos(a)
    mean_along, mean_across = (blurred * along).sum(), (blurred * across).sum()
    # A uniform path of length L has a deviation of L / sqrt(12).
    spread_along = np.sqrt((blurred * (along - mean_along) ** 2).sum())
    assert spread_along == pytest.approx(length / np.sqrt(12), rel=0.12)
    assert np.sqrt((blurred * (across - mean_across) ** 2).sum()) < spread_along / 3


def test_framing_moves_the_middle_and_enlarges_round_it() -> None:
    matrix = Framing(dx=30, dy=-10, roll=90, zoom=2).matrix((200, 100), (400, 300))
    assert matrix @ [100, 50, 1] == pytest.approx([230, 140])
    assert matrix @ [101, 50, 1] == pytest.approx([230, 142])


def test_light_outside_the_picture_is_mirrored_but_a_cut_out_ends() -> None:
    picture = np.ones((8, 8, 3), np.float32)
    aside = Framing(dx=4).matrix((8, 8), (8, 8))
    assert optics.framed(picture, aside, (8, 8)).min() == 1
    assert optics.framed(picture, aside, (8, 8), cut_out=True)[:, :3].max() == 0


def exposed(level: float, ev: float = 0, iso: int = 100, seed: int = 1) -> np.ndarray:
    light = np.full((240, 320, 3), level, np.float32)
    return sensor.exposed(light, BODY, ev, iso, np.random.default_rng(seed))


def test_one_stop_is_twice_the_light() -> None:
    assert exposed(0.1, ev=1).mean() == pytest.approx(exposed(0.2).mean(), abs=0.3)


def test_noise_follows_photon_statistics() -> None:
    # Shot noise is the root of the count (Poisson): four times the ISO is twice the noise.
    low, high = (exposed(0.18, iso=iso)[80:160, 120:200].astype(float).std() for iso in (800, 3200))
    assert high / low == pytest.approx(2, rel=0.12)


def test_corners_are_shaded_lightly() -> None:
    flat = exposed(0.18).astype(float)
    assert 0.75 < flat[:20, :20].mean() / flat[110:130, 150:170].mean() < 0.97


def test_lamps_glow_and_the_rest_stays() -> None:
    light = np.full((240, 320, 3), 0.02, np.float32)
    assert np.array_equal(optics.veiled(light, light.shape[1]), light)
    cv2.circle(light, (160, 120), 20, (8, 8, 8), -1)
    lit = optics.veiled(light, light.shape[1])
    assert lit[120, 190].min() > 0.03
    assert lit[20, 20].max() < 0.021


def test_the_same_seed_gives_the_same_bytes() -> None:
    assert np.array_equal(exposed(0.2, iso=3200, seed=4), exposed(0.2, iso=3200, seed=4))
    assert not np.array_equal(exposed(0.2, iso=3200, seed=4), exposed(0.2, iso=3200, seed=5))


def test_stored_light_comes_back_finely() -> None:
    light = np.geomspace(1e-3, 30, 3000, dtype=np.float32).reshape(1, -1, 1).repeat(3, 2)
    back = masters.decode(masters.encode(light))
    assert np.abs(back / light - 1)[light > 0.05].max() < 0.01


def test_stored_distances_come_back_where_blur_would_show() -> None:
    metres = np.geomspace(1, 60, 500, dtype=np.float32)[None]
    # As the scenes' own renderer stores them.
    codes = np.clip(np.sqrt(1.0 / metres) * 255 + 0.5, 0, 255).astype(np.uint8)
    back = masters.distances(1.0)[codes]
    # An 85 mm lens at f/1.8 focused at 2.6 m blurs infinity by 103 px; off by less than 1 px.
    error = np.abs(1 / back - 1 / metres) * 5667 * 0.085 / 1.8
    assert error.max() < 1.2
