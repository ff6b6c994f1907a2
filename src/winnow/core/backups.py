"""Which backups are kept, by their age."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Final

HOUR_S: Final = 3600.0
DAY_S: Final = 24 * HOUR_S
# Up to this age one is kept in each part of this length; older ones are not kept.
_KEPT: Final = ((6 * HOUR_S, HOUR_S), (7 * DAY_S, DAY_S), (35 * DAY_S, 7 * DAY_S))


def to_keep(made_at: Iterable[float], now: float) -> set[float]:
    """The times of the backups to keep, of those made at these times (s since 1970).

    The newest is always kept, also one from the future, as after a clock was set back.
    """
    times = sorted(made_at, reverse=True)
    kept = set(times[:1])
    taken: set[tuple[float, int]] = set()
    for time in times:
        age = now - time
        if age < 0:
            kept.add(time)
            continue
        part = next((step for step in _KEPT if age <= step[0]), None)
        if part is None:
            continue
        # Counted from 1970, so that a backup keeps its part as it grows older.
        slot = (part[1], int(time // part[1]))
        if slot not in taken:
            taken.add(slot)
            kept.add(time)
    return kept
