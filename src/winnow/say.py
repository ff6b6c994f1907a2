"""What Winnow says, in the person's language.

Sentences stand where they are said, in English; ``make texts`` gathers them in
``texts/en/server.po``. A translation is a folder beside that one. Which is taken is settled once,
when the process starts, by the usual variables (LANGUAGE, LC_ALL, LC_MESSAGES, LANG): constants of
modules are translated, too, and workers say what the server says.
"""

from __future__ import annotations

import gettext
from importlib.resources import files
from string import Formatter
from typing import Any, Final

_TEXTS: Final = gettext.translation("winnow", str(files("winnow") / "texts"), fallback=True)
LANGUAGE: Final = _TEXTS.info().get("language") or "en"  # as HTML names it
# gettext has no numbers: their two signs are texts like all others.
_SIGNS: Final = {ord(sign): _TEXTS.gettext(sign) for sign in ",."}


class _Filler(Formatter):
    """Fills fields as ``str.format`` does, with numbers as the language writes them."""

    def format_field(self, value: Any, format_spec: str) -> str:
        filled: str = super().format_field(value, format_spec)
        return filled.translate(_SIGNS) if isinstance(value, int | float) else filled


_fill: Final = str.format if _SIGNS == {44: ",", 46: "."} else _Filler().format


def say(text: str, **values: object) -> str:
    """A text, translated, with its fields in braces filled.

    Without values braces are left as they are. Of an error of the system its words are taken,
    without its number and its path.
    """
    said = _TEXTS.gettext(text)
    return _fill(said, **_worded(values)) if values else said


def say_of(number: int, one: str, many: str, **values: object) -> str:
    """The same of a number, which is ``n``. Example: ``say_of(2, "{n} frame", "{n} frames")``."""
    return _fill(_TEXTS.ngettext(one, many, number), n=number, **_worded(values))


def _worded(values: dict[str, object]) -> dict[str, object]:
    return {
        name: value.strerror if isinstance(value, OSError) and value.strerror else value
        for name, value in values.items()
    }


def within_sentence(title: str) -> str:
    """A title as it stands within a sentence: small, but where nouns are written large."""
    return title if LANGUAGE == "de" else title.lower()
