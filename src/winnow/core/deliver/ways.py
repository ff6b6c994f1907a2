"""The ways to deliver a file, and what each means for the original and for the target."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final, Literal

How = Literal["copy", "move", "link"]


@dataclass(frozen=True, slots=True)
class Way:
    """A way to deliver.

    ``leaves``: the original stays at its place, and what arrives is one more copy or name of it.
    ``room``: which part of the target's disk it takes: a whole file, one only where the original
    lies on another disk, or none.
    """

    name: How
    leaves: bool
    room: Literal["whole", "from another disk", "none"]


_WAYS: tuple[Way, ...] = (
    Way("copy", leaves=True, room="whole"),
    Way("move", leaves=False, room="from another disk"),
    # A hard link: a further name of the same file.
    Way("link", leaves=True, room="none"),
)
WAYS: Final[dict[str, Way]] = {way.name: way for way in _WAYS}
# Those after which the original and what arrived are both there.
LEAVING: Final = tuple(way.name for way in _WAYS if way.leaves)


def leaves(how: str) -> bool:
    """Whether the original stays at its place. Also for what else a delivery makes, such as
    sidecars: that leaves what it is made from."""
    way = WAYS.get(how)
    return way is None or way.leaves
