"""XMP packets (ISO 16684-1) as XML: what one states, and the same packet stating something else.

Everything is found by the namespace's URI, never by its prefix, and namespaces are the packet's
own: nothing that was read before has a part in what is written. What is not to be changed stays as
it is, with its prefixes.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from typing import Any, Final

from lxml import etree

from winnow.core.files.merge import Stated
from winnow.core.files.profiles import FileMark
from winnow.core.files.texts import FIELDS, cleaned, made
from winnow.photos.file_text import of_file
from winnow.photos.xmp_check import SidecarError, check_well_formed
from winnow.say import say

X: Final = "adobe:ns:meta/"
RDF: Final = "http://www.w3.org/1999/02/22-rdf-syntax-ns#"
_XML_LANG: Final = "{http://www.w3.org/XML/1998/namespace}lang"
_SPACES: Final = {
    "xmp": "http://ns.adobe.com/xap/1.0/",
    "xmpDM": "http://ns.adobe.com/xmp/1.0/DynamicMedia/",
    "dc": "http://purl.org/dc/elements/1.1/",
    "photoshop": "http://ns.adobe.com/photoshop/1.0/",
    "Iptc4xmpCore": "http://iptc.org/std/Iptc4xmpCore/1.0/xmlns/",
    "xmpNote": "http://ns.adobe.com/xmp/note/",
    "tiff": "http://ns.adobe.com/tiff/1.0/",
    "exif": "http://ns.adobe.com/exif/1.0/",
    "exifEX": "http://cipa.jp/exif/1.0/",
    "aux": "http://ns.adobe.com/exif/1.0/aux/",
}
_CONTAINERS: Final = tuple(f"{{{RDF}}}{kind}" for kind in ("Alt", "Bag", "Seq"))
_IN_LANGUAGES: Final = {"title", "caption", "rights"}
_ORDERED: Final = {"creators"}


def tag_of(prop: str) -> str:
    """A property by its usual prefix ("xmp:Rating") as it is found in any packet: "{URI}Rating"."""
    prefix, _, name = prop.partition(":")
    return f"{{{_SPACES[prefix]}}}{name}"


_MARKS: Final = {
    "rating": tag_of("xmp:Rating"),
    "label": tag_of("xmp:Label"),
    "good": tag_of("xmpDM:good"),
}
_TEXTS: Final = {name: tag_of(field.prop) for name, field in FIELDS.items()}
# Every property that Winnow reads and writes, by what it says of a frame.
PROPERTIES: Final = {**_MARKS, **_TEXTS}
# Keywords with their levels, as "Coast|Quay|Lantern", under whatever namespace a program keeps
# them.
LEVELS: Final = "hierarchicalSubject"
EXTENDED: Final = tag_of("xmpNote:HasExtendedXMP")

_EMPTY: Final = (
    '<?xpacket begin="\ufeff" id="W5M0MpCehiHzreSzNTczkc9d"?>\n'
    f'<x:xmpmeta xmlns:x="{X}"><rdf:RDF xmlns:rdf="{RDF}"/></x:xmpmeta>\n'
    '<?xpacket end="w"?>'
).encode()


class Packet:
    """A packet that can be changed; a new one without data.

    Raises SidecarError for one that can't be read.
    """

    def __init__(self, data: bytes | None = None) -> None:
        raw = _EMPTY if data is None else as_utf8(data)
        self._new_one = data is None
        check_well_formed(raw)
        parser = etree.XMLParser(
            resolve_entities=False, no_network=True, load_dtd=False, strip_cdata=False
        )
        try:
            root = etree.fromstring(raw, parser)
        except etree.XMLSyntaxError as error:
            raise SidecarError(
                say("it is not well-formed XML ({error})", error=error.msg)
            ) from None
        self._tree = root.getroottree()
        if root.tag == f"{{{RDF}}}RDF":
            self._rdf = root
        elif (rdf := root.find(f"{{{RDF}}}RDF")) is not None:
            self._rdf = rdf
        elif root.tag in (f"{{{X}}}xmpmeta", f"{{{X}}}xapmeta"):
            self._rdf = etree.SubElement(root, f"{{{RDF}}}RDF", nsmap={"rdf": RDF})
        else:
            raise SidecarError(say("it is not an XMP file"))

    def stated(self) -> Stated:
        """What the packet states of a frame."""
        said = self.said(PROPERTIES)
        texts = {
            name: tuple(said.get(name, ())) if field.listed else next(iter(said.get(name, ())), "")
            for name, field in FIELDS.items()
        }
        rating, label, good = (next(iter(said.get(name, ())), "") or None for name in _MARKS)
        return Stated(
            FileMark(
                rating=rating_of(rating),
                label=label,
                good=None if good is None else good.lower() in ("true", "1"),
            ),
            cleaned(made(texts)),
        )

    def said(self, properties: Mapping[str, str]) -> dict[str, list[str]]:
        """The texts of these properties, given by tag; those that are not there are left out."""
        first: dict[str, Any] = {}
        for description in self._descriptions():
            for tag, value in description.attrib.items():
                first.setdefault(tag, value)
            for child in description:
                first.setdefault(child.tag, child)
        return {name: _entries(first[tag]) for name, tag in properties.items() if tag in first}

    def within(self, tag: str) -> str | None:
        """The text of the first property of this tag, also where it is a part of another one."""
        for element in self._rdf.iter(etree.Element):
            if element.tag == tag:
                return _text_of(element)
            if (value := element.get(tag)) is not None:
                return of_file(value)
        return None

    def put(self, wanted: Stated) -> None:
        """Bring it in line, touching only what differs.

        What is wanted empty is taken out; a text's other languages stay, and so does what is said
        of an entry that stays.
        """
        present = self.stated()
        for name, tag in _MARKS.items():
            value = getattr(wanted.mark, name)
            if value != getattr(present.mark, name):
                self._put_text(tag, None if value is None else str(value))
        for name, field in FIELDS.items():
            value = getattr(wanted.texts, name)
            if value == getattr(present.texts, name):
                continue
            if field.listed:
                self._put_list(_TEXTS[name], value, "Seq" if name in _ORDERED else "Bag")
            elif name in _IN_LANGUAGES:
                self._put_in_languages(_TEXTS[name], value)
            else:
                self._put_text(_TEXTS[name], value or None)
        self._take_out_levels(set(present.texts.keywords) - set(wanted.texts.keywords))

    def written(self) -> bytes:
        """The packet as UTF-8; a new one on lines of its own."""
        if self._new_one:
            etree.indent(self._tree)
        data: bytes = etree.tostring(self._tree, encoding="utf-8", xml_declaration=False)
        return data

    @classmethod
    def second_part(cls) -> Packet:
        """An empty second part of a packet: it has no wrapper (ISO 16684-3)."""
        return cls(f'<x:xmpmeta xmlns:x="{X}"><rdf:RDF xmlns:rdf="{RDF}"/></x:xmpmeta>'.encode())

    def move_rest(self, other: Packet) -> None:
        """Move what Winnow has no part in to another packet."""
        ours = set(PROPERTIES.values())
        for description in self._descriptions():
            for element in list(description):
                if isinstance(element.tag, str) and element.tag not in ours:
                    other._holder().append(element)

    def extended(self) -> str:
        """The name of the second part of a packet that is too long for one (ISO 16684-3); ""
        without one."""
        for description in self._descriptions():
            element = description.find(EXTENDED)
            if (
                named := description.get(EXTENDED) if element is None else _text_of(element)
            ) is not None:
                return str(named)
        return ""

    def put_extended(self, name: str) -> None:
        """Name the second part of the packet."""
        self._put_text(EXTENDED, name or None)

    # --- where properties are: attributes or elements of any description at the top ------------

    def _descriptions(self) -> Iterator[Any]:
        return iter(self._rdf.iterchildren(f"{{{RDF}}}Description"))

    def _elements(self, tag: str) -> list[Any]:
        return [
            element
            for description in self._descriptions()
            for element in description.iterchildren(tag)
        ]

    def _take_out(self, tag: str) -> None:
        for description in self._descriptions():
            description.attrib.pop(tag, None)
        for element in self._elements(tag):
            _remove(element)

    def _put_text(self, tag: str, value: str | None) -> None:
        holder = next(
            (description for description in self._descriptions() if tag in description.attrib), None
        )
        if value is None or holder is None:
            element = self._kept(tag) if value is not None else None
            if element is None:
                self._take_out(tag)
            if value is not None:
                _fill(element if element is not None else self._new(tag), value)
            return
        self._take_out(tag)
        holder.attrib[tag] = value

    def _put_list(self, tag: str, values: tuple[str, ...], kind: str) -> None:
        element = self._kept(tag) if values else None
        if element is None:
            self._take_out(tag)
        if not values:
            return
        container = _container(element) if element is not None else None
        if container is None:
            self._take_out(tag)
            container = etree.SubElement(self._new(tag), f"{{{RDF}}}{kind}")
        there: dict[str, list[Any]] = {}
        for entry in container.iterchildren(f"{{{RDF}}}li"):
            there.setdefault(_text_of(entry), []).append(entry)
        for entry in list(container.iterchildren(f"{{{RDF}}}li")):
            _remove(entry)
        for value in values:
            known = there.get(value)
            if known:
                container.append(known.pop(0))
            else:
                etree.SubElement(container, f"{{{RDF}}}li").text = value

    def _put_in_languages(self, tag: str, value: str) -> None:
        element = self._kept(tag) if value else None
        container = _container(element) if element is not None else None
        if container is None:
            self._take_out(tag)
            if not value:
                return
            container = etree.SubElement(self._new(tag), f"{{{RDF}}}Alt")
        usual = next(
            (
                entry
                for entry in container.iterchildren(f"{{{RDF}}}li")
                if entry.get(_XML_LANG, "x-default").lower() == "x-default"
            ),
            None,
        )
        if usual is None:
            usual = etree.Element(f"{{{RDF}}}li")
            usual.set(_XML_LANG, "x-default")
            container.insert(0, usual)
        _fill(usual, value)

    def _kept(self, tag: str) -> Any | None:
        """The first element of a property, alone; None where there is none, or it is an
        attribute."""
        elements = self._elements(tag)
        if not elements or any(tag in description.attrib for description in self._descriptions()):
            return None
        for more in elements[1:]:
            _remove(more)
        return elements[0]

    def _new(self, tag: str) -> Any:
        uri = etree.QName(tag).namespace
        prefix = next(known for known, space in _SPACES.items() if space == uri)
        return etree.SubElement(self._holder(), tag, nsmap={prefix: uri})

    def _holder(self) -> Any:
        """The first description, which is made where there is none."""
        holder = next(self._descriptions(), None)
        if holder is None:
            usual = {prefix: uri for prefix, uri in _SPACES.items() if prefix != "xmpNote"}
            holder = etree.SubElement(self._rdf, f"{{{RDF}}}Description", nsmap=usual)
            holder.set(f"{{{RDF}}}about", "")
        return holder

    def _take_out_levels(self, words: set[str]) -> None:
        """A keyword that is gone is gone where it is the last of several levels, too."""
        for description in self._descriptions() if words else ():
            for element in description.iterchildren("{*}" + LEVELS):
                container = _container(element)
                for entry in list(container) if container is not None else ():
                    if _text_of(entry).rpartition("|")[2].strip() in words:
                        _remove(entry)


def rating_of(text: str | None) -> int | None:
    """A rating in −1…5; None for one that is missing or outside the standard's range."""
    try:
        number = float(text) if text else None
    except ValueError:
        return None
    return int(number) if number is not None and number in range(-1, 6) else None


def as_utf8(data: bytes) -> bytes:
    """A packet without the padding round it; one in UTF-16, with or without a byte order mark, as
    UTF-8."""
    head = data.lstrip(b" \t\r\n")[:4]
    for start, encoding in ((b"\xff\xfe", "utf-16"), (b"\xfe\xff", "utf-16"),
                            (b"<\0", "utf-16-le"), (b"\0<", "utf-16-be")):  # fmt: skip
        if head.startswith(start):
            try:
                text = data.decode(encoding).lstrip("\ufeff")
            except UnicodeDecodeError as error:
                raise SidecarError(
                    say("it is not well-formed XML ({error})", error=error.reason)
                ) from None
            data = re.sub(r"^\s*<\?xml\s[^>]*\?>", "", text).encode()
            break
    return data.strip(b"\0 \t\r\n")


def _container(element: Any) -> Any | None:
    return next(element.iterchildren(*_CONTAINERS), None)


def _entries(said: Any) -> list[str]:
    """All texts of a property, however it is written: as an attribute, alone, in a list, or in
    several languages with the default one first."""
    if isinstance(said, str):
        return [of_file(said)]
    container = _container(said)
    if container is None:
        return [_text_of(said)]
    entries = list(container.iterchildren(f"{{{RDF}}}li"))
    entries.sort(key=lambda entry: entry.get(_XML_LANG, "").lower() != "x-default")
    return [_text_of(entry) for entry in entries]


def _text_of(element: Any) -> str:
    """The text of a property or an entry; with qualifiers, which may be said in three ways, its
    value."""
    if not len(element) and not element.attrib:
        return of_file(element.text or "")
    for path in (f"{{{RDF}}}value", f"{{{RDF}}}Description/{{{RDF}}}value"):
        if (value := element.find(path)) is not None:
            return _text_of(value)
    for within in (element, element.find(f"{{{RDF}}}Description")):
        if within is not None and (value := within.get(f"{{{RDF}}}value")) is not None:
            return of_file(value)
    if (link := element.get(f"{{{RDF}}}resource")) is not None:
        return of_file(link)
    return of_file((element.text or "") + "".join(child.tail or "" for child in element))


def _fill(element: Any, value: str) -> None:
    """Give an element this text; what qualifies it stays."""
    for path in (f"{{{RDF}}}value", f"{{{RDF}}}Description/{{{RDF}}}value"):
        if (held := element.find(path)) is not None:
            _fill(held, value)
            return
    for within in (element, element.find(f"{{{RDF}}}Description")):
        if within is not None and within.get(f"{{{RDF}}}value") is not None:
            within.set(f"{{{RDF}}}value", value)
            return
    element.attrib.pop(f"{{{RDF}}}resource", None)
    for child in list(element):
        element.remove(child)
    element.text = value


def _remove(element: Any) -> None:
    """Take an element out, not the blanks behind it."""
    parent, before = element.getparent(), element.getprevious()
    if element.tail and element.tail.strip():
        if before is not None:
            before.tail = (before.tail or "") + element.tail
        else:
            parent.text = (parent.text or "") + element.tail
    parent.remove(element)
