"""Texts as they stand in files: decoded and cleaned here, before anything looks at them or stores
them."""

from __future__ import annotations

from winnow.core.files.texts import clean


def decoded(data: bytes) -> str:
    """Bytes as text: UTF-8, else what older programs wrote without saying so (Windows-1252, common
    practice)."""
    try:
        return data.decode()
    except UnicodeDecodeError:
        return data.decode("cp1252", "replace")


def of_file(text: object) -> str:
    """What a library gave as text: bytes that it could not read become characters; what nobody can
    store goes."""
    raw = str(text)
    try:
        return clean(decoded(raw.encode("utf-8", "surrogateescape")))
    except UnicodeEncodeError:
        # Halves of characters that no file can hold: they are left out.
        return clean(raw)
