"""What goes on behind the pictures: looking for faces, judging groups, and noticing what hints say.

Each call does some seconds of it, so that what happens to the folder meanwhile is seen. The workers
are not those that make pictures: one that is looked at never waits for this.
"""

from __future__ import annotations

import hashlib
import logging
import time
from collections import defaultdict
from collections.abc import Iterator, Sequence
from typing import Final

from winnow.core.events import FramePatch
from winnow.core.measure import faces as core_faces
from winnow.core.verdict import judge as judging
from winnow.core.verdict import order
from winnow.photos.cache import PictureCache
from winnow.store import faces, frame_figures, hints
from winnow.store.db import Database
from winnow.store.hints import Member
from winnow.work import who_counts
from winnow.work.events import Events
from winnow.work.workers import face_tasks, hint_tasks
from winnow.work.workers.face_tasks import FaceJob, FoundFaces, GroupJob, JudgedGroup, JudgeFrame
from winnow.work.workers.feeder import Feeder
from winnow.work.workers.hint_tasks import NoticeJob
from winnow.work.workers.jobs import job_of

log = logging.getLogger(__name__)
FACE_VERSION: Final = f"a{core_faces.VERSION}"
# Noticing takes a moment in a large shoot: while faces are still looked for, not more often than
# this.
_NOTICE_EVERY_S: Final = 15.0


class Behind:
    """Faces, judging and hints of one shoot."""

    def __init__(
        self, db: Database, cache: PictureCache, events: Events, shoot_id: int, feeder: Feeder
    ) -> None:
        self._db = db
        self._cache = cache
        self._events = events
        self._shoot_id = shoot_id
        self._feeder = feeder
        self._noticed = 0.0

    def waits(self) -> bool:
        """Whether there is anything to be done."""
        return hints.is_stale(self._db, self._shoot_id) or bool(
            faces.waiting(self._db, self._shoot_id, FACE_VERSION)
        )

    def find_faces(self, first: Sequence[int], seconds: float) -> bool:
        """Look for faces for some seconds, in frames that are on screen first; returns whether all
        are done."""
        waiting = faces.waiting(self._db, self._shoot_id, FACE_VERSION)
        wanted = set(first)
        waiting.sort(key=lambda frame: frame not in wanted)
        until = time.monotonic() + seconds
        left = len(waiting)

        def jobs() -> Iterator[FaceJob]:
            for frame in waiting:
                if time.monotonic() > until:
                    return
                packed = frame_figures.focus_map(self._db, frame)
                yield FaceJob(job_of(self._db, self._cache, frame), packed)

        def keep(frames: list[FoundFaces]) -> None:
            nonlocal left
            left -= len(frames)
            faces.keep(self._db, [(f.frame, f.faces) for f in frames], FACE_VERSION)
            self._events.tell(self._shoot_id, "progress")

        def failed(job: FaceJob, notice: str) -> FoundFaces:
            return FoundFaces(job.job.frame, [])

        self._feeder.each(face_tasks.find_faces, jobs(), keep, failed)
        return left <= 0

    def judge(self, seconds: float, *, last: bool) -> bool:
        """Judge groups that changed, for some seconds, then notice; returns whether all are done.

        ``last``: no more faces will come soon.
        """
        # Said before: what changes while it goes on is not passed over.
        hints.note_begun(self._db, self._shoot_id)
        waiting = list(self._groups_to_judge())
        until = time.monotonic() + seconds
        left = len(waiting)

        def jobs() -> Iterator[GroupJob]:
            for key, members in waiting:
                if time.monotonic() > until:
                    return
                yield group_job(self._db, self._cache, key, members)

        def keep(groups: list[JudgedGroup]) -> None:
            nonlocal left
            left -= len(groups)
            for group in groups:
                hints.keep_judged(self._db, group.judged, group.key)
            patches: list[FramePatch] = [
                {
                    "id": frame,
                    "blur": None if verdict.blur is None else round(verdict.blur, 2),
                    "standing": order.in_words(verdict.standing),
                }
                for group in groups
                for frame, verdict in group.judged
            ]
            self._events.tell(self._shoot_id, "frames", frames=patches)

        def failed(job: GroupJob, notice: str) -> JudgedGroup:
            # With nothing known of them, and not tried for ever.
            plain = judging.Judged(0.5, 0.5, "", 0, False)
            return JudgedGroup(job.key, [(frame.job.frame, plain) for frame in job.frames])

        self._feeder.each(face_tasks.judge, jobs(), keep, failed)
        done = left <= 0
        now = time.monotonic()
        if (done and last) or now - self._noticed > _NOTICE_EVERY_S:
            self._noticed = now
            self._notice(last=done and last)
        return done

    def _notice(self, *, last: bool) -> None:
        def keep(made: list[hints.Changes]) -> None:
            for changes in made:
                hints.keep(self._db, changes)
            if last:
                hints.note_made(self._db, self._shoot_id)

        def failed(job: NoticeJob, notice: str) -> hints.Changes:
            log.warning("hints of shoot %d, in a worker: %s", job.shoot, notice)
            return hint_tasks.notice(job)

        job = NoticeJob(self._db.path.absolute(), self._shoot_id)
        if self._feeder.is_here:
            self._feeder.each(hint_tasks.notice, iter([job]), keep, failed)
        else:  # workers elsewhere don't have the database
            keep([hint_tasks.notice(job)])
        # Even if all is as it was: a page that waits for it learns that nothing more comes.
        self._events.tell(self._shoot_id, "hints")

    def _groups(self) -> dict[int, list[Member]]:
        groups: dict[int, list[Member]] = defaultdict(list)
        for member in hints.members(self._db, self._shoot_id):
            groups[member.group].append(member)
        return groups

    def _groups_to_judge(self) -> Iterator[tuple[str, list[Member]]]:
        groups = self._groups()
        # Frames that came to a group show whom somebody said something of as well.
        came = [
            members
            for members in groups.values()
            if any(member.weights for member in members)
            and who_counts.spread_in_group(self._db, [member.id for member in members])
        ]
        if came:
            groups = self._groups()
        for members in groups.values():
            if any(member.face_version != FACE_VERSION for member in members):
                continue  # its faces come first
            key = _key_of(members)
            if any(member.judged_for != key for member in members):
                yield key, members


def group_job(db: Database, cache: PictureCache, key: str, members: Sequence[Member]) -> GroupJob:
    """What a worker needs to judge a group; ``key`` names it."""
    faces_of = faces.of_frames(db, [member.id for member in members])
    return GroupJob(
        key,
        tuple(
            JudgeFrame(
                job_of(db, cache, member.id),
                member.width,
                member.height,
                frame_figures.focus_map(db, member.id),
                faces_of.get(member.id, []),
                None
                if member.focus_x is None or member.focus_y is None
                else (member.focus_x, member.focus_y),
            )
            for member in members
        ),
    )


def _key_of(members: Sequence[Member]) -> str:
    """Names the frames of a group, their content, and the code that judges them."""
    parts = [
        str(judging.VERSION),
        *(f"{m.id} {m.key} {m.face_version}{m.weights}" for m in members),
    ]
    return hashlib.blake2b("\n".join(parts).encode(), digest_size=12).hexdigest()
