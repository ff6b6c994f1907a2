"""Waiting that a machine which stands still for a while does not end."""

from __future__ import annotations

import time
from collections.abc import Iterator

# A machine that is put to sleep for minutes comes back with all clocks gone on: one look counts for
# no longer than this.
_MOST_A_LOOK_S = 30.0


def patiently(seconds: float) -> Iterator[None]:
    """One round for each look, until so many seconds were waited."""
    waited, before = 0.0, time.monotonic()
    while waited < seconds:
        yield
        now = time.monotonic()
        waited += min(now - before, _MOST_A_LOOK_S)
        before = now
