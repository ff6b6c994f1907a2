"""Exposure against ramps with known shares and the tables of Exif."""

import numpy as np
import pytest

from winnow.core.measure.exposure import measure


def test_clipped_shares_of_a_ramp() -> None:
    ramp = np.repeat(np.arange(256, dtype=np.uint8)[None, :, None], 3, axis=2)
    found = measure(ramp)
    assert found.clipped_high == pytest.approx(2 / 256)
    assert found.clipped_low == pytest.approx(2 / 256)


def test_one_clipped_channel_counts_as_high_but_not_as_low() -> None:
    red = np.zeros((10, 10, 3), np.uint8)
    red[..., 0] = 255
    found = measure(red)
    assert (found.clipped_high, found.clipped_low) == (1, 0)


def test_brightness_is_relative_to_middle_grey_and_in_ev() -> None:
    def grey(linear: float) -> np.ndarray:
        value = 1.055 * linear ** (1 / 2.4) - 0.055
        return np.full((8, 8, 3), round(value * 255), np.uint8)

    assert measure(grey(0.18)).brightness_ev == pytest.approx(0, abs=0.02)
    for ev in (-2, -1, 1, 2):
        found = measure(grey(0.18 * 2**ev)).brightness_ev
        assert found == pytest.approx(ev, abs=0.05)


def test_each_channel_has_its_own_shares() -> None:
    picture = np.full((10, 10, 3), 128, np.uint8)
    picture[:3, :, 0] = 255
    picture[:2] = 255
    picture[8:] = 0
    picture[7:, :, 2] = 0
    found = measure(picture)
    assert found.high == pytest.approx((0.3, 0.2, 0.2, 0.2))
    assert found.low == pytest.approx((0.2, 0.2, 0.3, 0.2))
    assert (found.clipped_high, found.clipped_low) == pytest.approx((0.3, 0.2))
