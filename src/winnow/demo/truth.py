"""What is true of each frame of the demo, known because it was made that way.

``python -m winnow.demo.truth`` prints it as JSON. Tests and measurements compare with it; Winnow
itself never reads it.
"""

from __future__ import annotations

import json
from typing import Any

import numpy as np

from winnow.demo import develop, evening, masters, optics, shoot
from winnow.demo.evening import Frame, Group, Stand, Take


def of_frame(frame: Frame) -> dict[str, Any]:
    """All about one frame. Lengths in px of the upright picture, distances in metres, angles in
    degrees from the x axis; ``blur_px``: diameter of the circle of confusion at the subject."""
    group = evening.groups()[frame.group]
    take = group.takes[frame.number]
    people = [_person(group, take, i, stand) for i, stand in enumerate(group.people)]
    subject = people[0]["between_eyes"] if people else _round(develop.subject(group, take))
    return {
        "name": frame.name,
        "files": shoot.files_of(frame),
        "damaged": frame.name == shoot.DAMAGED,
        "group": frame.group,
        "scene": group.scene,
        "camera": group.camera.name,
        "clock_ahead_s": group.camera.ahead_s,
        "upright": group.upright,
        "focus_m": round(develop.focus_m(group, take), 2),
        "subject_m": round(develop.subject_m(group), 2),
        "subject": subject,
        "blur_px": round(_blur(group, take), 1),
        "shake_px": take.shake[0],
        "shake_deg": take.shake[1],
        "motion_px": take.motion[0],
        "motion_deg": take.motion[1],
        "ev": take.ev,
        "flash": take.flash,
        "faces": people,
    }


def _blur(group: Group, take: Take) -> float:
    diameter = optics.blur_px(
        develop.lens_px(group), develop.focus_m(group, take), develop.subject_m(group)
    )
    return diameter * take.framing.zoom * develop.SCALE


def _person(group: Group, take: Take, index: int, stand: Stand) -> dict[str, Any]:
    known = masters.facts()[stand.person]
    matrix = develop.person_matrix(group, take, index)
    left, top, right, bottom = known["face"]
    corners = matrix @ np.array(
        [[left, right, right, left], [top, top, bottom, bottom], [1, 1, 1, 1]]
    )
    look = take.looks[index] if index < len(take.looks) else ""
    eyes = [_round(matrix @ [x, y, 1]) for x, y in known["eyes"]]
    return {
        "person": stand.person.removesuffix("_turned"),
        "box": [*_round(corners.min(1)), *_round(corners.max(1))],
        "eyes": look if look in ("half", "closed") else "open",
        "looking": "past" if look == "past" else "at",
        "mouth": "open" if look == "talking" else "closed",
        "turned": known["yaw"],
        "eye_points": eyes,
        "between_eyes": _round(np.mean(eyes, 0)),
    }


def _round(point: Any) -> list[float]:
    return [round(float(c), 1) for c in point[:2]]


def all_frames() -> list[dict[str, Any]]:
    """What is true of each frame, in the order in which they were shot."""
    return [of_frame(frame) for frame in evening.frames()]


if __name__ == "__main__":
    print("[\n" + ",\n".join(json.dumps(frame) for frame in all_frames()) + "\n]")
