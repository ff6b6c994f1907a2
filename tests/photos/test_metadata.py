"""Facts and marks in files."""

from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests import soak
from tests.pictures import NOON, jpeg
from winnow.photos.metadata import Facts, read_facts

ALL: dict[str, Any] = {
    "taken_at": NOON + 0.25,
    "utc_offset_min": -210,
    "camera": "Quillon H2",
    "lens": "Marrow 85 mm",
    "focal_mm": 85.0,
    "aperture": 1.8,
    "shutter_s": 1 / 160,
    "iso": 800,
    "flash": True,
    "orientation": 6,
}


def test_facts_survive_the_file() -> None:
    found = read_facts(jpeg(1, **ALL))
    for name, value in ALL.items():
        assert getattr(found, name) == (pytest.approx(value) if isinstance(value, float) else value)
    assert (found.width, found.height) == (480, 320)


def test_a_file_without_facts() -> None:
    assert read_facts(jpeg(1)) == Facts(width=480, height=320)


def test_the_embedded_thumbnail() -> None:
    small = jpeg(2, 160, 107)
    data = jpeg(1, thumbnail=small)
    assert read_facts(data, with_thumbnail=True).thumbnail == small
    assert read_facts(data).thumbnail is None


@settings(max_examples=soak.rounds(50))
@given(st.data())
def test_mutated_files_give_facts_or_none_but_no_error(data: st.DataObject) -> None:
    original = bytearray(jpeg(1, **ALL)[:2000])
    for _ in range(data.draw(st.integers(1, 12))):
        original[data.draw(st.integers(2, len(original) - 1))] = data.draw(st.integers(0, 255))
    read_facts(bytes(original), with_thumbnail=True)
