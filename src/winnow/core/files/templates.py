"""Templates: "{year}/{date} {shoot}" becomes a folder, or a name, that nothing can lead out of."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

from winnow.say import say

# What each field stands for, for the person.
FIELDS: Final[dict[str, str]] = {
    "date": "2026-10-03",
    "year": "2026",
    "month": "10",
    "day": "03",
    "hour": "18",
    "shoot": say("the name you give"),
    "camera": say("the camera’s name"),
    "folder": say("the folder on the card"),
}
DEFAULT: Final = "{date} {shoot}"
_LONGEST_PART: Final = 120  # bytes; file systems take 255
_UNLAWFUL: Final = re.compile(r'[\x00-\x1f\x7f/\\:*?"<>|]')
# Names that some systems keep for devices, whatever follows a dot.
_DEVICES: Final = re.compile(r"(?i)^(con|prn|aux|nul|com[0-9]|lpt[0-9])(\.|$)")


class TemplateError(Exception):
    """A template that can't be used; ``at`` is the place in it, from 0."""

    def __init__(self, words: str, at: int) -> None:
        super().__init__(words)
        self.at = at


@dataclass(frozen=True, slots=True)
class Field:
    """A field in braces, and at least how many characters wide it is."""

    name: str
    width: int = 0


def parse(template: str, fields: Mapping[str, str] = FIELDS) -> list[list[str | Field]]:
    """A template's folders, each as its texts and fields. Raises TemplateError.

    ``{field:3}`` is at least three characters wide, filled with zeros.
    """
    parts: list[list[str | Field]] = [[]]
    at = 0
    for found in re.finditer(r"\{([^{}/:]*)(?::([1-9]))?\}|([{}])|(/)|([^{}/]+)", template):
        field, width, brace, slash, text = found.groups()
        at = found.start()
        if brace:
            raise TemplateError(say("A brace stands alone: fields look like {date}."), at)
        if slash:
            parts.append([])
        elif text:
            parts[-1].append(text)
        elif field in fields:
            parts[-1].append(Field(field, int(width or 0)))
        else:
            known = ", ".join(f"{{{name}}}" for name in fields)
            raise TemplateError(
                say("There is no field {{{field}}}. There are {known}.", field=field, known=known),
                at,
            )
    parts = [part for part in parts if part]
    if not parts:
        raise TemplateError(say("The template is empty: nothing would be named."), 0)
    return parts


def folder(template: str, values: Mapping[str, str], fields: Mapping[str, str] = FIELDS) -> str:
    """The folder, or file, that a template names, relative, with "/". Raises TemplateError.

    Each part is a lawful name on every common file system; none is "..". An empty value leaves
    nothing behind, not even the space beside it.
    """
    return "/".join(
        safe_name(
            "".join(
                p if isinstance(p, str) else values.get(p.name, "").zfill(p.width) for p in part
            )
        )
        for part in parse(template, fields)
    )


def safe_name(text: str) -> str:
    """A lawful name for one folder or file, as close to the text as can be."""
    # guard: slashes in names from outside
    name = _UNLAWFUL.sub("-", unicodedata.normalize("NFC", text))
    name = re.sub(r"\s+", " ", name).strip(" .")  # guard: names of dots alone
    while len(name.encode("utf-8", "replace")) > _LONGEST_PART:
        name = name[:-1].rstrip(" .")
    if _DEVICES.match(name):
        name = f"_{name}"
    return name or "_"
