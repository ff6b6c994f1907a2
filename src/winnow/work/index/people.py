"""Tells people apart, behind all else, in the shoots that have it switched on."""

from __future__ import annotations

import time
from collections.abc import Iterator, Sequence

import numpy as np

from winnow.core.measure.faces import Face
from winnow.photos import face_numbers
from winnow.photos.cache import PictureCache
from winnow.store import faces, frames, people
from winnow.store.db import Database
from winnow.store.people import KeptFace, Where
from winnow.work import who_counts
from winnow.work.events import Events
from winnow.work.workers import face_tasks
from winnow.work.workers.face_tasks import NumberedFaces, NumbersJob, PeopleJob
from winnow.work.workers.feeder import Feeder
from winnow.work.workers.jobs import job_of

# A place that somebody named is this near to the face's middle, as a share of the picture's sides.
_NEAR = 0.05


class TellingApart:
    """The people of one shoot."""

    def __init__(
        self, db: Database, cache: PictureCache, events: Events, shoot_id: int, feeder: Feeder
    ) -> None:
        self._db = db
        self._cache = cache
        self._events = events
        self._shoot_id = shoot_id
        self._feeder = feeder

    def waits(self, version: str) -> bool:
        """Whether there is anything to be done."""
        if not (face_numbers.available() and people.is_on(self._db, self._shoot_id)):
            return False
        stale = people.is_stale(self._db, self._shoot_id)
        return stale or bool(people.waiting(self._db, self._shoot_id, version))

    def go_on(self, version: str, seconds: float) -> bool:
        """Number faces for some seconds; once all have numbers, put them together. Returns whether
        all is done."""
        if not self._number(version, seconds):
            return False
        if people.is_stale(self._db, self._shoot_id):
            self._put_together()
        return True

    def _number(self, version: str, seconds: float) -> bool:
        waiting = people.waiting(self._db, self._shoot_id, version)
        until = time.monotonic() + seconds
        left = len(waiting)
        shown = {row.id: row for row in frames.rows(self._db, self._shoot_id)} if waiting else {}

        def jobs() -> Iterator[NumbersJob]:
            for frame, key in waiting.items():
                if time.monotonic() > until:
                    return
                listed = faces.of_frames(self._db, [frame]).get(frame, [])
                width = shown[frame].width if frame in shown else None
                yield NumbersJob(job_of(self._db, self._cache, frame), key, listed, width or 1)

        def keep(results: list[NumberedFaces]) -> None:
            nonlocal left
            left -= len(results)
            listed = faces.of_frames(self._db, [result.frame for result in results])
            people.keep(
                self._db,
                self._shoot_id,
                {
                    result.frame: (result.key, _kept(result, listed.get(result.frame, [])))
                    for result in results
                },
            )
            self._events.tell(self._shoot_id, "people")

        def failed(job: NumbersJob, notice: str) -> NumberedFaces:
            return NumberedFaces(job.job.frame, job.key, [])

        self._feeder.each(face_tasks.number_faces, jobs(), keep, failed)
        return left <= 0

    def _put_together(self) -> None:
        until = people.begin(self._db, self._shoot_id)
        known = people.faces(self._db, self._shoot_id)
        said = people.said(self._db, self._shoot_id)
        out = {_at(known, saying.face) for saying in said if saying.kind == "out"}
        place = {n: k for k, n in enumerate(n for n in range(len(known)) if n not in out)}
        taken = [known[n] for n in place]
        links = [
            (_at(known, saying.face), _at(known, saying.other))
            for saying in said
            if saying.kind == "join" and saying.other
        ]
        joined = [(place[a], place[b]) for a, b in links if a in place and b in place]
        numbers = np.array([face.numbers for face in taken], np.float32)
        job = PeopleJob(
            numbers, [face.frame for face in taken], [face.person for face in taken], joined
        )

        def keep(results: list[list[int | None]]) -> None:
            (told,) = results
            number_of = dict(zip(place, told, strict=True))
            people.keep_people(
                self._db,
                self._shoot_id,
                [(face, number_of.get(n)) for n, face in enumerate(known)],
            )
            who_counts.spread_in_shoot(self._db, self._shoot_id)
            # Only now: killed before, it is done again.
            people.note_fresh(self._db, self._shoot_id, until)
            self._events.tell(self._shoot_id, "people")

        self._feeder.each(face_tasks.tell_apart, iter([job]), keep, lambda job, _: job.before)


def _kept(result: NumberedFaces, listed: Sequence[Face]) -> list[KeptFace]:
    return [
        KeptFace(
            result.frame,
            n,
            face.middle[0],
            face.middle[1],
            numbers,
            bool(np.isfinite(numbers).all()),
        )
        for n, (face, numbers) in enumerate(zip(listed, result.numbers, strict=False))
    ]


def _at(known: Sequence[KeptFace], where: Where | None) -> int:
    """The face at a place of a frame; -1 where none is there any more."""
    if where is None:
        return -1
    frame, x, y = where
    near = [
        (max(abs(face.x - x), abs(face.y - y)), n)
        for n, face in enumerate(known)
        if face.frame == frame
    ]
    away, n = min(near, default=(1.0, -1))
    return n if away <= _NEAR else -1
