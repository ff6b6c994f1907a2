"""What goes to a terminal or to the log: names of files and words of strangers may hold codes that
a terminal obeys."""

from __future__ import annotations

import logging
import re
import sys
from typing import Final

_CODES: Final = re.compile(
    "[\x00-\x09\x0b-\x1f\x7f-\x9f\u200e\u200f\u202a-\u202e\u2066-\u2069\ud800-\udfff]"
)


def plain(text: object) -> str:
    """A text without codes: each becomes a sign that shows that something was there."""
    return _CODES.sub("\ufffd", str(text))


def tell(text: object = "", *, wrong: bool = False) -> None:
    """Print a line, at once; ``wrong``: as an error."""
    print(plain(text), file=sys.stderr if wrong else sys.stdout, flush=True)


class PlainFormatter(logging.Formatter):
    """Formats what is logged, without codes. A name with line breaks makes no line of its own."""

    def formatMessage(self, record: logging.LogRecord) -> str:
        """The line of a record, without what was raised."""
        return plain(super().formatMessage(record)).replace("\n", "\ufffd")

    def formatException(self, info: object) -> str:
        """What was raised, line by line."""
        return plain(super().formatException(info))  # type: ignore[arg-type]


def log_to(handler: logging.Handler, name: str = "") -> None:
    """Let a handler have what the logger of this name is told, each with its time."""
    handler.setFormatter(PlainFormatter("%(asctime)s %(message)s"))
    logging.getLogger(name or None).addHandler(handler)
