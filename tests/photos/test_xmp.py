"""Marks and texts in sidecars and pictures: what is unknown is kept, what is broken is refused."""

import io

import exiv2
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from tests.pictures import jpeg
from winnow.core.files.merge import Stated
from winnow.core.files.profiles import FileMark
from winnow.core.files.texts import Texts, cleaned
from winnow.photos.xmp import embedded, read_sidecar, with_embedded, with_stated
from winnow.photos.xmp_check import SidecarError

FULL = Stated(
    FileMark(-1, "Grün & <灯>", True),
    Texts(
        "Title", "Two\nlines", ("a, b", "灯"), ("Ann", "Bo"), "© Ann", "Pier", "Holm", "Vik", "Nord"
    ),
)


FOREIGN = """<?xpacket begin="\ufeff" id="W5M0MpCehiHzreSzNTczkc9d"?>
<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF
xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">
<rdf:Description rdf:about="" xmlns:xmp="http://ns.adobe.com/xap/1.0/"
 xmlns:odd="http://example.org/odd/" xmlns:dc="http://purl.org/dc/elements/1.1/" xmp:Rating="2">
<odd:Thing>kept</odd:Thing>
<dc:subject><rdf:Bag><rdf:li>quay</rdf:li><rdf:li>灯</rdf:li></rdf:Bag></dc:subject>
<dc:rights><rdf:Alt><rdf:li xml:lang="x-default">all</rdf:li><rdf:li
xml:lang="de">alle</rdf:li></rdf:Alt></dc:rights>
</rdf:Description></rdf:RDF></x:xmpmeta><?xpacket end="w"?>""".encode()


def test_marks_round_trip_and_what_is_unknown_is_kept() -> None:
    written = with_stated(FOREIGN, FULL)
    assert read_sidecar(written) == FULL
    assert b"kept" in written
    # What says so already is not touched: the other language of the rights is still there.
    assert b"alle" in written
    assert read_sidecar(with_stated(written, Stated())) == Stated()


def test_a_new_sidecar() -> None:
    assert read_sidecar(with_stated(None, FULL)) == FULL


@pytest.mark.parametrize(
    ("text", "rating"),
    [("6", None), ("-2", None), ("abc", None), ("3.0", 3), ("2.5", None), ("", None)],
)
def test_ratings_outside_the_standard_count_as_none(text: str, rating: int | None) -> None:
    sidecar = FOREIGN.replace(b'Rating="2"', f'Rating="{text}"'.encode())
    assert read_sidecar(sidecar).mark.rating == rating


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
        read_sidecar(data)
    with pytest.raises(SidecarError, match=words):
        with_stated(data or b" ", FULL)


def nested(depth: int) -> bytes:
    inner = "<odd:p rdf:parseType='Resource'>" * depth + "<odd:q>x</odd:q>" + "</odd:p>" * depth
    return FOREIGN.replace(b"<odd:Thing>kept</odd:Thing>", inner.encode())


def test_a_sidecar_may_be_nested_but_not_without_end() -> None:
    assert read_sidecar(nested(20)).mark.rating == 2
    with pytest.raises(SidecarError, match="nested"):
        read_sidecar(nested(100_000))


def test_what_no_rdf_may_hold_stays_all_the_same() -> None:
    odd = FOREIGN.replace(b"<odd:Thing>kept</odd:Thing>", b"<odd:Thing>a<b/>c</odd:Thing>")
    assert odd != FOREIGN
    assert b"<odd:Thing>a<b/>c</odd:Thing>" in with_stated(odd, FULL)


def test_an_emptied_sidecar_can_be_written_again() -> None:
    empty = with_stated(with_stated(None, FULL), Stated())
    assert read_sidecar(empty) == Stated()
    assert read_sidecar(with_stated(empty, FULL)) == FULL


def test_texts_alone_leave_marks_as_they_are() -> None:
    before = with_stated(None, FULL)
    after = with_stated(before, Stated(FULL.mark, Texts(title="Other")))
    assert read_sidecar(after) == Stated(FULL.mark, Texts(title="Other"))


texts = st.builds(
    Texts,
    title=st.text(max_size=40),
    caption=st.text(max_size=80),
    keywords=st.lists(st.text(max_size=20), max_size=4).map(tuple),
    creators=st.lists(st.text(max_size=20), max_size=3).map(tuple),
    city=st.text(max_size=20),
).map(cleaned)
marks = st.builds(
    FileMark,
    st.none() | st.integers(-1, 5),
    st.none() | st.sampled_from(["Retouch", "Grün <灯>", '"&' + "'" + '"']),
    st.none() | st.booleans(),
)


@given(st.lists(st.builds(Stated, marks, texts), min_size=1, max_size=3))
def test_whatever_is_stated_is_read_again(all_stated: list[Stated]) -> None:
    data: bytes | None = None
    for stated in all_stated:
        data = with_stated(data, stated)
        assert read_sidecar(data) == stated


def test_embedding_changes_nothing_but_the_xmp() -> None:
    before = jpeg(1, thumbnail=jpeg(2, 160, 107), camera="Quillon H2", taken_at=1e9)
    after = with_embedded(before, FULL)
    assert embedded(after) == FULL
    assert after.endswith(before[before.rindex(b"\xff\xda") :])
    pixels = [Image.open(io.BytesIO(data)).tobytes() for data in (before, after)]
    assert pixels[0] == pixels[1]
    assert embedded(with_embedded(after, Stated())) == Stated()


def test_the_older_texts_of_a_picture_go_along_and_stay_where_they_are() -> None:
    image = exiv2.ImageFactory.open(jpeg(1))
    image.readMetadata()
    iptc = image.iptcData()
    iptc["Iptc.Application2.Caption"] = "Old words"
    iptc["Iptc.Application2.City"] = "Holm"
    image.writeMetadata()
    with image.io().data() as data:
        old = bytes(data)
    assert embedded(old).texts == Texts(caption="Old words", city="Holm")
    new = with_embedded(old, Stated(texts=Texts(caption="Neue Wörter", city="Holm")))
    assert embedded(new).texts == Texts(caption="Neue Wörter", city="Holm")
    again = exiv2.ImageFactory.open(new)
    again.readMetadata()
    said = {datum.key(): datum.toString() for datum in again.iptcData()}
    assert said["Iptc.Application2.Caption"] == "Old words"


@pytest.mark.parametrize("data", [b"", b"GIF89a", jpeg(1)[:200], b"\xff\xd8\xff\xe1"])
def test_what_is_no_jpeg_is_not_embedded_into(data: bytes) -> None:
    with pytest.raises(SidecarError):
        with_embedded(data, FULL)


def test_more_than_fits_into_a_jpeg_is_refused() -> None:
    """A segment holds 64 KB (ISO 16684-3)."""
    with pytest.raises(SidecarError):
        with_embedded(
            jpeg(1), Stated(texts=Texts(keywords=tuple(f"{n} " * 60 for n in range(450))))
        )
