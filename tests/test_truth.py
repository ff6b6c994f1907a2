"""The camera that benchmarks/truth photographs with: what it says is true of a frame is so."""

from __future__ import annotations

from pathlib import Path

import cv2
import numpy as np
import pytest
from benchmarks.truth import camera, free
from benchmarks.truth.camera import Shot
from benchmarks.truth.free import HEIGHT, MARGIN, WIDTH
from benchmarks.truth.score import Score


def edge() -> np.ndarray:
    """Light with one upright edge, a little grey on either side."""
    light = np.full((HEIGHT + 2 * MARGIN, WIDTH + 2 * MARGIN, 3), 0.1, np.float32)
    light[:, light.shape[1] // 2 :] = 0.5
    return light


@pytest.mark.parametrize("sigma", [1.5, 3.0, 6.0])
def test_an_edge_is_as_soft_as_it_was_asked_for(sigma: float) -> None:
    """The spread of an edge's derivative is the deviation of what blurred it."""
    light = camera.blurred(edge(), camera.gaussian(sigma))
    picture = camera.taken(light, Shot(iso=100, sharpening=0)).mean(2)
    # In linear light again: tone bends an edge.
    line = ((picture / 255) ** 2.2).mean(0)
    rise = np.clip(np.diff(line), 0, None)
    rise[rise < rise.max() / 50] = 0
    x = np.arange(len(rise))
    middle = (rise * x).sum() / rise.sum()
    spread = np.sqrt((rise * (x - middle) ** 2).sum() / rise.sum())
    assert spread == pytest.approx(np.hypot(sigma, camera.OWN), rel=0.12)


def test_kernels_keep_the_light_and_have_their_size() -> None:
    rng = np.random.default_rng(4)
    disc, path = camera.disc(12), camera.shake(16, 0, rng)
    for kernel in (disc, path, camera.gaussian(2)):
        assert kernel.sum() == pytest.approx(1, abs=1e-4)
    y, x = np.mgrid[: len(disc), : len(disc)] - len(disc) // 2
    # Along a line an even disc has the deviation of a quarter of its diameter.
    assert np.sqrt((disc * x**2).sum()) == pytest.approx(3, rel=0.05)
    y, x = np.mgrid[: len(path), : len(path)] - len(path) // 2
    # An even motion over L px has the variance L² / 12.
    assert (path * (x**2 + y**2)).sum() == pytest.approx(16**2 / 12, rel=0.1)


def test_noise_grows_with_the_sensitivity_and_the_hand_moves_the_picture() -> None:
    even = np.full_like(edge(), 0.3)
    quiet, loud = (camera.taken(even, Shot(iso=iso)).std() for iso in (100, 6400))
    assert 3 * quiet < loud
    still, moved = (
        camera.taken(camera.blurred(edge(), None), Shot(shift=shift)).mean((0, 2))
        for shift in ((0, 0), (9, 0))
    )
    step = [int(np.argmax(np.diff(line))) for line in (still, moved)]
    assert step[0] - step[1] == 9


def test_what_is_missing_is_named(tmp_path: Path) -> None:
    cv2.imwrite(str(tmp_path / "Garden.jpg"), np.zeros((40, 60, 3), np.uint8))
    with pytest.raises(FileNotFoundError, match=r"^Dune\.jpg, .*china\.jpg$"):
        list(free.scenes([tmp_path], "tuned"))


def test_an_interval_draws_whole_photographs() -> None:
    score = Score("right", "≥ .9")
    for n in range(40):
        score.add("a" if n < 20 else "b", n < 20)
    # Of two photographs both, one or the other are drawn: nothing between is certain.
    assert score.interval() == (0, 1)
    assert score.row() == "| right | 0.500 (0.00–1.00) | 40 | ≥ .9 |"
    assert Score("none yet").row() == "| none yet | none | 0 |  |"
