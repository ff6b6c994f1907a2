"""Gathers what the server says in texts/en/server.po, and compiles its translations.

Ends with 1 where that changed a file, which is to be committed with the change that made it.
"""

from __future__ import annotations

import sys
from datetime import UTC, datetime
from io import BytesIO
from pathlib import Path
from typing import Final

from babel.messages.catalog import Catalog
from babel.messages.extract import extract_from_dir
from babel.messages.mofile import write_mo
from babel.messages.pofile import read_po, write_po

ROOT: Final = Path(__file__).parent.parent
SOURCES: Final = ROOT / "src" / "winnow"
_NO_DATE: Final = datetime(2026, 1, 1, tzinfo=UTC)
SAID_BY: Final[dict[str, tuple[int, ...] | None]] = {"say": None, "say_of": (2, 3)}


def gathered() -> Catalog:
    """Every text in a call of ``say`` or ``say_of``, with the modules that say it."""
    found = Catalog(project="Winnow")
    for name, _, message, comments, _ in extract_from_dir(
        SOURCES, method_map=[("**.py", "python")], keywords=SAID_BY
    ):
        found.add(message, locations=[(name, 0)], auto_comments=comments)
    return found


def as_po(catalogue: Catalog) -> bytes:
    """A catalogue as a file, the same for the same texts: without dates and lines."""
    out = BytesIO()
    write_po(out, catalogue, omit_header=True, sort_by_file=True, include_lineno=False, width=0)
    return out.getvalue()


def compiled(path: Path) -> bytes:
    """A translation as gettext reads it."""
    with path.open("rb") as file:
        catalogue = read_po(file, locale=path.parent.name)
    # Made twice it is the same to the byte.
    catalogue.creation_date = catalogue.revision_date = _NO_DATE
    out = BytesIO()
    write_mo(out, catalogue)
    return out.getvalue()


def main() -> int:
    """Gather and compile; returns the exit status."""
    wanted = {ROOT / "texts" / "en" / "server.po": as_po(gathered())}
    for path in sorted(ROOT.glob("texts/*/server.po")):
        if path.parent.name != "en":
            wanted[SOURCES / "texts" / path.parent.name / "LC_MESSAGES" / "winnow.mo"] = compiled(
                path
            )
    changed = 0
    for path, content in wanted.items():
        if not path.exists() or path.read_bytes() != content:
            path.parent.mkdir(parents=True, exist_ok=True)
            path.write_bytes(content)
            print(f"What the server says has changed: {path.relative_to(ROOT)} was made anew.")
            changed = 1
    return changed


if __name__ == "__main__":
    sys.exit(main())
