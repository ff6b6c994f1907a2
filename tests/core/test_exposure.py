"""Exposure against ramps with known shares and the tables of Exif."""

import numpy as np
import pytest

from winnow.core.measure.exposure import exposure_value, measure


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


# Exif 2.32, annex C: Av of f/1, f/2, f/8, f/32; Tv of 30 s (-5), 1 s, 1/125 s (7), 1/2000 s (11).
# The table rounds the engraved times: 1/125 s stands for 1/128 s.
@pytest.mark.parametrize(
    ("aperture", "shutter_s", "value"),
    [(1, 1, 0), (2, 1, 2), (8, 1 / 125, 13), (32, 1 / 2000, 21), (5.6, 30, 0)],
)
def test_exposure_value(aperture: float, shutter_s: float, value: float) -> None:
    assert exposure_value(aperture, shutter_s) == pytest.approx(value, abs=0.11)


def test_exposure_value_against_a_worked_example() -> None:
    # exiftool 12.57's composite LightValue for f/8, 1/125 s, ISO 100
    assert exposure_value(8, 1 / 125) == pytest.approx(12.9658, abs=1e-4)
    with pytest.raises(ValueError, match="positive"):
        exposure_value(0, 1)


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
