"""The faces of compared frames in rows, with what is said of their eyes."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from winnow.core.measure import expression
from winnow.core.measure import faces as core
from winnow.core.measure.faces import Eye
from winnow.core.verdict import open_together
from winnow.core.verdict.best_face import Shown, best, shown_by
from winnow.core.verdict.eye_blur import blurs_of, judged_face
from winnow.core.verdict.hints import Shoot, eyes, groups_of, half_closed, soft_eyes
from winnow.store import faces, frame_figures, hints
from winnow.store.db import Database


@dataclass(frozen=True, slots=True)
class ComparedFace:
    """A face of one of the frames.

    Whether its eyes are closed, half closed or soft, it looks away, or is in mid-speech, is by the
    thresholds of the shoot; None where that, or whether it smiles, can't be told. ``blur``: see
    ``core.verdict.eye_blur``; ``judged_px``: the same at the face where the frame was judged, None
    at others.
    """

    frame: int
    box: tuple[float, float, float, float]
    eyes: tuple[Eye, Eye]
    turned: float
    gap: float | None
    blur: float | None
    eyes_closed: bool | None
    eyes_soft: bool | None
    eyes_half: bool
    looks_away: bool | None
    mid_speech: bool | None
    smiles: bool | None
    head_turned: bool
    counts: bool
    weight: core.Weight
    judged_px: float | None


@dataclass(frozen=True, slots=True)
class FaceRow:
    """One person's face in each of the frames, None where it isn't seen; ``best``: the places of
    those that no other is better than, empty where that are all."""

    faces: list[ComparedFace | None]
    best: list[int]


@dataclass(frozen=True, slots=True)
class ComparedFaces:
    """Rows of faces, one a person; ``waits``: in some frames faces weren't looked for yet.

    ``together``: where no frame has it, the fewest frames in which everybody's eyes are open at
    least once, by ids.
    """

    rows: list[FaceRow]
    waits: bool
    together: list[int]


def compare(db: Database, shoot_id: int, frame_ids: Sequence[int]) -> ComparedFaces:
    """The faces of some frames of a shoot, matched between them."""
    faces_of = faces.of_frames(db, frame_ids)
    listed = [faces_of.get(frame, []) for frame in frame_ids]
    ratios = frame_figures.ratios_of(db, frame_ids)
    thresholds = hints.thresholds(db, shoot_id)
    closed, soft = eyes.closed_below(thresholds), thresholds[soft_eyes.KIND.name]
    counting = [
        core.counting(those, ratios[frame]) for frame, those in zip(frame_ids, listed, strict=True)
    ]

    named = _half_closed(db, shoot_id, frame_ids, thresholds)
    half = {
        frame: {those[k] for k in named.get(frame, ())}
        for frame, those in zip(frame_ids, counting, strict=True)
    }
    judged = hints.judged_of(db, frame_ids)
    judged_at = [
        judged_face(those, judged.get(frame), ratios[frame])
        for frame, those in zip(frame_ids, listed, strict=True)
    ]
    blurs = [
        blurs_of(those, judged.get(frame), ratios[frame])
        for frame, those in zip(frame_ids, listed, strict=True)
    ]

    def told(n: int, at: int) -> ComparedFace:
        face = listed[n][at]
        blur = blurs[n][at]
        shown = shown_by(face, thresholds, blur)
        return ComparedFace(
            frame=frame_ids[n],
            box=face.box,
            eyes=face.eyes,
            turned=face.turned,
            gap=face.gap,
            blur=blur,
            eyes_closed=shown.closed,
            eyes_soft=None if blur is None else blur >= soft,
            eyes_half=at in half.get(frame_ids[n], ()),
            looks_away=shown.aside,
            mid_speech=shown.speaking,
            smiles=shown.smiles,
            head_turned=expression.is_turned(face),
            counts=at in counting[n],
            weight=face.weight,
            judged_px=blur if at == judged_at[n] else None,
        )

    rows = [
        _row([None if at is None else told(n, at) for n, at in enumerate(row)])
        for row in core.rows(listed, ratios[frame_ids[0]])
    ]
    that_count = [
        [those[at] for at in sorted(counts)] for those, counts in zip(listed, counting, strict=True)
    ]
    together = open_together.of_faces(
        that_count, ratios[frame_ids[0]], closed, _from_best(db, frame_ids)
    )
    return ComparedFaces(
        rows, waits=len(faces_of) < len(frame_ids), together=[frame_ids[n] for n in together]
    )


def _from_best(db: Database, frame_ids: Sequence[int]) -> list[int]:
    """The places of the frames that can be used, as far as that is known, the best first."""
    verdicts = hints.verdicts_of(db, frame_ids)
    known = [verdicts.get(frame) for frame in frame_ids]
    usable = [n for n, verdict in enumerate(known) if verdict is None or verdict.usable]
    return sorted(usable, key=lambda n: verdict.place if (verdict := known[n]) else 1)


def _half_closed(
    db: Database, shoot_id: int, frame_ids: Sequence[int], thresholds: Mapping[str, float]
) -> dict[int, list[int]]:
    """Which of the faces that count in frames are half closed, by what is usual of each person in
    the whole group: as its hint says, however few of the group are compared."""
    shoot = Shoot(thresholds=thresholds)
    return {
        frame: [k for k, share in enumerate(shares) if half_closed.is_half(share, thresholds)]
        for group in groups_of(hints.looked_beside(db, shoot_id, frame_ids))
        for frame, shares in half_closed.shares_of(group, shoot).items()
    }


def _row(row: list[ComparedFace | None]) -> FaceRow:
    shown = [
        Shown(
            face.eyes_closed,
            face.looks_away,
            face.mid_speech,
            face.blur,
            face.eyes_half,
            face.counts,
            face.smiles,
        )
        if face
        else None
        for face in row
    ]
    return FaceRow(row, best(shown))
