"""Whether XML is sound, and an independent reading of a packet: by expat, not by what changes
packets."""

from __future__ import annotations

from typing import Final
from xml.parsers import expat

from winnow.say import say

MAX_SIDECAR_BYTES: Final = 16 * 1024 * 1024
MAX_DEPTH: Final = 64
MAX_ELEMENTS: Final = 200_000
_RDF: Final = "http://www.w3.org/1999/02/22-rdf-syntax-ns#"


class SidecarError(Exception):
    """XMP that can't be read, with the reason in words. It must not be written over."""


class _Refused(Exception):
    pass


def check_well_formed(data: bytes) -> None:
    """Raise SidecarError for XML that is cut off, hostile or too large."""
    if len(data) > MAX_SIDECAR_BYTES:
        raise SidecarError(say("it is larger than 16 MiB"))
    depth = elements = 0

    def start(name: str, attributes: dict[str, str]) -> None:
        nonlocal depth, elements
        depth += 1
        elements += 1
        if depth > MAX_DEPTH:
            raise _Refused(say("it is nested more than {most} deep", most=MAX_DEPTH))
        if elements > MAX_ELEMENTS:
            raise _Refused(say("it has more than 200,000 parts"))

    def end(name: str) -> None:
        nonlocal depth
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


# A property at the top of a packet: its name as "{URI}name", and all that stands in it, as (what,
# said): "start" and "end" of elements, and "text".
Property = tuple[str, tuple[tuple[str, str], ...]]


def properties(data: bytes) -> list[Property]:
    """Every property of a packet in UTF-8, in order: names and attributes by URI, and texts without
    blanks round them."""
    reader = _Reader()
    parser = expat.ParserCreate(namespace_separator="|")
    parser.StartElementHandler = reader.start
    parser.EndElementHandler = reader.end
    parser.CharacterDataHandler = reader.text.append
    parser.Parse(data, True)
    return reader.found


def _named(name: str) -> str:
    uri, _, local = name.rpartition("|")
    return f"{{{uri}}}{local}"


class _Reader:
    """Gathers the properties below each description at the top."""

    def __init__(self) -> None:
        self.found: list[Property] = []
        self.text: list[str] = []
        self._inside: list[tuple[str, str]] = []
        # How deep an element lies below the first RDF; None outside of it.
        self._level: int | None = None
        self._path: list[str] = []

    def start(self, name: str, attributes: dict[str, str]) -> None:
        """An element begins."""
        self._flush()
        self._path.append(_named(name))
        if self._level is None:
            self._level = 0 if name == f"{_RDF}|RDF" else None
            return
        self._level += 1
        said = sorted((_named(key), value) for key, value in attributes.items())
        if self._level == 1:  # a description: its attributes are properties
            self.found += [(key, (("text", value.strip()),)) for key, value in said]
        else:
            self._inside.append(("start", f"{_named(name)} {said}"))

    def end(self, name: str) -> None:
        """An element ends."""
        self._flush()
        path = self._path.pop()
        if self._level is None:
            return
        if self._level > 1:
            self._inside.append(("end", ""))
        if self._level == 2:
            self.found.append((path, tuple(self._inside)))
            self._inside.clear()
        self._level = self._level - 1 if self._level else None

    def _flush(self) -> None:
        joined = "".join(self.text).strip()
        if joined and self._level is not None and self._level > 1:
            self._inside.append(("text", joined))
        self.text.clear()
