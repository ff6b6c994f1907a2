"""File names for copies: no name may leave its folder, and none may clash."""

from __future__ import annotations

import unicodedata
from collections.abc import Iterable

from winnow.core.frames import split_name


def clash_key(name: str) -> str:
    """What two names share when some file system would take them for the same.

    Case and Unicode form are folded: many file systems keep "É.jpg" once only, whether it is
    written as one character or as two, large or small.
    """
    # guard: names that differ by case; names that differ by Unicode form
    return unicodedata.normalize("NFC", unicodedata.normalize("NFC", name).casefold())


def free_names(wanted: Iterable[tuple[str, ...]], taken: Iterable[str]) -> list[tuple[str, ...]]:
    """Give each set of files names that nobody has yet.

    The files of one frame (raw, JPEG, sidecar) keep a common stem: when one of them clashes, all
    get the same number, as in ("a-2.dng", "a-2.jpg"). ``taken`` are the names already there.
    """
    used = {clash_key(name) for name in taken}
    result = []
    for names in wanted:
        number = 1
        candidate = names
        while any(clash_key(name) in used for name in candidate):
            number += 1
            candidate = tuple(_numbered(name, names, number) for name in names)
        used.update(clash_key(name) for name in candidate)
        result.append(candidate)
    return result


def _numbered(name: str, together: tuple[str, ...], number: int) -> str:
    """Put a number behind the stem; "a.jpg.xmp" beside "a.jpg" becomes "a-2.jpg.xmp"."""
    for other in together:
        if other != name and name.startswith(other + "."):
            return _numbered(other, (), number) + name[len(other) :]
    stem, ending = split_name(name)
    return f"{stem}-{number}{name[len(stem) :]}" if ending else f"{name}-{number}"
