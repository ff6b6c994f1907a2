"""Marks and texts in sidecars and in picture files, as XMP (ISO 16684-1), through exiv2.

With ``photos.metadata`` the only module that uses it. The binding is not safe for XMP from several threads,
so every use holds one lock. Where a picture file has no XMP, the older IPTC-IIM (IIM 4.2) is read instead.
"""

from __future__ import annotations

import threading
from typing import Any, Final
from xml.parsers import expat

import exiv2

from winnow.core.profiles import FileMark
from winnow.core.sync import Stated
from winnow.core.texts import FIELDS, Texts, cleaned
from winnow.photos.file_text import decoded, of_file
from winnow.say import say

exiv2.LogMsg.setLevel(exiv2.LogMsg.Level.mute)
LOCK: Final = threading.Lock()

MAX_SIDECAR_BYTES: Final = 16 * 1024 * 1024
MAX_DEPTH: Final = 64
MAX_ELEMENTS: Final = 200_000
_RDF: Final = "http://www.w3.org/1999/02/22-rdf-syntax-ns#"

_KEYS: Final = {
    "title": "Xmp.dc.title",
    "caption": "Xmp.dc.description",
    "keywords": "Xmp.dc.subject",
    "creators": "Xmp.dc.creator",
    "rights": "Xmp.dc.rights",
    "location": "Xmp.iptc.Location",
    "city": "Xmp.photoshop.City",
    "state": "Xmp.photoshop.State",
    "country": "Xmp.photoshop.Country",
    "instructions": "Xmp.photoshop.Instructions",
}
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
_IN_LANGUAGES: Final = {"title", "caption", "rights"}
_EMPTY: Final = (
    '<?xpacket begin="\ufeff" id="W5M0MpCehiHzreSzNTczkc9d"?>\n'
    f'<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="{_RDF}"/></x:xmpmeta>\n'
    '<?xpacket end="w"?>'
).encode()
_UTF8: Final = "\x1b%G"  # of the envelope's character set: the texts are UTF-8


class SidecarError(Exception):
    """XMP that can't be read, with the reason in words. It must not be written over."""


class _Refused(Exception):
    pass


def check_well_formed(data: bytes) -> bool:  # noqa: C901
    """Raise SidecarError for XML that is cut off, hostile or too large; else say whether it holds
    any property.

    exiv2 reads what it can't read as empty, without an error; writing after that would destroy it.
    """
    if len(data) > MAX_SIDECAR_BYTES:
        raise SidecarError(say("it is larger than 16 MiB"))
    depth = elements = 0
    described = -1
    says = False

    def start(name: str, attributes: dict[str, str]) -> None:
        nonlocal depth, elements, described, says
        depth += 1
        elements += 1
        if depth > MAX_DEPTH:
            raise _Refused(say("it is nested more than {most} deep", most=MAX_DEPTH))
        if elements > MAX_ELEMENTS:
            raise _Refused(say("it has more than 200,000 parts"))
        if name == f"{_RDF}|Description" and described < 0:
            described = depth
            says = says or any(not key.startswith(f"{_RDF}|") for key in attributes)
        elif 0 <= described < depth:
            says = True

    def end(name: str) -> None:
        nonlocal depth, described
        if depth == described:
            described = -1
        depth -= 1

    def refuse(*_: object) -> int:
        raise _Refused(say("it declares entities or a document type"))

    parser = expat.ParserCreate(namespace_separator="|")
    parser.StartElementHandler = start
    parser.EndElementHandler = end
    # guard: XML with entities; XML that names other files
    parser.StartDoctypeDeclHandler = refuse
    parser.EntityDeclHandler = refuse  # guard: XML with entities
    parser.ExternalEntityRefHandler = refuse
    try:
        parser.Parse(data, True)
    except _Refused as error:
        raise SidecarError(str(error)) from None
    except (expat.ExpatError, ValueError, LookupError) as error:
        raise SidecarError(say("it is not well-formed XML ({error})", error=error)) from None
    return says


def read_sidecar(data: bytes) -> Stated:
    """What a sidecar states. Raises SidecarError."""
    with LOCK:
        return _stated(_open_sidecar(data).xmpData())


def with_stated(sidecar: bytes | None, wanted: Stated) -> bytes:
    """Return a sidecar that states this and keeps everything else it said.

    What says so already is not touched; what is wanted empty is taken out; a text's other languages stay.
    Raises SidecarError when the present one can't be read.
    """
    with LOCK:
        if sidecar:
            image = _open_sidecar(sidecar)
        else:
            image = exiv2.ImageFactory.create(exiv2.ImageType.xmp)
        _put(image.xmpData(), wanted)
        # exiv2 leaves a sidecar as it is when there is nothing to write any more.
        return _written(image) if len(image.xmpData()) else _EMPTY


def with_embedded(jpeg: bytes, wanted: Stated) -> bytes:
    """Return a JPEG that states this in its XMP; the picture and all else in the file are as they were.

    The older IPTC texts are brought in line where the file has any. Raises SidecarError, also where the
    result would differ in anything else.
    """
    packet = _packet(jpeg)
    says = bool(packet) and check_well_formed(packet)
    with LOCK:
        image = _open(jpeg)
        if image.imageType() != exiv2.ImageType.jpeg:
            raise SidecarError(say("it is not a JPEG"))
        xmp, iptc = image.xmpData(), image.iptcData()
        if says and not len(xmp):
            raise SidecarError(say("its XMP can’t be read"))
        had_iptc = len(iptc) > 0
        present = stated_in(image)
        if not len(xmp):
            # The first XMP of a file hides its older texts: they go along.
            _put(xmp, Stated(FileMark(), present.texts))
        _put(xmp, wanted)
        if had_iptc:
            _put_iim(iptc, wanted.texts)
        try:
            written = _written(image)
        except exiv2.Exiv2Error as error:
            raise SidecarError(say("it can’t be written ({error})", error=error.args[-1])) from None
        if stated_in(_open(written)) != wanted:
            raise SidecarError(say("it would not say what it should"))
    if _bare(written, with_iptc=not had_iptc) != _bare(jpeg, with_iptc=not had_iptc):
        raise SidecarError(say("more than its texts would change"))
    return written


def embedded(data: bytes) -> Stated:
    """What a picture file states itself. Raises SidecarError when it can't be read."""
    with LOCK:
        return stated_in(_open(data))


def stated_in(image: Any) -> Stated:
    """What an open picture file states: its XMP, or the older IPTC where there is no XMP."""
    xmp, iptc = image.xmpData(), image.iptcData()
    if len(xmp):
        return _stated(xmp)
    texts: dict[str, Any] = {}
    for name, one in FIELDS.items():
        key = f"Iptc.Application2.{_IIM[name]}"
        said = [_older_text(datum) for datum in iptc if datum.key() == key]
        texts[name] = tuple(said) if one.listed else next(iter(said), "")
    return Stated(FileMark(), cleaned(Texts(**texts)))


def _older_text(datum: Any) -> str:
    """An IIM text, which may be in an older encoding."""
    value = datum.value()
    return decoded(bytes(value.data())) if hasattr(value, "data") else of_file(datum.toString())


def _stated(xmp: Any) -> Stated:
    texts: dict[str, Any] = {}
    for name, one in FIELDS.items():
        entries = _entries(xmp, _KEYS[name])
        texts[name] = entries if one.listed else next(iter(entries), "")
    good = _text(xmp, "Xmp.xmpDM.good")
    return Stated(
        FileMark(
            rating=_rating(_text(xmp, "Xmp.xmp.Rating")),
            label=_text(xmp, "Xmp.xmp.Label"),
            good=None if good is None else good.lower() in ("true", "1"),
        ),
        cleaned(Texts(**texts)),
    )


def _entries(xmp: Any, key: str) -> tuple[str, ...]:
    """All texts of a property, however it is written: alone, in a list, or in several languages with
    the default one first."""
    if key not in xmp:
        return ()
    value = xmp[key].value()
    if hasattr(value, "items"):
        texts = dict(value.items())
        default = texts.pop("x-default", None)
        return tuple(of_file(t) for t in ([default] if default else []) + list(texts.values()))
    if isinstance(value, exiv2.XmpArrayValue):
        return tuple(of_file(value.toString(n)) for n in range(value.count()))
    return (of_file(xmp[key].toString()),)


def _rating(text: str | None) -> int | None:
    """A rating in −1…5; None for one that is missing or outside the standard's range."""
    try:
        number = float(text) if text else None
    except ValueError:
        return None
    return int(number) if number is not None and number in range(-1, 6) else None


def _text(data: Any, key: str) -> str | None:
    if key not in data:
        return None
    return of_file(data[key].toString()) or None


def _put(xmp: Any, wanted: Stated) -> None:
    """Bring XMP in line, touching only what differs."""
    present = _stated(xmp)
    for key, now, value in (
        ("Xmp.xmp.Rating", present.mark.rating, wanted.mark.rating),
        ("Xmp.xmp.Label", present.mark.label, wanted.mark.label),
        ("Xmp.xmpDM.good", present.mark.good, wanted.mark.good),
    ):
        if value is None:
            _erase(xmp, key)
        elif now != value:
            _erase(xmp, key)
            xmp[key] = str(value)
    for name, one in FIELDS.items():
        value = getattr(wanted.texts, name)
        if getattr(present.texts, name) == value:
            continue
        key = _KEYS[name]
        others = _other_languages(xmp, key) if name in _IN_LANGUAGES else {}
        _erase(xmp, key)
        if one.listed and value:
            kind = exiv2.TypeId.xmpSeq if name == "creators" else exiv2.TypeId.xmpBag
            xmp[key] = exiv2.XmpArrayValue(list(value), kind)
        elif name in _IN_LANGUAGES and value:
            xmp[key] = exiv2.LangAltValue({"x-default": value, **others})
        elif value:
            xmp[key] = value


def _other_languages(xmp: Any, key: str) -> dict[str, str]:
    if key not in xmp or not hasattr(xmp[key].value(), "items"):
        return {}
    return {lang: text for lang, text in xmp[key].value().items() if lang != "x-default"}


def _put_iim(iptc: Any, texts: Texts) -> None:
    """Bring the older texts in line; IIM limits lengths (in bytes), XMP has them in full."""
    longest = {
        "title": 64, "caption": 2000, "keywords": 64, "rights": 128, "country": 64, "instructions": 256,
    }  # fmt: skip
    for name, one in FIELDS.items():
        key = f"Iptc.Application2.{_IIM[name]}"
        _erase(iptc, key)
        value = getattr(texts, name)
        for text in (value if one.listed else (value,)) if value else ():
            cut = text.encode()[: longest.get(name, 32)].decode(errors="ignore")
            datum = exiv2.Iptcdatum(exiv2.IptcKey(key))
            datum.setValue(cut)
            iptc.add(datum)
    for datum in iptc:
        # The others are to be UTF-8, too, now that it is said so.
        if datum.typeId() == exiv2.TypeId.string:
            datum.setValue(_older_text(datum))
    iptc["Iptc.Envelope.CharacterSet"] = _UTF8


def _erase(data: Any, key: str) -> None:
    kind = exiv2.XmpKey if key.startswith("Xmp") else exiv2.IptcKey
    while key in data:
        data.erase(data.findKey(kind(key)))


def _written(image: Any) -> bytes:
    image.writeMetadata()
    with image.io().data() as written:
        return bytes(written)


def _open(data: bytes) -> Any:
    try:
        image = exiv2.ImageFactory.open(data)
        image.readMetadata()
    except (exiv2.Exiv2Error, UnicodeDecodeError, ValueError) as error:
        raise SidecarError(say("it can’t be read ({error})", error=error.args[-1])) from None
    return image


def _open_sidecar(data: bytes) -> Any:
    says = check_well_formed(data)
    image = _open(data)
    if image.imageType() != exiv2.ImageType.xmp:
        raise SidecarError(say("it is not an XMP file"))
    if says and not len(image.xmpData()):
        raise SidecarError(say("its XMP can’t be read"))
    # exiv2 keeps copies of some properties as Exif and IPTC, and would write those back.
    image.clearExifData()
    image.clearIptcData()
    return image


# --- the parts of a JPEG (ISO/IEC 10918-1, Annex B; XMP: ISO 16684-3) -----------------------------

_XMP_MARKER: Final = b"http://ns.adobe.com/xap/1.0/\0"
_IPTC_MARKER: Final = b"Photoshop 3.0\0"


def _parts(jpeg: bytes) -> tuple[list[bytes], bytes]:
    """The segments before the picture's data, and everything from there. Raises SidecarError."""
    segments: list[bytes] = []
    at = 2
    while jpeg[:2] == b"\xff\xd8" and at + 4 <= len(jpeg) and jpeg[at] == 0xFF:
        if jpeg[at + 1] == 0xFF:  # a fill byte
            at += 1
            continue
        if jpeg[at + 1] == 0xDA:
            return segments, jpeg[at:]
        length = int.from_bytes(jpeg[at + 2 : at + 4], "big")
        segments.append(jpeg[at : at + 2 + length])
        at += 2 + length
    raise SidecarError(say("it is not a JPEG that can be read"))


def _packet(jpeg: bytes) -> bytes:
    """A JPEG's XMP, b"" if it has none."""
    start = len(_XMP_MARKER) + 4
    for segment in _parts(jpeg)[0]:
        if segment[1] == 0xE1 and segment[4:start] == _XMP_MARKER:
            return segment[start:].strip(b"\0 \n")
    return b""


def _bare(jpeg: bytes, *, with_iptc: bool) -> tuple[list[bytes], bytes]:
    """A JPEG without its XMP, and its IPTC where that may change; segments in an order of their own."""
    segments, rest = _parts(jpeg)
    kept = [
        segment
        for segment in segments
        if not segment[4:].startswith(_XMP_MARKER)
        and (with_iptc or not segment[4:].startswith(_IPTC_MARKER))
    ]
    return sorted(kept), rest
