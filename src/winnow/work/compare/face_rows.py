"""The faces of compared frames in rows, with what is said of their eyes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from winnow.core.measure import expression
from winnow.core.measure import faces as core
from winnow.core.measure.faces import Eye, Face
from winnow.core.verdict.hints import eyes, gaze, soft_eyes, speech
from winnow.store import faces, frame_figures, hints
from winnow.store.db import Database


@dataclass(frozen=True, slots=True)
class ComparedFace:
    """A face of one of the frames; whether its eyes are closed or soft, it looks away, or is in
    mid-speech, by the thresholds of the shoot; None where that can't be seen."""

    frame: int
    box: tuple[float, float, float, float]
    eyes: tuple[Eye, Eye]
    turned: float
    blur: float | None
    eyes_closed: bool | None
    eyes_soft: bool | None
    looks_away: bool | None
    mid_speech: bool | None
    counts: bool


@dataclass(frozen=True, slots=True)
class ComparedFaces:
    """Rows of faces, one a person; ``waits``: in some frames faces weren't looked for yet."""

    rows: list[list[ComparedFace | None]]
    waits: bool


def compare(db: Database, shoot_id: int, frame_ids: Sequence[int]) -> ComparedFaces:
    """The faces of some frames of a shoot, matched between them."""
    found = faces.of_frames(db, frame_ids)
    listed = [found.get(frame, []) for frame in frame_ids]
    ratios = ratios_of(db, frame_ids)
    thresholds = hints.thresholds(db, shoot_id)
    closed, soft = eyes.closed_below(thresholds), thresholds[soft_eyes.KIND.name]
    away, speaks = thresholds[gaze.KIND.name], thresholds[speech.KIND.name]
    counting = [
        set(core.counting(own, ratios[frame])) for frame, own in zip(frame_ids, listed, strict=True)
    ]

    def told(n: int, at: int) -> ComparedFace:
        face = listed[n][at]
        aside, gap = expression.looks_aside(face, closed), expression.mouth_gap(face)
        return ComparedFace(
            frame=frame_ids[n],
            box=face.box,
            eyes=face.eyes,
            turned=face.turned,
            blur=face.blur,
            eyes_closed=core.are_closed(face, closed),
            eyes_soft=None if face.blur is None else face.blur >= soft,
            looks_away=None if aside is None else 100 * aside >= away,
            mid_speech=None if gap is None else 100 * gap >= speaks,
            counts=at in counting[n],
        )

    rows = core.rows(listed, ratios[frame_ids[0]])
    return ComparedFaces(
        [[None if at is None else told(n, at) for n, at in enumerate(row)] for row in rows],
        waits=len(found) < len(frame_ids),
    )


def ratios_of(db: Database, frame_ids: Sequence[int]) -> dict[int, float]:
    """Width by height of frames."""
    known = frame_figures.for_comparing(db, frame_ids)
    return {
        frame: row.width / row.height if row.width and row.height else 1.5
        for frame, row in known.items()
    }


def eyes_of(face_list: Sequence[Face], ratio: float, closed_below: float) -> tuple[int, int]:
    """How many faces that count have eyes that can be seen, and how many of these are closed."""
    return eyes.closed_of([face_list[n] for n in core.counting(face_list, ratio)], closed_below)
