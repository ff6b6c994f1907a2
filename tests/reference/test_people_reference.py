"""Faces put together, against SciPy's average linkage; and the places of eyes in dlib's chip."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.cluster.hierarchy import fcluster, linkage

from winnow.core import people
from winnow.photos import face_numbers


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 10_000), st.integers(2, 12), st.integers(3, 120))
def test_groups_are_those_of_average_linkage(seed: int, persons: int, count: int) -> None:
    rng = np.random.default_rng(seed)
    middles = rng.normal(0, 0.05, (persons, 128))
    numbers = middles[rng.integers(0, persons, count)] + rng.normal(0, 0.02, (count, 128))
    ours = np.array(people.put_together(numbers.astype(np.float32), range(count)))
    theirs = fcluster(linkage(numbers, "average"), people.ALIKE, "distance")
    assert ((ours[:, None] == ours) == (theirs[:, None] == theirs)).all()


def test_eyes_lie_where_the_networks_faces_have_them() -> None:
    """dlib's mean face of five points (``get_face_chip_details``), a quarter of it around: the
    corners of both eyes, from memory."""
    corners = np.array(
        [
            [[0.1205750620789, 0.2137274526848], [0.3340850613712, 0.2290642403242]],
            [[0.6460604764104, 0.2289674387677], [0.8595674595992, 0.2134981538014]],
        ]
    )
    middles = (corners.mean(1) + 0.25) / 1.5 * 150
    assert np.array(face_numbers._EYES) == pytest.approx(middles, abs=0.01)
