"""How well faces, eyes and the signs of a face agree with what is true of the demo."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np
from numpy.typing import NDArray

from winnow.core.measure import expression, faces
from winnow.core.measure.faces import Face
from winnow.core.people import told_apart
from winnow.demo.measured import Measured
from winnow.demo.scores import b_cubed_f1

Shares = tuple[float, float, float, float]


def of_faces(
    true: list[dict[str, Any]], measured: list[Measured]
) -> tuple[float, float, float, float]:
    """Precision and recall of faces; then of closed eyes."""
    there = right = named = closed_there = closed_right = closed_named = 0
    for frame, measured_frame in zip(true, measured, strict=True):
        if frame["damaged"]:
            continue
        named += len(measured_frame.faces)
        left = list(measured_frame.faces)
        for person in frame["faces"]:
            there += 1
            face = _found_face(person["box"], left, measured_frame)
            if face is None:
                continue
            left.remove(face)
            right += 1
            says = faces.are_closed(face, faces.CLOSED_BELOW)
            if person["eyes"] == "half" or says is None:
                continue
            closed_there += person["eyes"] == "closed"
            closed_named += says
            closed_right += says and person["eyes"] == "closed"
    return (
        right / named, right / there, closed_right / closed_named, closed_right / closed_there,
    )  # fmt: skip


def of_signs(
    true: list[dict[str, Any]], measured: list[Measured]
) -> tuple[float, float, float, float]:
    """Precision and recall of faces that look past the camera; then of mouths open in speech.

    Where nothing is said of a face that does so, that counts as missed.
    """
    away: list[tuple[bool, bool]] = []
    speech: list[tuple[bool, bool]] = []
    for _, person, _, face in _matched(true, measured):
        aside = expression.looks_aside(face, faces.CLOSED_BELOW) or 0
        gap = expression.mouth_gap(face) or 0
        away.append((person["looking"] == "past", aside >= expression.AWAY_FROM))
        speech.append((person["mouth"] == "open", gap >= expression.OPEN_FROM))
    return *_shares(away), *_shares(speech)


def of_heads(true: list[dict[str, Any]], measured: list[Measured]) -> tuple[float, float, float]:
    """By how many degrees the turn of heads is off, the median; then precision and recall of those
    that are called turned to the side."""
    off: list[float] = []
    said: list[tuple[bool, bool]] = []
    for _, person, _, face in _matched(true, measured):
        off.append(abs(face.turned - person["turned"]))
        really = abs(person["turned"]) >= expression.TURNED_FROM
        said.append((really, expression.is_turned(face)))
    return float(np.median(off)), *_shares(said)


def of_people(true: list[dict[str, Any]], measured: list[Measured]) -> tuple[float, float]:
    """B-cubed F1 of the people that faces are told to be, and the share of faces of which that is
    told at all; faces of the damaged frame are left out."""
    names: list[str] = []
    numbers: list[NDArray[np.float32]] = []
    frames: list[int] = []
    for n, person, at, _ in _matched(true, measured):
        names.append(person["person"])
        numbers.append(measured[n].numbers[at])
        frames.append(n)
    people_of = told_apart(np.array(numbers), frames, [None] * len(names))
    told = [n for n, number in enumerate(people_of) if number is not None]
    ours = np.array([people_of[n] for n in told])
    return b_cubed_f1(ours, np.array([names[n] for n in told])), len(told) / max(1, len(names))


def _matched(
    true: list[dict[str, Any]], measured: list[Measured]
) -> Iterator[tuple[int, dict[str, Any], int, Face]]:
    """Each true face that is found: its frame's place, what is true of it, its place among those
    found, and what is found of it; the damaged frame is left out."""
    for n, (frame, measured_frame) in enumerate(zip(true, measured, strict=True)):
        left = list(measured_frame.faces)
        for person in () if frame["damaged"] else frame["faces"]:
            face = _found_face(person["box"], left, measured_frame)
            if face is not None:
                left.remove(face)
                at = next(k for k, found in enumerate(measured_frame.faces) if found is face)
                yield n, person, at, face


def _shares(said: list[tuple[bool, bool]]) -> tuple[float, float]:
    """Precision and recall of what is said (second) against what is true (first); 1 where there is
    nothing to be wrong in."""
    right = sum(true and says for true, says in said)
    named, there = sum(says for _, says in said), sum(true for true, _ in said)
    return right / named if named else 1.0, right / there if there else 1.0


def _found_face(box: list[float], listed: list[Face], measured: Measured) -> Face | None:
    """The found face whose middle is within half a face of the true one's."""
    middle, size = ((box[0] + box[2]) / 2, (box[1] + box[3]) / 2), box[3] - box[1]

    def away(face: Face) -> float:
        x, y = face.middle
        return float(np.hypot(x * measured.width - middle[0], y * measured.height - middle[1]))

    nearest = min(listed, key=away, default=None)
    return nearest if nearest is not None and away(nearest) < size / 2 else None
