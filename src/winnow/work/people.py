"""Who is in which frame, as people are shown: what each has, and what somebody says of them."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from winnow.core.marks import UNMARKED, Decision, Mark
from winnow.core.measure import faces as core
from winnow.core.measure.faces import Face
from winnow.core.people import maybe_the_same
from winnow.core.verdict import best_face
from winnow.core.verdict.hints import eyes
from winnow.store import faces, frames, hints, marks, people
from winnow.store.db import Database
from winnow.store.people import KeptFace, Saying


@dataclass(frozen=True, slots=True)
class SeenFace:
    """A face of a person in a frame. ``box``: 0…1; ``closed``: None where that can't be seen."""

    frame: int
    box: tuple[float, float, float, float]
    closed: bool | None


@dataclass(frozen=True, slots=True)
class Person:
    """Somebody of the shoot.

    ``faces``: one a frame, in the order of the shoot; ``best``: the place there of the best one so
    far; ``picks``: frames with them that are picked, ``open_picks``: those where their eyes are not
    closed; ``maybe``: numbers of people who may be the same.
    """

    number: int
    faces: list[SeenFace]
    best: int
    picks: list[int]
    open_picks: list[int]
    maybe: list[int]


@dataclass(frozen=True, slots=True)
class People:
    """The people of a shoot, the one seen most first, and the faces that are nobody's."""

    people: list[Person]
    unsure: list[SeenFace]


@dataclass(frozen=True, slots=True)
class _Known:
    listed: Mapping[int, list[Face]]
    mark_of: Mapping[int, Mark]
    unusable: frozenset[int]
    thresholds: Mapping[str, float]

    def seen(self, kept: KeptFace) -> SeenFace | None:
        face = self._face(kept)
        if face is None:
            return None
        closed = core.are_closed(face, eyes.closed_below(self.thresholds))
        return SeenFace(kept.frame, face.box, closed)

    def _face(self, kept: KeptFace) -> Face | None:
        listed = self.listed.get(kept.frame, [])
        return listed[kept.n] if kept.n < len(listed) else None

    def rank(self, kept: KeptFace) -> tuple[object, ...]:
        """The better the frame is of this person, the smaller."""
        face = self._face(kept)
        assert face is not None
        return best_face.rank_so_far(
            self.mark_of.get(kept.frame, UNMARKED),
            best_face.shown_by(face, self.thresholds),
            usable=kept.frame not in self.unusable,
        )


def people_of(db: Database, shoot_id: int) -> People:
    """Everybody in a shoot. Numbers are those of its filters: ``person 3``."""
    place = {row.id: n for n, row in enumerate(frames.rows(db, shoot_id))}
    kept = sorted(people.faces(db, shoot_id), key=lambda face: (place.get(face.frame, 0), face.n))
    of_person: dict[int | None, list[KeptFace]] = defaultdict(list)
    known = _known(db, shoot_id, [face.frame for face in kept])
    for face in kept:
        if known.seen(face) is not None:
            of_person[face.person].append(face)
    unsure = of_person.pop(None, [])
    numbers = [number for number in of_person if number is not None]
    maybe = maybe_the_same(
        {number: [face.numbers for face in of_person[number] if face.sure] for number in numbers},
        {number: {face.frame for face in of_person[number]} for number in numbers},
    )
    made = [
        _person(known, number, listed, maybe.get(number, []))
        for number, listed in of_person.items()
        if number is not None
    ]
    made.sort(key=lambda person: (-len(person.faces), person.number))
    return People(made, [seen for face in unsure if (seen := known.seen(face))])


def _known(db: Database, shoot_id: int, frame_ids: Sequence[int]) -> _Known:
    verdicts = hints.verdicts_of_shoot(db, shoot_id)
    return _Known(
        faces.of_frames(db, set(frame_ids)),
        marks.marks_of(db, shoot_id, frame_ids),
        frozenset(frame for frame, verdict in verdicts.items() if not verdict.usable),
        hints.thresholds(db, shoot_id),
    )


def _person(known: _Known, number: int, listed: Sequence[KeptFace], maybe: list[int]) -> Person:
    # Joined by hand, somebody may be twice in one frame: the first face there stands for both.
    one_a_frame = list({face.frame: face for face in reversed(listed)}.values())[::-1]
    seen = [face for kept in one_a_frame if (face := known.seen(kept)) is not None]
    picks = [
        face for face in seen if known.mark_of.get(face.frame, UNMARKED).decision is Decision.PICK
    ]
    return Person(
        number,
        seen,
        min(range(len(one_a_frame)), key=lambda n: known.rank(one_a_frame[n])),
        [face.frame for face in picks],
        [face.frame for face in picks if not face.closed],
        maybe,
    )


def join(db: Database, shoot_id: int, one: int, other: int) -> bool:
    """Say that two numbers are one person; returns whether there are both."""
    first = next(iter(people.faces(db, shoot_id, one)), None)
    second = next(iter(people.faces(db, shoot_id, other)), None)
    if first is None or second is None or one == other:
        return False
    places = ((face.frame, face.x, face.y) for face in (first, second))
    people.say(db, shoot_id, Saying("join", *places))
    return True
