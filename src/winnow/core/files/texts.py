"""What is written about a frame: title, caption, keywords, creators, rights and place, as in IPTC
Core.

Names and meanings: IPTC Photo Metadata Standard, IPTC Core schema.
"""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, fields, replace
from typing import Any, Final

from winnow.core.counts import counted
from winnow.say import say, within_sentence


@dataclass(frozen=True, slots=True)
class Texts:
    """Everything that is written about one frame; "" and () where nothing is."""

    title: str = ""
    caption: str = ""
    keywords: tuple[str, ...] = ()
    creators: tuple[str, ...] = ()
    rights: str = ""
    location: str = ""
    city: str = ""
    state: str = ""
    country: str = ""
    instructions: str = ""


@dataclass(frozen=True, slots=True)
class Named:
    """A field's name on screen, its name in IPTC Core and its XMP property."""

    words: str
    iptc: str
    prop: str
    listed: bool = False


FIELDS: Final[dict[str, Named]] = {
    "title": Named(say("Title"), "Title", "dc:title"),
    "caption": Named(say("Caption"), "Description", "dc:description"),
    "keywords": Named(say("Keywords"), "Keywords", "dc:subject", listed=True),
    "creators": Named(say("Creator"), "Creator", "dc:creator", listed=True),
    "rights": Named(say("Copyright"), "Copyright Notice", "dc:rights"),
    "location": Named(say("Place"), "Sublocation", "Iptc4xmpCore:Location"),
    "city": Named(say("City"), "City", "photoshop:City"),
    "state": Named(say("State"), "Province or State", "photoshop:State"),
    "country": Named(say("Country"), "Country", "photoshop:Country"),
    "instructions": Named(say("Instructions"), "Instructions", "photoshop:Instructions"),
}
assert list(FIELDS) == [field.name for field in fields(Texts)]
NO_TEXTS: Final = Texts()
LONGEST: Final = 20_000  # characters of one text
LONGEST_ENTRY: Final = 300  # of one keyword or creator
MOST_ENTRIES: Final = 500

# What XML 1.0 can't hold (production 2) or discourages, and halves of characters.
_UNLAWFUL: Final = re.compile("[\x00-\x08\x0b-\x1f\x7f-\x9f\ud800-\udfff\ufffe\uffff]")


def clean(text: str) -> str:
    """A text as it is kept: without what no XML can hold, or blanks around it."""
    return _UNLAWFUL.sub("", text.replace("\r\n", "\n").replace("\r", "\n")).strip()[:LONGEST]


def clean_entries(entries: Iterable[str]) -> tuple[str, ...]:
    """Keywords or creators as they are kept: each once, on one line, in their order."""
    distinct: dict[str, None] = {}
    for entry in entries:
        word = re.sub(r"\s+", " ", clean(entry))[:LONGEST_ENTRY].strip()
        if word:
            distinct[word] = None
    return tuple(distinct)[:MOST_ENTRIES]


def made(values: Mapping[str, Any]) -> Texts:
    """Texts from values by field; the others are empty."""
    return Texts(**values)


def cleaned(texts: Texts) -> Texts:
    """All of them as they are kept."""
    return made(
        {
            name: clean_entries(getattr(texts, name))
            if field.listed
            else clean(getattr(texts, name))
            for name, field in FIELDS.items()
        }
    )


def fold(text: str) -> str:
    """What texts that a person takes for the same share: no case, no accents (Unicode NFKD)."""
    if text.isascii():
        return text.lower()
    parts = unicodedata.normalize("NFKD", text.casefold())
    bare = "".join(c for c in parts if not unicodedata.combining(c))
    return unicodedata.normalize("NFKC", bare).casefold()


@dataclass(frozen=True, slots=True)
class TextEdit:
    """What to change: fields to set, and keywords to add to each frame's own or to take away."""

    put: Mapping[str, str | tuple[str, ...]] = field(default_factory=dict)
    add: tuple[str, ...] = ()
    remove: tuple[str, ...] = ()

    def applied_to(self, texts: Texts) -> Texts:
        """Return the texts with this edit made, cleaned."""
        after = replace(texts, **self.put)  # type: ignore[arg-type]
        gone = {fold(word) for word in self.remove}
        kept = [word for word in after.keywords if fold(word) not in gone]
        known = {fold(word) for word in kept}
        new = [word for word in self.add if fold(word) not in known]
        return cleaned(replace(after, keywords=(*kept, *new)))


@dataclass(frozen=True, slots=True)
class TextStep:
    """One frame's texts before and after."""

    frame: int
    before: Texts
    after: Texts


def sentence_for(steps: Sequence[TextStep], names: Mapping[int, str]) -> str:
    """Say what an edit of texts did. Example: "caption and keywords of 12 frames"."""
    touched = [
        within_sentence(FIELDS[name].words)
        for name in FIELDS
        if any(getattr(s.before, name) != getattr(s.after, name) for s in steps)
    ]
    said = say(" and ").join(
        [", ".join(touched[:-1]), touched[-1]] if len(touched) > 1 else touched
    )
    where = names[steps[0].frame] if len(steps) == 1 else counted(len(steps), "frame")
    return say("{said} of {where}", said=said, where=where)


class FillError(ValueError):
    """A text with a field that can't be filled, in words."""


FILLED: Final[dict[str, str]] = {
    "name": say("the file’s name"),
    "date": "2026-10-03",
    "year": "2026",
    "month": "10",
    "day": "03",
    "time": "18:42",
    "shoot": say("the shoot’s name"),
    "camera": say("the camera"),
    "lens": say("the lens"),
    **{
        name: say("this frame’s {field}", field=within_sentence(field.words))
        for name, field in FIELDS.items()
    },
}


def filled(text: str, values: Mapping[str, str]) -> str:
    """A text with its fields in braces replaced; "{{" and "}}" stand for braces. Raises FillError.

    ``values`` has all of ``FILLED``; an unknown one is "".
    """

    def value(match: re.Match[str]) -> str:
        whole, name = match.group(), match.group(1)
        if whole in ("{{", "}}"):
            return whole[0]
        if name is None:
            raise FillError(
                say("A brace stands alone: fields look like {date}, and {{ stands for a brace.")
            )
        if name not in FILLED:
            near = ", ".join(f"{{{placeholder}}}" for placeholder in FILLED)
            raise FillError(
                say("There is no field {{{name}}}. There are {near}.", name=name, near=near)
            )
        return values.get(name, "")

    return re.sub(r"\{\{|\}\}|\{([^{}]*)\}|[{}]", value, text)


def filled_edit(edit: TextEdit, values: Mapping[str, str]) -> TextEdit:
    """An edit with the fields in its texts replaced by one frame's values. Raises FillError."""

    def each(entries: tuple[str, ...]) -> tuple[str, ...]:
        return tuple(filled(entry, values) for entry in entries)

    return TextEdit(
        {
            name: filled(value, values) if isinstance(value, str) else each(value)
            for name, value in edit.put.items()
        },
        each(edit.add),
        edit.remove,
    )


def as_dict(texts: Texts) -> dict[str, Any]:
    """The fields that say something, for JSON."""
    return {name: getattr(texts, name) for name in FIELDS if getattr(texts, name)}


def from_dict(said: Mapping[str, Any]) -> Texts:
    """What ``as_dict`` made; other names are left out."""
    return made(
        {
            name: tuple(said[name]) if field.listed else str(said[name])
            for name, field in FIELDS.items()
            if said.get(name)
        }
    )
