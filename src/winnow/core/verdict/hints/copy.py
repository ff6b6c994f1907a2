"""Copy: the same content, or the same exposure of the same camera once more.

Exact copies are known by their content hash; others by time, camera and likeness
(``core.likeness``).
"""

from __future__ import annotations

from collections.abc import Sequence

from winnow.core.verdict.hints.kind import Kind, Limit, Looked, Noticed, Shoot
from winnow.say import say

KIND = Kind(
    "copy",
    say("Copy"),
    say("The same exposure is there already, under another name."),
    figure=say("different from the other one (0: the same content)"),
    limit=Limit(3, between=(0, 10), below=True),
)


def notice(group: Sequence[Looked], shoot: Shoot) -> list[Noticed]:
    """Of each frame that is a copy of one before it."""
    return [
        Noticed(frame.id, 100 * shoot.copies[frame.id][0], shoot.copies[frame.id][1])
        for frame in group
        if frame.id in shoot.copies
    ]
