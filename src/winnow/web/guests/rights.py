"""What guests may ask: all that is not named here is refused."""

from __future__ import annotations

import re
from collections.abc import Callable, Set
from typing import Final

from winnow.web.guests.sessions import May

_SHOOT: Final = re.compile(r"/api/shoots/(\d{1,16})(/.*)?")
_FRAME: Final = re.compile(r"/api/frames/(\d{1,16})(/.*)?")

# Whatever the shoot: looking, and what it takes to draw the page.
_LOOK: Final = re.compile(
    r"GET /api/(shoots|settings|labels|labels/choices|key-sets|filters|texts/fields|texts/filled"
    r"|sharing)"
    r"|POST /api/filters/written(/edit)?"
)
_LOOK_AT_SHOOT: Final = re.compile(
    r"GET (|/frames|/history|/events|/groups|/alike/\d+|/hints|/hints/[^/]+|/second-look)"
    r"|POST /(find|beside|faces|groups/preview|texts|choices/[^/]+)"
    r"|PUT /looking-at"
)
# Pictures are those that Winnow made, at full size too: originals are nobody else's.
_LOOK_AT_FRAME: Final = re.compile(r"GET (|/thumbnail|/preview|/full|/part|/focus|/hints|/matters)")
_CHANGE: Final[dict[May, re.Pattern[str]]] = {
    "mark": re.compile(r"POST /(marks|marks/groups|hints/apply|undo|redo)"),
    "caption": re.compile(r"POST /(texts/edit|undo|redo)"),
}


def guests_may(
    method: str,
    path: str,
    shoot_id: int,
    may: Set[May],
    shoot_of: Callable[[int], int | None],
) -> bool:
    """Whether a guest of a shoot may ask this.

    ``shoot_of``: the shoot of a frame; None where there is none.
    """
    method = "GET" if method == "HEAD" else method
    if not path.startswith("/api/"):
        return method == "GET"
    if _LOOK.fullmatch(f"{method} {path}"):
        return True
    if match := _SHOOT.fullmatch(path):
        asked = f"{method} {match.group(2) or ''}"
        patterns = [
            _LOOK_AT_SHOOT,
            *(pattern for right, pattern in _CHANGE.items() if right in may),
        ]
        return int(match.group(1)) == shoot_id and any(
            pattern.fullmatch(asked) for pattern in patterns
        )
    if match := _FRAME.fullmatch(path):
        asked = f"{method} {match.group(2) or ''}"
        return bool(_LOOK_AT_FRAME.fullmatch(asked)) and shoot_of(int(match.group(1))) == shoot_id
    return False
