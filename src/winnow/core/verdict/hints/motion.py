"""Motion: blurred along one direction, by the camera or the subject.

The blur of edges across the motion is compared with that of the same edges in the sharpest frames
of the group, direction by direction (see ``softness.Difference``); alone in its group, a frame is
judged by its spectrum (see ``core.measure.motion``). That hands hold still for one over the focal
length is common practice (of a 35 mm film frame); it is only added as a reason.
"""

from __future__ import annotations

from collections.abc import Sequence

from winnow.core.facts import told
from winnow.core.verdict.hints import elsewhere, soft
from winnow.core.verdict.hints.kind import Kind, Limit, Looked, Noticed, Shoot
from winnow.say import say

KIND = Kind(
    "motion",
    say("Motion"),
    say("Blurred along one direction: the camera or the subject moved."),
    figure=say("moved"),
    limit=Limit(5, between=(2, 40), unit=" px", decimals=0),
)
_LEANS = 0.35


def notice(group: Sequence[Looked], shoot: Shoot) -> list[Noticed]:
    """Of the frames whose blur depends on the direction, and which are not sharp elsewhere
    instead."""
    out = []
    for frame in group:
        judged = frame.judged
        if judged is None or judged.length is None or not judged.length or judged.angle is None:
            continue
        leans = soft.is_soft(judged) and (judged.lean or 0) >= _LEANS
        sure = judged.moved or (leans and not elsewhere.is_elsewhere(judged))
        if judged.of and not sure:
            continue
        words = say(
            "moved about {length:.0f} px {direction}",
            length=judged.length,
            direction=direction_words(judged.angle),
        )
        if frame.shutter_s and frame.focal_mm and frame.shutter_s > 1 / frame.focal_mm:
            words += say(
                "; {shutter} is long for {focal_mm:g} mm by hand",
                shutter=told("shutter", frame.shutter_s),
                focal_mm=frame.focal_mm,
            )
        out.append(Noticed(frame.id, judged.length, words))
    return out


def direction_words(angle: float) -> str:
    """A direction in degrees from the x axis towards y (down) in words: "across", "rising to the
    right" …"""
    turn = angle % 180
    if turn < 22.5 or turn >= 157.5:
        return say("sideways")
    if turn < 67.5:
        return say("falling to the right")
    return say("up and down") if turn < 112.5 else say("rising to the right")
