"""Replaced: another picture under the name of one that was marked.

A file that an editor wrote again shows the same picture, or was taken at the same time. Where names
were shifted, or a file took another's place, and no content tells where the old one went, the
person decides what the mark is worth.
"""

from __future__ import annotations

from collections.abc import Sequence

from winnow.core.measure import likeness
from winnow.core.verdict.hints.kind import Kind, Limit, Looked, Noticed, Shoot
from winnow.say import say

KIND = Kind(
    "replaced",
    say("Another picture"),
    say(
        "Another picture has the name of one that you marked. The mark was made for that one: "
        "mark it anew, or as it is."
    ),
    figure=say("different from the picture before (0: the same)"),
    limit=Limit(2, between=(0.5, 50)),
)


def notice(group: Sequence[Looked], shoot: Shoot) -> list[Noticed]:
    """Of frames whose picture was another one when they were marked."""
    noticed = []
    for frame in group:
        if frame.before is None or frame.signature is None:
            continue
        taken_at, signature = frame.before
        if taken_at is not None and taken_at == frame.taken_at:
            continue  # the same exposure, however it was edited
        if len(signature) != len(frame.signature):
            continue  # of another version: they can't be compared
        table = likeness.as_table([frame.signature, signature])
        away = 100 * float(likeness.distances(table[:1], table[1:])[0])
        words = say(
            "another picture had this name when it was marked ({away:.0f} of 100 away)", away=away
        )
        noticed.append(Noticed(frame.id, away, words))
    return noticed
