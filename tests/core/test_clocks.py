"""Offsets of clocks, found by frames of two cameras that show the same thing."""

import numpy as np

from tests.pictures import scene
from winnow.core.clocks import suggested
from winnow.core.measure.likeness import signature


def signatures(seeds: list[int], shift: int) -> list[bytes | None]:
    """Scenes as a second camera beside the first sees them: a little to the side."""
    pictures = [np.asarray(scene(seed, 240, 160).convert("RGB")) for seed in seeds]
    return [
        signature(np.ascontiguousarray(picture[:, shift : shift + 200])) for picture in pictures
    ]


def test_like_frames_say_how_far_clocks_are_apart() -> None:
    seeds = list(range(1, 13))
    times = np.array([60.0 * n for n in seeds])
    rng = np.random.default_rng(1)
    others = times - 3600 + rng.uniform(-4, 4, len(times))
    found = suggested(times, signatures(seeds, 0), others, signatures(seeds, 6))
    assert found is not None
    assert abs(found.seconds - 3600) < 4
    assert found.agree >= 8


def test_cameras_that_saw_other_things_say_nothing() -> None:
    times = np.arange(8, dtype=np.float64) * 60
    first, second = signatures(list(range(8)), 0), signatures(list(range(20, 28)), 0)
    assert suggested(times, first, times, second) is None
    assert suggested(times[:0], [], times, second) is None
