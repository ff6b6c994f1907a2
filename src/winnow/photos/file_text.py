"""Texts as they stand in files: decoded and cleaned here, before anything looks at them or stores
them."""

from __future__ import annotations

import calendar
import re
from time import strptime

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


def seconds_of(text: str | None) -> float | None:
    """Seconds since 1970 of a date and a time of day, whatever stands between their parts; None for
    anything else."""
    # XMP may leave the seconds out.
    date, clock = r"(\d{4})[-:/.](\d\d)[-:/.](\d\d)", r"(\d\d)[:.](\d\d)(?:[:.](\d\d))?"
    match = re.match(f"{date}[ T.]{clock}", text or "")
    if not match:
        return None
    try:
        return calendar.timegm(strptime(" ".join(match.groups("00")), "%Y %m %d %H %M %S"))
    except ValueError:
        return None
