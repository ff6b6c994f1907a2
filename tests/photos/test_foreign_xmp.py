"""XMP that other programs wrote: whatever Winnow has no part in stays, and nothing of one file gets
into another."""

import struct
from pathlib import Path

import pytest
from PIL import Image

from tests.pictures import jpeg
from winnow.core.files.merge import Stated
from winnow.core.files.profiles import FileMark
from winnow.core.files.texts import Texts
from winnow.photos import jpeg_segments as segments
from winnow.photos.metadata import read_facts
from winnow.photos.xmp import embedded, read_sidecar, with_embedded, with_stated
from winnow.photos.xmp_check import SidecarError

RDF = "http://www.w3.org/1999/02/22-rdf-syntax-ns#"
XMP = "http://ns.adobe.com/xap/1.0/"
DC = "http://purl.org/dc/elements/1.1/"
FULL = Stated(
    FileMark(4, "Retouch", True),
    Texts("Dusk", "At the quay", ("quay", "sea"), ("Ann",), city="Holm"),
)


def packet(inside: str, spaces: str = "", about: str = "") -> bytes:
    return (
        f'<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="{RDF}">'
        f'<rdf:Description rdf:about="{about}" {spaces}>{inside}</rdf:Description>'
        "</rdf:RDF></x:xmpmeta>"
    ).encode()


@pytest.mark.parametrize(
    "prefix", ["xmp", "dc", "xmpDM", "photoshop", "plus", "exifEX", "x", "rdf"]
)
def test_a_prefix_that_one_file_declares_means_nothing_in_another(prefix: str) -> None:
    if prefix not in ("x", "rdf"):  # these two are in use in the packet itself
        strange = packet(f"<{prefix}:Odd>1</{prefix}:Odd>", f'xmlns:{prefix}="a"')
        assert read_sidecar(strange) == Stated()
        own = with_stated(strange, FULL)
        assert read_sidecar(own) == FULL
        assert b'="a"' in own
    assert f'xmlns:xmp="{XMP}"'.encode() in with_stated(None, FULL)
    assert f'xmlns:dc="{DC}"'.encode() in with_stated(None, FULL)


@pytest.mark.parametrize(
    ("inside", "spaces"),
    [
        # Namespaces that end in neither "/" nor "#", of which one is the other's beginning.
        ("<a:Rating>1</a:Rating><b:Rating>2</b:Rating>",
         'xmlns:a="http://example.org/a" xmlns:b="http://example.org/a/"'),
        ('<o:Link rdf:resource="http://example.org/what"/>', 'xmlns:o="urn:odd"'),
        ('<o:Part rdf:nodeID="n1"/>', 'xmlns:o="urn:odd"'),
        ("<exif:GPSTimeStamp>2026-10-03T18:42:11.50Z</exif:GPSTimeStamp>",
         'xmlns:exif="http://ns.adobe.com/exif/1.0/"'),
        ("<xmp:CreateDate>2026-10-03T18:42:11</xmp:CreateDate>", f'xmlns:xmp="{XMP}"'),
        ("<o:Kept><rdf:Bag><rdf:li>same</rdf:li><rdf:li>same</rdf:li></rdf:Bag></o:Kept>",
         'xmlns:o="urn:odd"'),
        ('<o:Deep rdf:parseType="Resource"><o:In o:at="1">x</o:In></o:Deep>', 'xmlns:o="urn:odd"'),
        ("<!-- a remark --><o:Said><![CDATA[<b>]]></o:Said>", 'xmlns:o="urn:odd"'),
        ("<xmp:Rating>9</xmp:Rating>", f'xmlns:xmp="{XMP}"'),
    ],
)  # fmt: skip
def test_what_is_not_ours_stays(inside: str, spaces: str) -> None:
    before = packet(inside, spaces, about="uuid:1-2-3")
    only_texts = Stated(FileMark(), Texts(caption="At the quay"))
    after = with_stated(before, only_texts)
    assert read_sidecar(after).texts == only_texts.texts
    assert inside.encode() in after
    assert b'rdf:about="uuid:1-2-3"' in after
    # And back: only what Winnow said is gone again.
    assert inside.encode() in with_stated(after, Stated())


def test_what_is_said_of_an_entry_stays_with_it() -> None:
    before = packet(
        '<dc:subject><rdf:Bag><rdf:li rdf:parseType="Resource"><rdf:value>sea</rdf:value>'
        "<o:sure>0.9</o:sure></rdf:li><rdf:li>pier</rdf:li></rdf:Bag></dc:subject>"
        '<dc:title><rdf:Alt><rdf:li xml:lang="x-default">Dusk</rdf:li>'
        '<rdf:li xml:lang="sv">Skymning</rdf:li></rdf:Alt></dc:title>',
        f'xmlns:dc="{DC}" xmlns:o="urn:odd"',
    )
    assert read_sidecar(before).texts == Texts("Dusk", keywords=("sea", "pier"))
    after = with_stated(before, Stated(texts=Texts("Night", keywords=("quay", "sea"))))
    assert read_sidecar(after).texts == Texts("Night", keywords=("quay", "sea"))
    assert b"<o:sure>0.9</o:sure>" in after
    assert b"Skymning" in after
    assert b"pier" not in after


def test_a_keyword_that_is_gone_is_gone_as_the_last_of_levels_too() -> None:
    levels = (
        "<h:hierarchicalSubject><rdf:Bag><rdf:li>Coast|sea</rdf:li><rdf:li>sea|quay</rdf:li>"
        "</rdf:Bag></h:hierarchicalSubject>"
    )
    before = packet(
        "<dc:subject><rdf:Bag><rdf:li>sea</rdf:li><rdf:li>quay</rdf:li></rdf:Bag></dc:subject>"
        + levels,
        f'xmlns:dc="{DC}" xmlns:h="urn:levels"',
    )
    after = with_stated(before, Stated(texts=Texts(keywords=("quay",))))
    assert b"Coast|sea" not in after
    assert b"sea|quay" in after
    assert levels.encode() in with_stated(
        before, Stated(texts=Texts(keywords=("sea", "quay", "new")))
    )


@pytest.mark.parametrize(
    "encoding",
    ["utf-8-sig", "utf-16", "utf-16-le", "utf-16-be", "iso-8859-1", "padded", "bare", "bare cr"],
)
def test_sidecars_are_read_in_whatever_form_xml_has(encoding: str) -> None:
    text = packet("<dc:title>Brücke</dc:title>", f'xmlns:dc="{DC}"').decode()
    if encoding == "padded":
        data = b"\n\n  " + text.encode() + b" " * 3000 + b"\n\0\0\0"
    elif encoding.startswith("bare"):
        data = text[text.index("<rdf:RDF") : text.index("</x:xmpmeta>")].encode()
        if "cr" in encoding:
            data = data.replace(b"><", b">\r\n<")
    elif encoding == "iso-8859-1":
        data = f'<?xml version="1.0" encoding="ISO-8859-1"?>{text}'.encode(encoding)
    else:
        declared = f'<?xml version="1.0" encoding="{encoding[:6]}"?>' if "16" in encoding else ""
        data = f"{declared}{text}".encode(encoding)
    assert read_sidecar(data).texts.title == "Brücke"
    after = with_stated(data, Stated(FileMark(5), Texts("Brücke", city="Århus")))
    assert read_sidecar(after) == Stated(FileMark(5), Texts("Brücke", city="Århus"))
    assert "Brücke".encode() in after


@pytest.mark.parametrize("encoding", ["utf-8", "utf-16", "iso-8859-1"])
def test_what_a_picture_states_is_the_same_whoever_asks(encoding: str) -> None:
    text = packet("<dc:title>Brücke</dc:title>", f'xmlns:dc="{DC}"').decode()
    declared = f'<?xml version="1.0" encoding="{encoding}"?>' if "iso" in encoding else ""
    data = segments.with_packet(
        jpeg(1, camera="Quillon H2"), (declared + text).encode(encoding), None
    )
    facts = read_facts(data)
    assert facts.camera == "Quillon H2"
    assert facts.described == embedded(data) == Stated(texts=Texts("Brücke"))
    # As of a file of which only the beginning was read.
    assert read_facts(data[: data.index(b"\xff\xda")]).described == facts.described


# --- JPEGs ---------------------------------------------------------------------------------------


ENTRIES = 50  # where the entries of pictures begin in the list below


def listed(second: bytes, order: str = "<") -> bytes:
    """A segment that lists two pictures (CIPA DC-007); the place of the second is filled in
    later."""
    head = (b"II*\0" if order == "<" else b"MM\0*") + struct.pack(order + "I", 8)
    directory = struct.pack(order + "HHHI4s", 3, 0xB000, 7, 4, b"0100")
    directory += struct.pack(order + "HHII", 0xB001, 4, 1, 2)
    directory += struct.pack(order + "HHII", 0xB002, 7, 32, ENTRIES) + bytes(4)
    entries = struct.pack(order + "8I", 0x030000, 1, 0, 0, 0, len(second), 0, 0)
    body = b"MPF\0" + head + directory + entries
    return b"\xff\xe2" + struct.pack(">H", len(body) + 2) + body


def of_two(layout: str, order: str) -> tuple[bytes, bytes]:
    """A JPEG with a second picture behind it, its segments in this order; and the second
    picture."""
    own, second = jpeg(1), jpeg(2, 160, 107)
    exif = b"\xff\xe1" + struct.pack(">H", 22) + b"Exif\0\0II*\0\x08\0\0\0" + bytes(6)
    content = packet("<o:Thing>kept</o:Thing>", 'xmlns:o="urn:odd"')
    xmp = (
        b"\xff\xe1"
        + struct.pack(">H", len(content) + 2 + len(segments.XMP))
        + segments.XMP
        + content
    )
    remark = b"\xff\xfe\x00\x08remark"
    pieces = {"e": exif, "x": xmp, "m": listed(second, order), "c": remark}
    rest = own[2:]
    while rest[1] in (0xE0, 0xE1):
        rest = rest[2 + int.from_bytes(rest[2:4], "big") :]
    head = b"\xff\xd8" + b"".join(pieces[name] for name in layout)
    whole = bytearray(head + rest + second)
    at = bytes(whole).index(b"MPF\0") + 4
    place = len(head) + len(rest) - at
    struct.pack_into(order + "I", whole, at + ENTRIES + 16 + 8, place)
    struct.pack_into(order + "I", whole, at + ENTRIES + 4, len(head) + len(rest))
    return bytes(whole), second


@pytest.mark.parametrize("order", ["<", ">"])
@pytest.mark.parametrize(
    "layout", ["em", "exm", "xem", "mx", "emx", "mex", "mexc", "cm", "m", "xmc"]
)
def test_the_second_picture_of_a_jpeg_is_found_afterwards(
    tmp_path: Path, layout: str, order: str
) -> None:
    before, second = of_two(layout, order)
    long = Stated(FileMark(4), Texts(caption=", ".join(["At the quay"] * 400)))
    for wanted in (FULL, long, Stated()):
        after = with_embedded(before, wanted)
        assert embedded(after) == wanted
        at = after.index(b"MPF\0") + 4
        (place,) = struct.unpack_from(order + "I", after, at + ENTRIES + 16 + 8)
        (size,) = struct.unpack_from(order + "I", after, at + ENTRIES + 4)
        assert after[at + place :] == second
        assert after[:size] + second == after
        assert segments.same_but_for_xmp(before, after)
        if "x" in layout:
            assert b"<o:Thing>kept</o:Thing>" in after
        before = after
    (tmp_path / "a.jpg").write_bytes(after)
    with Image.open(tmp_path / "a.jpg") as image:
        assert getattr(image, "n_frames", 1) == 2


def test_comments_fill_bytes_and_makers_notes_stay() -> None:
    own = jpeg(1, camera="Quillon H2")
    exif_end = 4 + int.from_bytes(own[4:6], "big")
    odd = own[:exif_end] + b"\xff\xff\xff\xfe\x00\x08remark" + own[exif_end:]
    after = with_embedded(odd, FULL)
    assert embedded(after) == FULL
    assert b"\xff\xff\xff\xfe\x00\x08remark" in after
    assert segments.same_but_for_xmp(odd, after)


def test_a_packet_that_is_too_long_goes_on_in_a_second_part() -> None:
    """ISO 16684-3, 7.3: what does not fit a segment goes to others, named by the MD5 of all of
    it."""
    history = f"<o:History>{'step ' * 40_000}</o:History>"
    small = with_embedded(jpeg(1), Stated(FileMark(2)))
    at = small.index(segments.XMP) + len(segments.XMP)
    start = small.index(b"<rdf:Description", at)
    end = small.index(b">", start) + 1
    parts, _ = segments.parts(small)
    content = segments.packet_of(parts)
    grown = content.replace(
        small[start:end], small[start : end - 1] + b' xmlns:o="urn:odd">' + history.encode()
    )
    # As another program writes it: a first part that names the second one.
    extension = packet(history, 'xmlns:o="urn:odd"')
    name = segments.name_of_extension(extension)
    note = f'<n:HasExtendedXMP xmlns:n="http://ns.adobe.com/xmp/note/">{name}</n:HasExtendedXMP>'
    first = content.replace(b"</rdf:Description>", note.encode() + b"</rdf:Description>")
    assert len(grown) > segments.LONGEST_PACKET
    two = segments.with_packet(small, first, extension)
    for wanted in (FULL, Stated(FileMark(1), Texts(caption="w, " * 6000 + "w")), Stated()):
        two = with_embedded(two, wanted)
        assert embedded(two) == wanted
        kept = segments.extension_of(segments.parts(two)[0], name)
        assert kept == extension


def test_texts_in_the_second_part_are_read_and_changed() -> None:
    extension = packet(
        "<dc:title>Far</dc:title><o:A>kept</o:A>", f'xmlns:dc="{DC}" xmlns:o="urn:odd"'
    )
    name = segments.name_of_extension(extension)
    first = packet(
        f"<n:HasExtendedXMP>{name}</n:HasExtendedXMP>", 'xmlns:n="http://ns.adobe.com/xmp/note/"'
    )
    data = segments.with_packet(jpeg(1), first, extension)
    assert embedded(data).texts == Texts("Far")
    kept = with_embedded(data, Stated(FileMark(3), Texts("Far")))
    assert embedded(kept) == Stated(FileMark(3), Texts("Far"))
    other = with_embedded(data, Stated(texts=Texts("Near")))
    assert embedded(other).texts == Texts("Near")
    assert b"<o:A>kept</o:A>" in other
    assert b"Far" not in other


def test_a_second_part_that_is_cut_is_refused() -> None:
    extension = packet("<o:A>kept</o:A>", 'xmlns:o="urn:odd"')
    first = packet(
        f"<n:HasExtendedXMP>{'A' * 32}</n:HasExtendedXMP>",
        'xmlns:n="http://ns.adobe.com/xmp/note/"',
    )
    with pytest.raises(SidecarError, match="missing"):
        with_embedded(segments.with_packet(jpeg(1), first, extension), FULL)


def test_a_jpeg_that_holds_xmp_twice_is_left_alone() -> None:
    """Programs read the first or the last one: whatever were written, one of them would say
    something else."""
    once = with_embedded(jpeg(1), FULL)
    parts, _ = segments.parts(once)
    (own,) = (segment for segment in parts if segment.is_app(1, segments.XMP))
    at = once.index(own.raw)
    twice = once[:at] + own.raw + once[at:]
    assert embedded(twice) == FULL
    with pytest.raises(SidecarError, match="twice"):
        with_embedded(twice, Stated(FileMark(1)))
