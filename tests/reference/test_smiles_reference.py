"""Smiles on free photographs of real people: six of the package @vladmandic/face-api (MIT), and
NASA's portrait of an astronaut that scikit-image ships.

Who smiles was said by eye before anything was measured. The thresholds were chosen on these and
six faces more: this holds them, and is no measure of how often they are right on others.
"""

from pathlib import Path

import cv2
import numpy as np
import pytest
import skimage.data
from PIL import Image

from winnow.core.measure import expression
from winnow.core.measure.faces import Face, face_at
from winnow.photos import faces, smiles

SAMPLES = Path("frontend/node_modules/@vladmandic/face-api/demo")
# By photograph, where faces are, 0…1 of it: those that smile, and those that don't. Of three more
# nobody would be sure.
SMILING = {
    1: [(0.27, 0.38), (0.82, 0.25), (0.49, 0.42)],
    3: [(0.61, 0.27), (0.82, 0.33)],
    4: [(0.71, 0.19), (0.56, 0.22)],
    6: [(0.83, 0.27), (0.40, 0.32), (0.19, 0.42)],
}
SERIOUS = {
    2: [(0.23, 0.20), (0.80, 0.21), (0.52, 0.27)],
    3: [(0.36, 0.35)],
    4: [(0.17, 0.23)],
    5: [(0.25, 0.74), (0.63, 0.24), (0.45, 0.16)],
    6: [(0.66, 0.30)],
}


@pytest.fixture(scope="module")
def found() -> dict[int, list[Face]]:
    pictures = {n: np.array(Image.open(SAMPLES / f"sample{n}.jpg")) for n in range(1, 7)}
    return {n: faces.find(picture) for n, picture in pictures.items()}


def told(found: dict[int, list[Face]], wanted: dict[int, list[tuple[float, float]]]) -> list[bool]:
    said = []
    for n, points in wanted.items():
        for point in points:
            at = face_at(found[n], point)
            assert at is not None, (n, point)
            said.append(expression.smiles(found[n][at]) is True)
    return said


def test_nine_of_ten_smiles_are_told_and_nobody_is_said_to_smile_who_does_not(
    found: dict[int, list[Face]],
) -> None:
    assert sum(told(found, SMILING)) >= 9
    assert sum(told(found, SERIOUS)) == 0


def test_the_astronaut_smiles_at_every_size_and_turn() -> None:
    portrait = skimage.data.astronaut()
    for side in (300, 512, 900):
        picture = cv2.resize(portrait, (side, side), interpolation=cv2.INTER_AREA)
        for turn in (-20, 0, 20):
            about = cv2.getRotationMatrix2D((side * 0.44, side * 0.22), turn, 1)
            (face,) = faces.find(np.asarray(cv2.warpAffine(picture, about, (side, side)), np.uint8))
            assert expression.smiles(face) is True, (side, turn)


def test_the_network_tells_seven_expressions_that_add_up() -> None:
    rng = np.random.default_rng(1)
    shares = smiles._network(rng.integers(0, 255, (112, 112, 3)).astype(np.uint8))
    assert shares.shape == (7,)
    assert shares.sum() == pytest.approx(1, abs=1e-5)
