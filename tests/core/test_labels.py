"""Label sets: told apart by everybody, and exchanged as files."""

import json
from dataclasses import replace
from itertools import combinations

import numpy as np
import pytest
from numpy.typing import NDArray
from skimage.color import deltaE_ciede2000, rgb2lab

from winnow.core.labels import (
    MOST,
    PALETTE,
    SHAPES,
    STANDARD_SET,
    Label,
    LabelSetError,
    check,
    from_file,
    to_file,
)

# Machado, Oliveira and Fernandes 2009, "A Physiologically-based Model for Simulation of Color
# Vision Deficiency", table of matrices for severity 1.0, on linear RGB. From memory; rows sum to 1.
DEFICIENCIES = {
    "none": np.eye(3),
    "protanopia": np.array(
        [
            [0.152286, 1.052583, -0.204868],
            [0.114503, 0.786281, 0.099216],
            [-0.003882, -0.048116, 1.051998],
        ]
    ),
    "deuteranopia": np.array(
        [
            [0.367322, 0.860646, -0.227968],
            [0.280085, 0.672501, 0.047413],
            [-0.011820, 0.042940, 0.968881],
        ]
    ),
    "tritanopia": np.array(
        [
            [1.255528, -0.076749, -0.178779],
            [-0.078411, 0.930809, 0.147602],
            [0.004733, 0.691367, 0.303900],
        ]
    ),
}


def linear(colour: str) -> NDArray[np.float64]:
    """Linear sRGB of "#rrggbb" (IEC 61966-2-1)."""
    value = np.array([int(colour[n : n + 2], 16) for n in (1, 3, 5)]) / 255
    return np.where(value <= 0.04045, value / 12.92, ((value + 0.055) / 1.055) ** 2.4)


def seen(colour: str, deficiency: str) -> NDArray[np.float64]:
    """CIELAB of what a person with a deficiency sees."""
    light = np.clip(DEFICIENCIES[deficiency] @ linear(colour), 0, 1)
    value = np.where(light <= 0.0031308, light * 12.92, 1.055 * light ** (1 / 2.4) - 0.055)
    return rgb2lab(value)


@pytest.mark.parametrize("deficiency", DEFICIENCIES)
def test_the_palette_is_told_apart(deficiency: str) -> None:
    assert DEFICIENCIES[deficiency].sum(1) == pytest.approx([1, 1, 1], abs=2e-6)
    nearest = min(
        deltaE_ciede2000(seen(a, deficiency), seen(b, deficiency))
        for a, b in combinations(PALETTE, 2)
    )
    # 1 is just seen side by side (CIE 142-2001); small signs apart need much more.
    assert nearest > 15


def test_letters_are_read_on_every_colour() -> None:
    """WCAG 2.2, 1.4.3: a contrast of 4.5 with black or white."""
    for colour in PALETTE:
        luminance = float(linear(colour) @ [0.2126, 0.7152, 0.0722])
        assert max(1.05 / (luminance + 0.05), (luminance + 0.05) / 0.05) >= 4.5


def test_there_is_a_shape_and_a_colour_for_each_label() -> None:
    assert len(SHAPES) == len(set(SHAPES)) == len(PALETTE) == MOST
    assert {label.colour for label in STANDARD_SET} <= set(PALETTE)
    check(list(STANDARD_SET))


R, A = STANDARD_SET[:2]


@pytest.mark.parametrize(
    ("labels", "words"),
    [
        ([R, replace(A, letter="r")], "same letter"),
        ([R, replace(A, name="RETOUCH")], "same name"),
        ([R, replace(A, shape="disc")], "same shape"),
        ([R, replace(A, written_as="retouch")], "same text in files"),
        ([replace(R, letter="★")], "one letter or digit"),
        ([replace(R, name=" ")], "needs a name"),
        ([replace(R, letter=str(n), name=str(n), written_as=str(n)) for n in range(10)], "at most"),
    ],
)
def test_sets_that_cannot_be_told_apart(labels: list[Label], words: str) -> None:
    with pytest.raises(LabelSetError, match=words):
        check(labels)


def test_a_set_goes_through_a_file() -> None:
    assert from_file(to_file("Märkte", list(STANDARD_SET))) == ("Märkte", list(STANDARD_SET))


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"kind": "other"}, "no label set"),
        ({"version": 2}, "newer"),
        ({"labels": "R"}, "at most"),
        ({"labels": [{"letter": "R"}]}, "Each label needs"),
        ({"labels": [None]}, "Each label needs"),
        ({"labels": [{**dict.fromkeys(Label.__slots__, "R")}]}, "no shape"),
        ({"labels": [{**dict.fromkeys(Label.__slots__, "R"), "shape": "disc"}]}, "not a colour"),
    ],
)
def test_files_that_hold_no_set(change: dict[str, object], words: str) -> None:
    content = json.loads(to_file("Set", list(STANDARD_SET))) | change
    with pytest.raises(LabelSetError, match=words):
        from_file(json.dumps(content))


@pytest.mark.parametrize("text", ["", "[]", "{", "[" * 100_000, '"x"'])
def test_files_that_are_something_else(text: str) -> None:
    with pytest.raises(LabelSetError):
        from_file(text)
