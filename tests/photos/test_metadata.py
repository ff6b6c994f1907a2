"""Facts and marks in files."""

import io
import struct
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image
from PIL.TiffImagePlugin import IFDRational

from tests import soak
from tests.pictures import NOON, jpeg, scene, with_chunk
from winnow.core.facts import Facts
from winnow.photos import boxes, makers_segments, raw_headers
from winnow.photos.jpeg_segments import Segment
from winnow.photos.metadata import read_facts, read_facts_at

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


STATED = """
<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF
xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">
 <rdf:Description rdf:about="" xmlns:a="http://ns.adobe.com/tiff/1.0/"
 xmlns:b="http://ns.adobe.com/exif/1.0/"
   xmlns:c="http://cipa.jp/exif/1.0/" xmlns:d="http://ns.adobe.com/exif/1.0/aux/" a:Make="Quillon"
   a:Model="H2"
   a:Orientation="6" b:FNumber="28/10" b:ShutterSpeedValue="8/1" b:FocalLength="850/10"
   b:ExposureBiasValue="-2/3"
   b:GPSLatitude="54,59.38N" b:GPSLongitude="1,30,36.0W" c:LensModel="Marrow 85 mm"
   d:SerialNumber="0412"
   b:DateTimeOriginal="2026-06-15T12:00:00.25-03:30">
  <b:ISOSpeedRatings><rdf:Seq><rdf:li>800</rdf:li></rdf:Seq></b:ISOSpeedRatings>
  <b:Flash b:Fired="True" b:Mode="1"/>
 </rdf:Description></rdf:RDF></x:xmpmeta>"""


def with_xmp(packet: str) -> bytes:
    """A PNG with XMP (ISO 16684-3, annex B.2)."""
    out = io.BytesIO()
    scene(1, 60, 40).save(out, "PNG")
    text = b"XML:com.adobe.xmp\0\0\0\0\0" + packet.encode()
    return with_chunk(out.getvalue(), b"iTXt", text)


def test_what_exif_leaves_out_is_read_from_xmp_whatever_its_prefixes() -> None:
    wanted: dict[str, Any] = {
        "taken_at": pytest.approx(NOON + 0.25),
        "utc_offset_min": -210,
        "camera": "Quillon H2",
        "lens": "Marrow 85 mm",
        "serial": "0412",
        "focal_mm": 85.0,
        "aperture": 2.8,
        "shutter_s": 1 / 256,
        "iso": 800,
        "flash": True,
        "orientation": 6,
        "exposure_bias_ev": pytest.approx(-2 / 3),
        "place": (pytest.approx(54.98967, abs=1e-5), pytest.approx(-1.51)),
        "width": 60,
        "height": 40,
    }
    assert read_facts(with_xmp(STATED)) == Facts(**wanted)


@pytest.mark.parametrize(
    ("old", "new"),
    [
        ("28/10", "28/0"), ("850/10", "long"), ("-2/3", "nan"), ("54,59.38N", "95,0N"),
        ("a:Orientation=\"6\"", ""),
        ("2026-06-15T12:00:00.25-03:30", "yesterday"), ("0412", " "), ("8/1", "1e9"), ("True",
        "maybe"),
    ],
)  # fmt: skip
def test_what_xmp_states_badly_is_left_out(old: str, new: str) -> None:
    found = read_facts(with_xmp(STATED.replace(old, new)))
    whole = read_facts(with_xmp(STATED))
    names = [name for name in Facts.__slots__ if getattr(found, name) != getattr(whole, name)]
    assert 1 <= len(names) <= 2
    assert all(getattr(found, name) in (None, 1, False) for name in names)


@pytest.mark.parametrize(
    ("text", "zone"),
    [
        ("2026:06:15 12:00:00", None),  # as Exif writes it
        ("2026-06-15T12:00-03:30", -210),  # ISO 16684-1, 8.2.1.2: seconds may be left out
        ("2026-06-15T12:00", None),
    ],
)
def test_times_of_xmp_in_every_form(text: str, zone: int | None) -> None:
    facts = read_facts(with_xmp(STATED.replace("2026-06-15T12:00:00.25-03:30", text)))
    assert (facts.taken_at, facts.utc_offset_min) == (NOON, zone)


def test_an_aperture_and_a_shutter_speed_in_apex_alone() -> None:
    """Exif 2.32, annex C: Av 5 is f/5.66, Tv 7 is 1/128 s."""
    out = io.BytesIO()
    exif = Image.Exif()
    exif.get_ifd(0x8769).update({0x9202: IFDRational(5, 1), 0x9201: IFDRational(7, 1)})
    scene(1, 60, 40).save(out, "JPEG", exif=exif)
    found = read_facts(out.getvalue())
    assert found.aperture == pytest.approx(5.657, abs=1e-3)
    assert found.shutter_s == pytest.approx(1 / 128)


def box(kind: bytes, content: bytes) -> bytes:
    return (len(content) + 8).to_bytes(4, "big") + kind + content


def directory(tags: dict[int, Any]) -> bytes:
    """A TIFF of one directory, as Pillow writes it."""
    exif = Image.Exif()
    exif.update(tags)
    return exif.tobytes().removeprefix(b"Exif\0\0")


def cr3() -> bytes:
    """The facts of a CR3 in their boxes, with a table behind them that is cut off."""
    picture = directory({0x010F: "Quillon", 0x0110: "H2", 0x0112: 6})
    tags = {
        0x829A: IFDRational(1, 160),
        0x829D: IFDRational(18, 10),
        0x8827: 800,
        0x9003: "2026:06:15 12:00:00",
        0x9011: "-03:30",
        0x9204: IFDRational(-2, 3),
        0x920A: IFDRational(85, 1),
        0xA431: "0412",
        0xA434: "Marrow 85 mm",
        0xA435: "0000000000",
    }
    place = directory({1: "N", 2: (IFDRational(54), IFDRational(30), IFDRational(0)),
                       3: "W", 4: (IFDRational(1), IFDRational(30), IFDRational(0))})  # fmt: skip
    own = box(b"uuid", bytes(16) + box(b"CMT1", picture) + box(b"CMT2", directory(tags))
              + box(b"CMT4", place))  # fmt: skip
    head = box(b"ftyp", b"crx \0\0\0\x01crx isom")
    return head + box(b"moov", own + box(b"trak", b"nothing")) + b"\0\0\xff\xffmdatcut off"


def test_a_cr3_says_its_facts_in_directories_of_its_own(tmp_path: Path) -> None:
    path = tmp_path / "QH_0001.cr3"
    path.write_bytes(cr3())
    facts = read_facts_at(path)
    assert facts.taken_at == NOON
    assert (facts.utc_offset_min, facts.camera, facts.lens) == (-210, "Quillon H2", "Marrow 85 mm")
    assert (facts.serial, facts.lens_serial, facts.iso) == ("0412", None, 800)
    assert facts.aperture == pytest.approx(1.8)
    assert facts.shutter_s == pytest.approx(1 / 160)
    assert facts.focal_mm == 85
    assert facts.exposure_bias_ev == pytest.approx(-2 / 3)
    assert facts.place == (54.5, -1.5)


@settings(max_examples=soak.rounds(50))
@given(st.data())
def test_damaged_boxes_give_facts_or_none_but_no_error(data: st.DataObject) -> None:
    content = bytearray(cr3())
    for _ in range(data.draw(st.integers(1, 12))):
        content[data.draw(st.integers(0, len(content) - 1))] = data.draw(st.integers(0, 255))
    cut = data.draw(st.integers(0, len(content)))
    assert len(list(boxes.boxes(bytes(content[:cut])))) <= 200
    boxes.tiffs_of_cr3(bytes(content[:cut]))


def test_a_strange_raw_file_says_what_the_jpeg_in_it_says(tmp_path: Path) -> None:
    path = tmp_path / "QH_0001.x3f"
    path.write_bytes(b"FOVb" + bytes(300) + jpeg(1, **ALL) + bytes(300))
    facts = read_facts_at(path)
    assert (facts.camera, facts.iso, facts.taken_at) == ("Quillon H2", 800, NOON + 0.25)
    # How the preview lies says nothing of the picture.
    assert facts.orientation == 1
    path.write_bytes(b"FOVb" + bytes(300))
    assert read_facts_at(path) == Facts()


def test_flash_and_compensation_are_read_where_tiff_has_them() -> None:
    """TIFF/EP (ISO 12234-2) has these in the picture's own directory."""
    tags = {0x9204: IFDRational(0, 1), 0x9209: 16, 0x829D: IFDRational(9, 1)}
    shown = io.BytesIO()
    exif = Image.Exif()
    exif.update(tags)
    scene(1).save(shown, "JPEG", exif=exif)
    facts = read_facts(shown.getvalue())
    assert (facts.exposure_bias_ev, facts.flash, facts.aperture) == (0, False, 9)


def x3f(pairs: dict[str, str]) -> bytes:
    """An X3F without pictures: its properties, and the directory that the last bytes point to."""
    texts = [text for pair in pairs.items() for text in pair]
    starts = [sum(len(text) + 1 for text in texts[:n]) for n in range(len(texts))]
    places = struct.pack(f"<{len(starts)}I", *starts)
    chars = "".join(f"{text}\0" for text in texts).encode("utf-16-le")
    section = struct.pack("<4s5I", b"SECp", 0x20000, len(pairs), 0, 0, len(chars) // 2)
    section += places + chars
    head = b"FOVb" + bytes(228)
    entry = struct.pack("<II4s", len(head), len(section), b"PROP")
    directory = struct.pack("<4sII", b"SECd", 0x20000, 1) + entry
    return head + section + directory + struct.pack("<I", len(head) + len(section))


X3F = x3f(
    {
        "CAMMODEL": "QUILLON D1",
        "CAMSERIAL": "0412",
        "TIME": "978309395",
        "ISO": "100",
        "APERTURE": "8.35",
        "SHUTTER": "0.00929",
        "FLENGTH": "30.0",
        "EXPCOMP": "0",
    }
)


def test_an_x3f_says_its_facts_in_properties_of_its_own(tmp_path: Path) -> None:
    """By names, units and lengths as exiftool reads them."""
    path = tmp_path / "QH_0001.x3f"
    path.write_bytes(X3F)
    facts = read_facts_at(path)
    assert (facts.camera, facts.serial, facts.taken_at) == ("QUILLON D1", "0412", 978309395.0)
    assert (facts.iso, facts.aperture, facts.focal_mm) == (100, 8.35, 30.0)
    assert facts.shutter_s == pytest.approx(0.00929)
    assert facts.exposure_bias_ev == 0


@settings(max_examples=soak.rounds(50))
@given(st.data())
def test_a_damaged_header_gives_facts_or_none_but_no_error(data: st.DataObject) -> None:
    content = bytearray(X3F)
    for _ in range(data.draw(st.integers(1, 12))):
        content[data.draw(st.integers(0, len(content) - 1))] = data.draw(st.integers(0, 255))
    raw_headers.of_x3f(io.BytesIO(content[: data.draw(st.integers(0, len(content)))]))
    raw_headers.of_kyocera(bytes(content))


def test_a_header_whose_texts_stand_backwards(tmp_path: Path) -> None:
    path = tmp_path / "QH_0001.raw"
    numbers = {0x34: 13, 0x38: 56, 0x58: 56, 0x70: 55}
    content = bytearray(200)
    # A sign that nobody can read is no part of a name.
    content[0x0C:0x16] = b"LATIGID\x07 N"
    content[0x19:0x20] = b"ARECOYK"
    content[0x21:0x34] = b"03:41:81 61:70:5002"
    for at, value in numbers.items():
        content[at : at + 4] = value.to_bytes(4, "big")
    path.write_bytes(content)
    facts = read_facts_at(path)
    assert (facts.camera, facts.iso, facts.focal_mm) == ("KYOCERA N DIGITAL", 100, 55)
    assert facts.taken_at == 1121537670.0
    assert facts.shutter_s == pytest.approx(1 / 125)
    assert facts.aperture == pytest.approx(11.3, rel=0.01)


def test_a_lens_in_the_picture_s_own_directory(tmp_path: Path) -> None:
    path = tmp_path / "QH_0001.jpg"
    exif = Image.Exif()
    exif.update({0xA434: "Marrow 85 mm", 0xA431: "0412", 0xA435: "77"})
    Image.new("RGB", (8, 8)).save(path, exif=exif)
    facts = read_facts_at(path)
    assert (facts.lens, facts.serial, facts.lens_serial) == ("Marrow 85 mm", "0412", "77")


def jpeg_with(body: bytes) -> bytes:
    """A JPEG with an application segment in front of its own."""
    plain = jpeg(3)
    return plain[:2] + b"\xff\xe1" + struct.pack(">H", len(body) + 2) + body + plain[2:]


def test_an_early_cameras_own_segment_says_the_time() -> None:
    """The layout as exiftool reads it: a text 77 bytes from the segment's name on."""
    stated = jpeg_with(b"QVCI".ljust(77, b"\0") + b"1998.10.24.12.08.57\0".ljust(60, b"\0"))
    assert read_facts(stated).taken_at == datetime(1998, 10, 24, 12, 8, 57, tzinfo=UTC).timestamp()
    blank = jpeg_with(b"QVCI".ljust(140, b"\0"))
    assert read_facts(blank).taken_at is None


def thermal(lens: bytes, serial: bytes) -> bytes:
    """A thermal camera's records, as exiftool reads them: a directory with one entry, of the
    camera."""
    record = bytearray(0x200)
    record[0x104 : 0x104 + len(serial)] = serial
    record[0x170 : 0x170 + len(lens)] = lens
    head = b"FFF\0".ljust(0x18, b"\0") + struct.pack(">II", 0x40, 1)
    entry = struct.pack(">HHIIII", 0x20, 0, 0, 0, 0x60, len(record)).ljust(32, b"\0")
    return b"FLIR\0\1\0\0" + head.ljust(0x40, b"\0") + entry + bytes(record)


def test_a_thermal_cameras_own_segment_says_lens_and_serial_number() -> None:
    facts = read_facts(jpeg_with(thermal(b"FOL7", b"470023842")))
    assert (facts.lens, facts.serial) == ("FOL7", "470023842")


@given(st.data())
def test_damaged_segments_of_makers_say_nothing(data: st.DataObject) -> None:
    content = bytearray(thermal(b"FOL7", b"47"))
    for _ in range(data.draw(st.integers(1, 8))):
        content[data.draw(st.integers(8, len(content) - 1))] = data.draw(st.integers(0, 255))
    cut = bytes(content[: data.draw(st.integers(8, len(content)))])
    makers_segments.facts_in([Segment(b"\xff\xe1\0\0" + cut, 0)])
