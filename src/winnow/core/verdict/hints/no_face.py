"""No face, in a shoot or a group of people: somebody walked through, or turned away."""

from __future__ import annotations

from collections.abc import Sequence

from winnow.core.verdict.hints.kind import Kind, Limit, Looked, Noticed, Shoot
from winnow.say import say

KIND = Kind(
    "no_face",
    say("No face"),
    say(
        "No face is found in it, though the other frames of its group show one; of a frame "
        "that is alone the whole shoot is asked."
    ),
    figure=say("of the other frames show a face"),
    limit=Limit(60, between=(20, 100), unit=" %", decimals=0),
)


def notice(group: Sequence[Looked], shoot: Shoot) -> list[Noticed]:
    """Of each frame without a face."""
    out = []
    for frame in group:
        if frame.faces is None or frame.number_of_faces:
            continue
        others = [other for other in group if other is not frame and other.faces is not None]
        if others:
            shown = sum(other.number_of_faces > 0 for other in others)
            share = shown / len(others)
            words = say(
                "no face found; {shown} of the other {others} of its group show one",
                shown=shown,
                others=len(others),
            )
        else:
            share = shoot.of_people
            words = say("no face found; {share:.0f} % of the shoot show one", share=100 * share)
        if share:
            out.append(Noticed(frame.id, 100 * share, words))
    return out
