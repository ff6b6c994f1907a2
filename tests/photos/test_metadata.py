"""Facts and marks in files."""

import io
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image
from PIL.TiffImagePlugin import IFDRational

from tests import soak
from tests.pictures import NOON, jpeg, scene, with_chunk
from winnow.core.facts import Facts
from winnow.photos.metadata import read_facts

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


def test_an_aperture_and_a_shutter_speed_in_apex_alone() -> None:
    """Exif 2.32, annex C: Av 5 is f/5.66, Tv 7 is 1/128 s."""
    out = io.BytesIO()
    exif = Image.Exif()
    exif.get_ifd(0x8769).update({0x9202: IFDRational(5, 1), 0x9201: IFDRational(7, 1)})
    scene(1, 60, 40).save(out, "JPEG", exif=exif)
    found = read_facts(out.getvalue())
    assert found.aperture == pytest.approx(5.657, abs=1e-3)
    assert found.shutter_s == pytest.approx(1 / 128)
