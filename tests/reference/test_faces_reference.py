"""Faces on free photographs of reference packages: found at several sizes and turns, none where
nobody is.

The astronaut is NASA's, public domain; coffee, the cat and the motorcycle are CC0, the rocket is
public domain, all as scikit-image ships them.
"""

import cv2
import numpy as np
import pytest
import skimage.data
from PIL import Image

from winnow.core.measure import expression
from winnow.core.measure import faces as core
from winnow.photos import faces

# Where the astronaut's eyes are, in px of the 512 px picture, read off it by eye.
EYES = ((207, 103), (240, 103))


def on_grey(side: int, width: int = 2048, height: int = 1365, turn: float = 0) -> np.ndarray:
    """The astronaut, so many px wide, on a grey picture, somewhere."""
    whole = Image.new("RGB", (width, height), (110, 112, 108))
    person = Image.fromarray(skimage.data.astronaut()).resize(
        (side, side), Image.Resampling.LANCZOS
    )
    whole.paste(person.rotate(turn, Image.Resampling.BICUBIC), (width // 3, height // 5))
    return np.asarray(whole)


# The face is about a fifth of the picture's width: 40 px to 200 px.
@pytest.mark.parametrize("side", [250, 400, 600, 1000])
def test_a_face_is_found_at_every_size_with_its_eyes_open(side: int) -> None:
    picture = on_grey(side)
    (face,) = faces.find(picture)
    assert face.score > 0.5
    assert core.are_closed(face, core.CLOSED_BELOW) is False
    for eye, (x, y) in zip(face.eyes, EYES, strict=True):
        true = (2048 // 3 + x * side / 512, 1365 // 5 + y * side / 512)
        away = np.hypot(eye.x * 2048 - true[0], eye.y * 1365 - true[1])
        assert away < 0.03 * side


@pytest.mark.parametrize("turn", [-90, -45, -30, 20, 45, 90])
def test_a_turned_head_is_found(turn: float) -> None:
    (face,) = faces.find(on_grey(900, turn=turn))
    assert face.score > 0.9
    assert core.are_closed(face, core.CLOSED_BELOW) is False or abs(turn) > 45


def changed(change: str) -> np.ndarray:
    """The astronaut, 1,400 px wide, in worse light or with glasses."""
    picture = cv2.resize(skimage.data.astronaut(), (1400, 1400), interpolation=cv2.INTER_CUBIC)
    linear = (picture / 255.0) ** 2.2
    if change == "dark":
        linear = linear * 2.0**-4 + np.random.default_rng(1).normal(0, 0.004, linear.shape)
    elif change == "before a bright sky":
        person = np.zeros(picture.shape[:2], np.float32)
        cv2.ellipse(person, (610, 330), (190, 270), 0, 0, 360, 1, -1)
        person = cv2.GaussianBlur(person, (0, 0), 20)[..., None]
        linear = linear * 2.0**-3 * person + 1.2 * (1 - person)
    elif change == "glasses":
        for x, y in EYES:
            at = (round(x * 1400 / 512), round(y * 1400 / 512))
            cv2.ellipse(picture, at, (41, 30), 0, 0, 360, (20, 20, 20), 6)
        return picture
    elif change == "soft":
        return cv2.GaussianBlur(picture, (0, 0), 8)
    return (np.clip(linear, 0, 1) ** (1 / 2.2) * 255).astype(np.uint8)


@pytest.mark.parametrize("change", ["dark", "before a bright sky", "glasses", "soft"])
def test_bad_light_glasses_and_blur_do_not_close_eyes(change: str) -> None:
    (face,) = faces.find(changed(change))
    assert core.are_closed(face, core.CLOSED_BELOW) is False


@pytest.mark.parametrize("mirrored", [False, True])
def test_the_whole_picture_and_its_mirror_agree(mirrored: bool) -> None:
    picture = skimage.data.astronaut()
    (face,) = faces.find(np.ascontiguousarray(picture[:, ::-1] if mirrored else picture))
    gaps = [eye.gap for eye in face.eyes]
    assert all(gap is not None and gap > 0.2 for gap in gaps)
    assert abs(face.turned) < core.TURNED


@pytest.mark.parametrize("name", ["coffee", "chelsea", "rocket", "page", "clock", "brick", "grass"])
def test_none_is_found_where_nobody_is(name: str) -> None:
    picture = np.asarray(Image.fromarray(getattr(skimage.data, name)()).convert("RGB"))
    large = Image.fromarray(picture)
    large = large.resize((2048, round(2048 * large.height / large.width)), Image.Resampling.LANCZOS)
    assert faces.find(picture) == []
    assert faces.find(np.asarray(large)) == []


def test_none_is_found_in_a_stereo_pair_of_a_motorcycle() -> None:
    left, _, _ = skimage.data.stereo_motorcycle()
    assert faces.find(np.ascontiguousarray(left)) == []


def test_two_people_are_two_faces() -> None:
    picture = on_grey(500).copy()
    picture[700:1200, 1500:2000] = on_grey(500)[273:773, 682:1182]
    assert len(faces.find(picture)) == 2


def test_the_parts_cover_the_picture_and_overlap() -> None:
    for width, height in ((439, 293), (293, 439), (192, 128), (439, 64), (10, 8)):
        covered = np.zeros((height, width), int)
        found = faces.parts(width, height)
        for left, top in found:
            assert left >= 0
            assert top >= 0
            covered[top : top + 192, left : left + 192] += 1
        assert covered.min() >= 1
        assert len(found) == 1 or covered.max() >= 2


@pytest.mark.parametrize("size", [(1, 1), (7, 300), (300, 7)])
def test_the_smallest_pictures_are_looked_at_without_a_fuss(size: tuple[int, int]) -> None:
    assert faces.find(np.full((*size, 3), 128, np.uint8)) == []


@pytest.mark.parametrize("side", [600, 1000, 1400])
def test_who_smiles_into_the_camera_is_neither_in_mid_speech_nor_looks_away(side: int) -> None:
    """The astronaut smiles broadly, teeth seen, and looks at the photographer: one real face, so no
    measure of how often."""
    (face,) = faces.find(on_grey(side))
    assert face.mouth is not None
    assert face.mouth[0] >= expression.OPEN_FROM
    assert expression.mouth_gap(face) is None
    aside = expression.looks_aside(face, core.CLOSED_BELOW)
    assert aside is not None
    assert aside < expression.AWAY_FROM
