"""Marks and texts in sidecars and in picture files, as XMP (ISO 16684-1).

Packets are read and changed as XML (``photos.xmp_packet``). exiv2 only finds them in picture files,
and reads the older IPTC-IIM (IIM 4.2) where a file has no XMP; with ``photos.metadata`` this is the
only module that uses it. The binding is not safe for several threads, so every use holds one lock.
"""

from __future__ import annotations

import threading
from collections import Counter
from collections.abc import Sequence
from typing import Any, Final

import exiv2

from winnow.core.files import merge
from winnow.core.files.merge import NOTHING_STATED, Stated
from winnow.core.files.profiles import FileMark
from winnow.core.files.texts import FIELDS, Texts, cleaned
from winnow.photos import jpeg_segments as jpegs
from winnow.photos import xmp_packet
from winnow.photos.file_text import decoded, of_file
from winnow.photos.xmp_check import Property, SidecarError, properties
from winnow.photos.xmp_packet import PROPERTIES, Packet, as_utf8
from winnow.say import say

exiv2.LogMsg.setLevel(exiv2.LogMsg.Level.mute)
LOCK: Final = threading.Lock()

_IIM: Final = {
    "title": "ObjectName",
    "caption": "Caption",
    "keywords": "Keywords",
    "creators": "Byline",
    "rights": "Copyright",
    "location": "SubLocation",
    "city": "City",
    "state": "ProvinceState",
    "country": "CountryName",
    "instructions": "SpecialInstructions",
}
# Room that a new packet leaves for programs that change it in its place (ISO 16684-1, 7.3.2).
_PADDING: Final = 2048
_PACKET_END: Final = b"<?xpacket end="


def read_sidecar(data: bytes) -> Stated:
    """What a sidecar states. Raises SidecarError."""
    return Packet(data).stated()


def with_stated(sidecar: bytes | None, wanted: Stated) -> bytes:
    """Return a sidecar that states this and keeps everything else it said.

    What says so already is not touched; what is wanted empty is taken out; a text's other languages
    stay. Raises SidecarError when the present one can't be read.
    """
    packet = Packet(sidecar)
    present = packet.stated()
    packet.put(wanted)
    written = packet.written()
    _check(_properties(sidecar or b""), properties(written), present, wanted)
    return written


def with_embedded(jpeg: bytes, wanted: Stated) -> bytes:
    """Return a JPEG that states this in its XMP; every other byte of the file is as it was.

    Raises SidecarError, also where the result would differ in anything else.
    """
    segments, _ = jpegs.parts(jpeg)
    raw = jpegs.packet_of(segments)
    main = Packet(raw if as_utf8(raw) else None)
    name = main.extended()
    second = jpegs.extension_of(segments, name) if name else b""
    before = _properties(raw) + _properties(second)
    present = embedded(jpeg)
    if not as_utf8(raw):
        # The first XMP of a file hides its older texts: they go along.
        main.put(Stated(FileMark(), present.texts))
        present = NOTHING_STATED
    more = Packet(second) if second else None
    if more is None:
        main.put(wanted)
    else:
        _put_in_both(main, more, wanted)
    if len(main.written()) > jpegs.LONGEST_PACKET:
        more = more or Packet.second_part()
        main.move_rest(more)
    extension = more.written() if more else None
    if extension and properties(extension) == _properties(second):
        extension = None
    if extension:
        main.put_extended(jpegs.name_of_extension(extension))
    packet = _padded(main.written(), len(raw))
    _check(before, properties(packet) + _properties(extension or second), present, wanted)
    written = jpegs.with_packet(jpeg, packet, extension)
    if embedded(written) != wanted:
        raise SidecarError(say("it would not say what it should"))
    if not jpegs.same_but_for_xmp(jpeg, written):
        raise SidecarError(say("more than its texts would change"))
    return written


def _put_in_both(main: Packet, more: Packet, wanted: Stated) -> None:
    """What the second part says as it is wanted stays there; all else is said in the first part."""
    every = merge.as_dict(wanted)
    kept = {k: v for k, v in merge.as_dict(more.stated()).items() if every.get(k) == v}
    more.put(merge.from_dict(kept))
    main.put(merge.from_dict({k: v for k, v in every.items() if k not in kept}))


def _padded(packet: bytes, length: int) -> bytes:
    """A packet with room in front of its end: as long as it was, or with some room where it was
    shorter."""
    at = packet.rfind(_PACKET_END)
    room = length - len(packet)
    if room < 0 or not length:
        room = min(_PADDING, jpegs.LONGEST_PACKET - len(packet))
    if at < 0 or room <= 0:
        return packet
    return packet[:at] + b" " * (room - 1) + b"\n" + packet[at:]


def _properties(data: bytes) -> list[Property]:
    raw = as_utf8(data)
    return properties(raw) if raw else []


def _check(before: list[Property], after: list[Property], present: Stated, wanted: Stated) -> None:
    """Compare all that a packet says before and after, read independently of what changed it.

    Raises SidecarError.
    """
    was, now = merge.as_dict(present), merge.as_dict(wanted)
    changed = {prop for part, prop in PROPERTIES.items() if was.get(part) != now.get(part)}
    loose = changed | {xmp_packet.EXTENDED, f"{{{xmp_packet.RDF}}}about"}
    keywords_gone = bool(set(present.texts.keywords) - set(wanted.texts.keywords))

    def rest(those: list[Property]) -> Counter[Property]:
        return Counter(
            field
            for field in those
            if field[0] not in loose
            and not (keywords_gone and field[0].endswith(f"}}{xmp_packet.LEVELS}"))
        )

    if rest(before) != rest(after):
        raise SidecarError(say("more than its texts would change"))
    for part, prop in PROPERTIES.items():
        if prop not in changed:
            continue
        value = now.get(part)
        listed = value if isinstance(value, tuple | list) else () if value is None else (value,)
        insides = [inside for name, inside in after if name == prop]
        texts = [said for inside in insides for what, said in inside if what == "text"]
        if len(insides) != bool(listed) or not {str(name) for name in listed} <= set(texts):
            raise SidecarError(say("it would not say what it should"))


def embedded(data: bytes) -> Stated:
    """What a picture file states itself. Raises SidecarError when it can't be read."""
    if not data.startswith(b"\xff\xd8"):
        return _by_exiv2(data)
    segments, _ = jpegs.parts(data)
    if (stated := _in_segments(segments)) is not None:
        return stated
    # What else is in the file need not be sound for its texts to be read.
    return (
        _by_exiv2(data) if any(segment.marker == 0xED for segment in segments) else NOTHING_STATED
    )


def in_head(head: bytes) -> Stated | None:
    """What the beginning of a JPEG states in its XMP; None where it holds none that can be read."""
    try:
        return _in_segments(jpegs.leading(head))
    except SidecarError:
        return None


def _in_segments(segments: Sequence[jpegs.Segment]) -> Stated | None:
    packet = jpegs.packet_of(segments)
    if not as_utf8(packet):
        return None
    main = Packet(packet)
    second = jpegs.extension_of(segments, main.extended()) if main.extended() else b""
    return merge.over(main.stated(), Packet(second).stated() if second else NOTHING_STATED)


def _by_exiv2(data: bytes) -> Stated:
    with LOCK:
        try:
            image = exiv2.ImageFactory.open(data)
            image.readMetadata()
            older, packet = _iim(image), packet_of(image)
        except (exiv2.Exiv2Error, UnicodeDecodeError, ValueError) as error:
            raise SidecarError(say("it can’t be read ({error})", error=error.args[-1])) from None
    return Packet(packet).stated() if as_utf8(packet) else older


def stated_in(image: Any) -> Stated:
    """What an open picture file states: its XMP, or the older IPTC where there is no XMP that can
    be read."""
    packet = packet_of(image)
    try:
        if as_utf8(packet):
            return Packet(packet).stated()
    except SidecarError:
        pass
    return _iim(image)


def packet_of(image: Any) -> bytes:
    """The XMP packet of a file, or of a sidecar; empty where it has none."""
    return str(image.xmpPacket()).encode("utf-8", "surrogateescape")


def _iim(image: Any) -> Stated:
    texts: dict[str, Any] = {}
    for name, field in FIELDS.items():
        key = f"Iptc.Application2.{_IIM[name]}"
        said = [_older_text(datum) for datum in image.iptcData() if datum.key() == key]
        texts[name] = tuple(said) if field.listed else next(iter(said), "")
    return Stated(FileMark(), cleaned(Texts(**texts)))


def _older_text(datum: Any) -> str:
    """An IIM text, which may be in an older encoding."""
    value = datum.value()
    return decoded(bytes(value.data())) if hasattr(value, "data") else of_file(datum.toString())
