"""Facts and marks in files."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.pictures import NOON, jpeg
from winnow.core.sync import FileMark
from winnow.photos.metadata import (
    Facts,
    SidecarError,
    read_facts,
    read_mark,
    with_mark,
)

ALL = {
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


@settings(max_examples=150, deadline=None)
@given(st.data())
def test_mutated_files_give_facts_or_none_but_no_error(data: st.DataObject) -> None:
    original = bytearray(jpeg(1, **ALL)[:2000])
    for _ in range(data.draw(st.integers(1, 12))):
        original[data.draw(st.integers(2, len(original) - 1))] = data.draw(st.integers(0, 255))
    read_facts(bytes(original), with_thumbnail=True)


FOREIGN = """<?xpacket begin="\ufeff" id="W5M0MpCehiHzreSzNTczkc9d"?>
<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">
<rdf:Description rdf:about="" xmlns:xmp="http://ns.adobe.com/xap/1.0/"
 xmlns:odd="http://example.org/odd/" xmlns:dc="http://purl.org/dc/elements/1.1/" xmp:Rating="2">
<odd:Thing>kept</odd:Thing>
<dc:subject><rdf:Bag><rdf:li>quay</rdf:li><rdf:li>灯</rdf:li></rdf:Bag></dc:subject>
</rdf:Description></rdf:RDF></x:xmpmeta><?xpacket end="w"?>""".encode()


def test_marks_round_trip_and_what_is_unknown_is_kept() -> None:
    written = with_mark(FOREIGN, FileMark(-1, "Grün & 灯", True))
    assert read_mark(written) == FileMark(-1, "Grün & 灯", True)
    assert b"kept" in written
    assert "灯</rdf:li>".encode() in written
    assert read_mark(with_mark(written, FileMark())) == FileMark()


def test_a_new_sidecar() -> None:
    assert read_mark(with_mark(None, FileMark(4))) == FileMark(4)


@pytest.mark.parametrize(
    ("text", "rating"),
    [("6", None), ("-2", None), ("abc", None), ("3.0", 3), ("2.5", None), ("", None)],
)
def test_ratings_outside_the_standard_count_as_none(text: str, rating: int | None) -> None:
    sidecar = FOREIGN.replace(b'Rating="2"', f'Rating="{text}"'.encode())
    assert read_mark(sidecar).rating == rating


LAUGHS = (
    b"""<?xml version="1.0"?><!DOCTYPE x [<!ENTITY a "ha"><!ENTITY b "&a;&a;&a;">]><x>&b;</x>"""
)


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (FOREIGN[: len(FOREIGN) // 2], "well-formed"),
        (b"", "well-formed"),
        (b"not xml at all", "well-formed"),
        (LAUGHS, "entities"),
        (b'<!DOCTYPE x SYSTEM "file:///etc/hostname"><x/>', "entities|document type"),
        (b"<x>" + b" " * (17 << 20) + b"</x>", "16 MiB"),
        (b"<html><body/></html>", "XMP|read"),
    ],
)
def test_broken_and_hostile_sidecars_are_refused_not_emptied(data: bytes, words: str) -> None:
    with pytest.raises(SidecarError, match=words):
        read_mark(data)
    with pytest.raises(SidecarError, match=words):
        with_mark(data or b" ", FileMark(1))
