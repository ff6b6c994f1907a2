"""Somebody says whose face counts: in the groups that show it, or in the whole shoot."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

from winnow.core.measure.faces import Face, Weight, face_at
from winnow.core.verdict.who_counts import Said, same_person, spread
from winnow.store import face_weights, faces, frame_figures, hints, people
from winnow.store.db import Database

Places = Iterable[tuple[int, float, float]]


class NobodyKnownError(LookupError):
    """In which other frames somebody is, isn't known."""


def say(db: Database, shoot_id: int, places: Places, weight: Weight, *, everywhere: bool) -> int:
    """Say how much the faces at places of frames count, and with them the same person's in all
    frames of these groups, or of the shoot (``everywhere``); returns in how many frames.

    Raises NobodyKnownError where people are not told apart, or the faces are nobody's.
    """
    meant = _of_person(db, shoot_id, places) if everywhere else _in_groups(db, shoot_id, places)
    said = {(frame, Said(*face.middle, weight, everywhere)): face for frame, face in meant.items()}
    _put(db, shoot_id, said)
    return len(said)


def _put(db: Database, shoot_id: int, wanted: Mapping[tuple[int, Said], Face]) -> None:
    """Say this of faces, and no longer what was said of them before."""
    before = face_weights.of_frames(db, {frame for frame, _ in wanted})
    gone = [
        (frame, old)
        for (frame, _), face in wanted.items()
        for old in before.get(frame, ())
        if face_at([face], (old.x, old.y), margin=0) is not None
    ]
    face_weights.put(db, gone, [(frame, said) for frame, said in wanted if said.weight])
    faces.count_again(db, {frame for frame, _ in wanted})
    hints.note_stale(db, shoot_id)


def _in_groups(db: Database, shoot_id: int, places: Places) -> dict[int, Face]:
    """The faces of the same people in the groups of these frames, by frame."""
    out: dict[int, Face] = {}
    for frame, x, y in places:
        if frame in out:
            continue
        members = frame_figures.group_of(db, shoot_id, frame)
        faces_of = faces.of_frames(db, members)
        listed = [faces_of.get(member, []) for member in members]
        n = members.index(frame)
        at = face_at(listed[n], (x, y), margin=0)
        if at is None:
            continue
        for k, number in same_person(listed, frame_figures.ratios_of(db, [frame])[frame], n, at):
            out.setdefault(members[k], listed[k][number])
    return out


def _of_person(db: Database, shoot_id: int, places: Places) -> dict[int, Face]:
    """The faces of the shoot that are those of the people at these places, by frame."""
    known = people.faces(db, shoot_id)
    faces_of = faces.of_frames(db, {face.frame for face in known})
    at = {(face.frame, face.n): face.person for face in known}
    wanted = {
        at.get((frame, n))
        for frame, x, y in places
        if (n := face_at(faces_of.get(frame, []), (x, y), margin=0)) is not None
    } - {None}
    if not wanted:
        raise NobodyKnownError
    return {
        face.frame: faces_of[face.frame][face.n]
        for face in known
        if face.person in wanted and face.n < len(faces_of.get(face.frame, ()))
    }


def spread_in_group(db: Database, frame_ids: Sequence[int]) -> bool:
    """Say it of the same people in frames that came to their group since; returns whether there
    were any."""
    said = face_weights.of_frames(db, frame_ids)
    if not said:
        return False
    faces_of = faces.of_frames(db, frame_ids)
    listed = [faces_of.get(frame, []) for frame in frame_ids]
    by_place = {n: said.get(frame, []) for n, frame in enumerate(frame_ids)}
    ratio = frame_figures.ratios_of(db, frame_ids[:1])[frame_ids[0]]
    new = [(frame_ids[n], saying) for n, saying in spread(listed, ratio, by_place)]
    face_weights.put(db, (), new)
    faces.count_again(db, {frame for frame, _ in new})
    return bool(new)


def spread_in_shoot(db: Database, shoot_id: int) -> None:
    """Say what was said of somebody for the whole shoot of their other faces as well, once more of
    them are known."""
    said = {
        frame: [saying for saying in sayings if saying.everywhere]
        for frame, sayings in face_weights.of_shoot(db, shoot_id).items()
    }
    if not any(said.values()):
        return
    known = people.faces(db, shoot_id)
    faces_of = faces.of_frames(db, {face.frame for face in known})
    at = {(face.frame, face.n): face for face in known}
    weight_of: dict[int, Weight] = {}
    for frame, sayings in said.items():
        for saying in sayings:
            n = face_at(faces_of.get(frame, []), (saying.x, saying.y), margin=0)
            face = None if n is None else at.get((frame, n))
            if face is not None and face.person is not None:
                weight_of[face.person] = saying.weight
    new = {
        (face.frame, Said(*there.middle, weight_of[face.person], True)): there
        for face in known
        if face.person in weight_of and face.n < len(faces_of.get(face.frame, ()))
        for there in [faces_of[face.frame][face.n]]
        if not there.weight
    }
    if new:
        _put(db, shoot_id, new)


def forget(db: Database, shoot_id: int) -> None:
    """Take back what was said for the whole shoot: it tells who is whom."""
    gone = [
        (frame, saying)
        for frame, sayings in face_weights.of_shoot(db, shoot_id).items()
        for saying in sayings
        if saying.everywhere
    ]
    if gone:
        face_weights.put(db, gone, ())
        faces.count_again(db, {frame for frame, _ in gone})
        hints.note_stale(db, shoot_id)
