"""What goes on behind the pictures: complete, resumable, and never in the way."""

import io
import re
import threading
from concurrent.futures import ThreadPoolExecutor
from functools import partial
from pathlib import Path
from typing import ClassVar

import cv2
import numpy as np
import pytest
from PIL import Image

from tests.conftest import indexed, until
from tests.pictures import write_jpeg, write_natural, write_portraits, write_shoot
from winnow.core.groups import edits
from winnow.core.marks import Decision, Edit
from winnow.core.verdict import hints as core_hints
from winnow.core.verdict.hints import KINDS
from winnow.demo import evening
from winnow.demo import shoot as demo
from winnow.photos import faces as face_finder
from winnow.photos.cache import PictureCache
from winnow.photos.exif_writer import with_facts
from winnow.photos.metadata import read_facts
from winnow.store import faces, frames, hints, history, marks, shoots
from winnow.store.db import Database
from winnow.work import hints as hint_work
from winnow.work.compare import face_rows
from winnow.work.events import Events
from winnow.work.evidence import evidence, second_look
from winnow.work.index import regroup
from winnow.work.index.faces_and_hints import FACE_VERSION, Behind
from winnow.work.index.indexer import Indexer
from winnow.work.runtime import Runtime
from winnow.work.workers import face_tasks, hint_tasks
from winnow.work.workers.face_tasks import FaceJob, GroupJob
from winnow.work.workers.feeder import Feeder
from winnow.work.workers.hint_tasks import NoticeJob
from winnow.work.workers.pool import Workers

SOFT_THIRD = [(0, 0, 0), (30, 10, 0), (-20, 15, 4), (10, -20, 0)]


def named(runtime: Runtime, shoot: int) -> dict[str, list[str]]:
    names = {row.id: row.name for row in frames.rows(runtime.db, shoot)}
    return {
        kind.kind.name: [names[frame] for frame in kind.named]
        for kind in hint_work.summary(runtime.db, shoot)
        if kind.named
    }


def test_faces_and_hints_of_a_folder(runtime: Runtime, tmp_path: Path) -> None:
    write_natural(tmp_path / "shoot", SOFT_THIRD)
    shoot = indexed(runtime, tmp_path / "shoot")
    ids = [row.id for row in frames.rows(runtime.db, shoot)]
    assert [len(found) for found in faces.of_frames(runtime.db, ids).values()] == [1] * 4
    assert shoots.tally(runtime.db, shoot).faces == 4
    found = named(runtime, shoot)
    assert found["soft"] == ["QH_0003"]
    assert "QH_0003" not in found.get("best", [])
    said = hint_work.of_frame(runtime.db, shoot, ids[2])
    assert said[0].kind.name == "soft"
    assert "softer at the eyes than the sharpest of 4" in said[0].words
    assert hints.judged_of(runtime.db, ids)[ids[0]].at == "eyes"
    assert not hints.is_stale(runtime.db, shoot)


def test_a_shaken_frame_is_told_by_its_pixels_at_full_size(
    runtime: Runtime, tmp_path: Path
) -> None:
    folder = tmp_path / "shoot"
    write_natural(folder, [(0, 0, 0), (12, 6, 0), (-9, 8, 0), (5, -7, 0)])
    path = folder / "QH_0003.jpg"
    data = path.read_bytes()
    with Image.open(io.BytesIO(data)) as image:
        still = np.asarray(image)
    out = io.BytesIO()
    Image.fromarray(cv2.blur(still, (1, 11))).save(out, "JPEG", quality=93)
    path.write_bytes(with_facts(out.getvalue(), read_facts(data)))
    shoot = indexed(runtime, folder)
    assert named(runtime, shoot)["motion"] == ["QH_0003"]
    (said,) = (
        hint.words
        for hint in hint_work.of_frame(runtime.db, shoot, frames.rows(runtime.db, shoot)[2].id)
        if hint.kind.name == "motion"
    )
    assert re.match(r"moved about (9|1\d) px up and down", said), said


def test_closed_eyes_of_portraits_are_named(runtime: Runtime, tmp_path: Path) -> None:
    true = write_portraits(tmp_path / "shoot")
    shoot = indexed(runtime, tmp_path / "shoot")
    wanted = {str(frame["name"]) for frame in true if frame["faces"][0]["eyes"] != "open"}  # type: ignore[index]
    assert wanted
    assert set(named(runtime, shoot)["eyes_closed"]) == wanted


def test_nothing_is_looked_at_twice(
    runtime: Runtime, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    write_natural(tmp_path / "shoot", SOFT_THIRD)
    shoot = indexed(runtime, tmp_path / "shoot")

    def never(*_: object) -> None:
        raise AssertionError("looked at again")

    monkeypatch.setattr(face_tasks, "find_faces", never)
    monkeypatch.setattr(face_tasks, "judge", never)
    indexed(runtime, tmp_path / "shoot")
    # Hints alone are made anew when something that they are made from is said to have changed.
    hints.note_stale(runtime.db, shoot)
    indexed(runtime, tmp_path / "shoot")
    assert not hints.is_stale(runtime.db, shoot)
    assert named(runtime, shoot)["soft"] == ["QH_0003"]


def test_hints_that_were_not_made_to_the_end_are_made_anew(
    runtime: Runtime, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    def ends(_: NoticeJob) -> None:
        raise RuntimeError("it ends here")

    write_natural(tmp_path / "shoot", SOFT_THIRD)
    with monkeypatch.context() as patched:
        patched.setattr(hint_tasks, "notice", ends)
        shoot = indexed(runtime, tmp_path / "shoot")
    assert hints.is_stale(runtime.db, shoot)
    assert "soft" not in named(runtime, shoot)
    indexed(runtime, tmp_path / "shoot")
    assert not hints.is_stale(runtime.db, shoot)
    assert named(runtime, shoot)["soft"] == ["QH_0003"]


def test_what_changes_while_hints_are_made_is_not_passed_over(
    runtime: Runtime, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    write_natural(tmp_path / "shoot", SOFT_THIRD)
    made = []
    notice = hint_tasks.notice

    def while_it_changes(job: NoticeJob) -> hints.Changes:
        made.append(job)
        changes = notice(job)
        if len(made) == 1:
            hints.note_stale(runtime.db, job.shoot)
        return changes

    monkeypatch.setattr(hint_tasks, "notice", while_it_changes)
    shoot = indexed(runtime, tmp_path / "shoot")
    assert hints.is_stale(runtime.db, shoot) == (len(made) == 1)
    indexed(runtime, tmp_path / "shoot")
    assert len(made) >= 2
    assert not hints.is_stale(runtime.db, shoot)


def test_hints_are_made_in_a_worker_process(
    runtime: Runtime, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A large shoot's take a second, in which the server would answer nobody."""

    def never(*_: object) -> None:
        raise AssertionError("made in the server's process")

    write_natural(tmp_path / "shoot", SOFT_THIRD)
    shoot = indexed(runtime, tmp_path / "shoot")
    hints.note_stale(runtime.db, shoot)
    with runtime.db.write() as conn:
        conn.execute("DELETE FROM hint")
    monkeypatch.setattr(core_hints, "notice", never)
    workers = Workers(count=1)
    feeder = Feeder(workers, threading.Event())
    behind = Behind(runtime.db, runtime.cache, runtime.events, shoot, feeder)
    assert behind.judge(60, last=True)
    workers.close()
    assert not hints.is_stale(runtime.db, shoot)
    assert named(runtime, shoot)["soft"] == ["QH_0003"]


def test_only_groups_that_changed_are_judged_again(
    runtime: Runtime, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    write_natural(tmp_path / "shoot", SOFT_THIRD)
    write_shoot(tmp_path / "shoot" / "other", [5, 5, 5], 60)
    shoot = indexed(runtime, tmp_path / "shoot")
    judged: list[list[int]] = []
    judge = face_tasks.judge

    def noted(job: GroupJob) -> object:
        judged.append([judge_frame.job.frame for judge_frame in job.frames])
        return judge(job)

    monkeypatch.setattr(face_tasks, "judge", noted)
    first = [row.id for row in frames.rows(runtime.db, shoot) if row.name.startswith("QH_0")][:4]
    rows = frames.rows(runtime.db, shoot)
    natural = [row.id for row in rows if row.group == rows[0].group]
    change = regroup.edit(runtime.db, shoot, "split", lambda now: edits.split(now, natural[2]))
    assert change is not None
    regroup.regroup(runtime.db, shoot)
    assert hints.is_stale(runtime.db, shoot)
    indexed(runtime, tmp_path / "shoot")
    assert sorted(map(tuple, judged)) == [tuple(natural[:2]), tuple(natural[2:])]
    assert first


def test_a_run_that_was_stopped_goes_on(
    runtime: Runtime, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    write_natural(tmp_path / "shoot", SOFT_THIRD)
    go_on, find = threading.Event(), face_tasks.find_faces

    def slow(job: FaceJob) -> object:
        go_on.wait(20)
        return find(job)

    monkeypatch.setattr(face_tasks, "find_faces", slow)
    shoot = shoots.make(runtime.db, "Test", [str(tmp_path / "shoot")])
    runtime.indexer.start(shoot)
    until(lambda: runtime.indexer.status(shoot).stage == "faces")
    # Every picture is there while faces are only being looked for.
    assert shoots.tally(runtime.db, shoot).done == 4
    stopping = threading.Thread(target=runtime.indexer.stop, args=(shoot,))
    stopping.start()
    until(lambda: runtime.indexer.status(shoot).stopped)
    go_on.set()
    stopping.join(20)
    monkeypatch.setattr(face_tasks, "find_faces", find)
    indexed(runtime, tmp_path / "shoot")
    assert faces.waiting(runtime.db, shoot, FACE_VERSION) == []
    assert named(runtime, shoot)["soft"] == ["QH_0003"]


def test_new_files_are_seen_while_faces_are_looked_for(
    runtime: Runtime, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    folder = tmp_path / "shoot"
    write_natural(folder, SOFT_THIRD[:2])
    find = face_tasks.find_faces
    seen: list[int] = []

    def adds(job: FaceJob) -> object:
        if not seen:
            write_shoot(folder / "more", [7, 8], 60)
            runtime.indexer.start(shoot)
        seen.append(job.job.frame)
        return find(job)

    monkeypatch.setattr(face_tasks, "find_faces", adds)
    shoot = shoots.make(runtime.db, "Test", [str(folder)])
    runtime.indexer.start(shoot)
    until(lambda: not runtime.indexer.status(shoot).running)
    assert shoots.tally(runtime.db, shoot).faces == 4


def test_without_a_preview_the_file_itself_is_looked_at(runtime: Runtime, tmp_path: Path) -> None:
    write_natural(tmp_path / "shoot", SOFT_THIRD[:1])
    shoot = indexed(runtime, tmp_path / "shoot")
    (row,) = frames.rows(runtime.db, shoot)
    runtime.cache.trim(0)
    with runtime.db.write() as conn:
        conn.execute("UPDATE frame SET face_version = ''")
    indexed(runtime, tmp_path / "shoot")
    assert len(faces.of_frames(runtime.db, [row.id])[row.id]) == 1


def test_a_frame_that_fails_has_no_faces_and_the_rest_goes_on(
    runtime: Runtime, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    write_natural(tmp_path / "shoot", SOFT_THIRD)
    find = face_tasks.find_faces
    broken: list[int] = []

    def breaks(job: FaceJob) -> object:
        if not broken:
            broken.append(job.job.frame)
        if job.job.frame in broken:
            raise RuntimeError("a model's own complaint")
        return find(job)

    monkeypatch.setattr(face_tasks, "find_faces", breaks)
    shoot = indexed(runtime, tmp_path / "shoot")
    ids = [row.id for row in frames.rows(runtime.db, shoot)]
    found = faces.of_frames(runtime.db, ids)
    assert {frame: len(own) for frame, own in found.items()} == {
        frame: 0 if frame in broken else 1 for frame in ids
    }


def test_without_models_it_is_said(
    runtime: Runtime, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(face_finder, "available", lambda: False)
    write_natural(tmp_path / "shoot", SOFT_THIRD[:1])
    shoot = indexed(runtime, tmp_path / "shoot")
    assert "the models for it are not installed" in " ".join(runtime.indexer.status(shoot).notices)
    assert shoots.tally(runtime.db, shoot).done == 1


def rejected_by_soft(runtime: Runtime, shoot: int) -> list[int]:
    soft = next(kind for kind in hint_work.summary(runtime.db, shoot) if kind.kind.name == "soft")
    hint_work.apply(runtime.db, shoot, Edit(decision=Decision.REJECT), soft.named, ["soft"])
    return soft.named


def test_marks_by_hints_are_one_step_and_told_with_their_kinds(
    runtime: Runtime, tmp_path: Path
) -> None:
    write_natural(tmp_path / "shoot", SOFT_THIRD)
    shoot = indexed(runtime, tmp_path / "shoot")
    thrown = rejected_by_soft(runtime, shoot)
    assert history.of(runtime.db, shoot).undo == "rejected QH_0003, by hints (soft)"
    assert hints.decided_by_hints(runtime.db, shoot) == {thrown[0]: "soft"}
    # Setting the same again is no change.
    assert not hint_work.apply(runtime.db, shoot, Edit(decision=Decision.REJECT), thrown, ["soft"])
    history.undo(runtime.db, shoot)
    assert hints.decided_by_hints(runtime.db, shoot) == {}
    assert marks.marks_of(runtime.db, shoot, thrown)[thrown[0]].decision == Decision.UNDECIDED
    history.redo(runtime.db, shoot)
    assert hints.decided_by_hints(runtime.db, shoot) == {thrown[0]: "soft"}


def mark(runtime: Runtime, shoot: int, frame: int, decision: Decision) -> None:
    def plan() -> object:
        from winnow.core.marks import plan_edit

        present = marks.marks_of(runtime.db, shoot, [frame])
        return plan_edit(Edit(decision=decision), present, partial(frames.name_of, runtime.db), {})

    marks.apply(runtime.db, shoot, plan)  # type: ignore[arg-type]


def test_disagreement_counts_what_people_decided_themselves(
    runtime: Runtime, tmp_path: Path
) -> None:
    write_natural(tmp_path / "shoot", SOFT_THIRD)
    shoot = indexed(runtime, tmp_path / "shoot")

    def soft() -> tuple[int, int]:
        kind = next(o for o in hint_work.summary(runtime.db, shoot) if o.kind is KINDS["soft"])
        return kind.decided, kind.disagreed

    assert soft() == (0, 0)
    (frame,) = rejected_by_soft(runtime, shoot)
    # What the hint itself did says nothing of whether somebody agrees.
    assert soft() == (0, 0)
    mark(runtime, shoot, frame, Decision.PICK)
    assert soft() == (1, 1)
    mark(runtime, shoot, frame, Decision.REJECT)
    assert soft() == (1, 0)


def test_a_second_look_at_groups_that_lost_everything(runtime: Runtime, tmp_path: Path) -> None:
    write_natural(tmp_path / "shoot", SOFT_THIRD)
    shoot = indexed(runtime, tmp_path / "shoot")
    ids = [row.id for row in frames.rows(runtime.db, shoot)]
    # The picture is one that was enlarged.
    hints.set_threshold(runtime.db, shoot, "soft_eyes", 3)
    assert second_look(runtime.db, shoot, all_rejects=True) == []
    (soft,) = rejected_by_soft(runtime, shoot)
    # What is left of its group can be used.
    assert second_look(runtime.db, shoot, all_rejects=True) == []
    for frame in ids:
        mark(runtime, shoot, frame, Decision.REJECT)
    (group,) = second_look(runtime.db, shoot, all_rejects=False)
    # The sharp ones that were thrown out as well stand before the soft one.
    assert group.frames[0][1] == "nothing speaks against it"
    assert group.frames[-1] == (soft, "soft, soft all over, soft eyes")
    assert group.by_hints == 1
    mark(runtime, shoot, ids[1], Decision.PICK)
    assert second_look(runtime.db, shoot, all_rejects=True) == []


def test_what_can_not_be_used_was_not_lost(runtime: Runtime, tmp_path: Path) -> None:
    write_natural(tmp_path / "shoot", [(0, 0, 9), (30, 10, 9)])
    shoot = indexed(runtime, tmp_path / "shoot")
    for row in frames.rows(runtime.db, shoot):
        mark(runtime, shoot, row.id, Decision.REJECT)
    verdicts = hints.verdicts_of_shoot(runtime.db, shoot)
    assert not any(verdict.usable for verdict in verdicts.values())
    assert second_look(runtime.db, shoot, all_rejects=True) == []


def test_the_evidence_is_the_reason_and_the_same_part_of_the_best(
    runtime: Runtime, tmp_path: Path
) -> None:
    write_natural(tmp_path / "shoot", SOFT_THIRD)
    shoot = indexed(runtime, tmp_path / "shoot")
    ids = [row.id for row in frames.rows(runtime.db, shoot)]
    (found,) = evidence(runtime.db, shoot, ["soft", "eyes_closed"])
    assert (found.frame, found.beside in ids[:2]) == (ids[2], True)
    assert "softer" in found.words
    assert found.at is not None
    assert found.beside_at is not None
    assert abs(found.at.x - found.beside_at.x) < 0.1
    # One whose file is gone is named still, so it is listed, with nothing to hold it against.
    with runtime.db.write() as conn:
        conn.execute("UPDATE frame SET missing = 1 WHERE id = ?", (ids[2],))
    (gone,) = evidence(runtime.db, shoot, ["soft"])
    assert (gone.frame, gone.beside, gone.beside_at) == (ids[2], None, None)
    hints.set_threshold(runtime.db, shoot, "soft", 1000)
    assert evidence(runtime.db, shoot, ["soft"]) == []


def test_thresholds_are_the_shoots_own(runtime: Runtime, tmp_path: Path) -> None:
    write_natural(tmp_path / "shoot", SOFT_THIRD)
    shoot = indexed(runtime, tmp_path / "shoot")
    hints.set_threshold(runtime.db, shoot, "soft", 1000)
    assert "soft" not in named(runtime, shoot)
    hints.set_threshold(runtime.db, shoot, "soft", None)
    assert named(runtime, shoot)["soft"] == ["QH_0003"]


class Started(ThreadPoolExecutor):
    """Counts how often workers are started and ended."""

    made: ClassVar[list["Started"]] = []
    ended = False

    def __init__(self) -> None:
        super().__init__(1)
        self.made.append(self)

    def shutdown(self, wait: bool = True, *, cancel_futures: bool = False) -> None:
        self.ended = True
        super().shutdown(wait, cancel_futures=cancel_futures)


def test_workers_with_models_rest_only_when_nothing_was_looked_for_in_a_while(
    db: Database, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A camera that keeps shooting doesn't start them for each frame."""
    monkeypatch.setattr(Started, "made", [])
    behind = Workers(Started)
    made = Indexer(
        db,
        PictureCache(tmp_path / "cache"),
        Events(),
        Workers(lambda: ThreadPoolExecutor(1)),
        behind,
    )
    folder = tmp_path / "shoot"
    for n in (1, 2):
        write_jpeg(folder / f"QH_000{n}.jpg", n)
        shoot = shoots.find_by_folders(db, [str(folder)]) or shoots.make(db, "T", [str(folder)])
        made.start(shoot)
        until(lambda shoot=shoot: not made.status(shoot).running)
    assert [started.ended for started in Started.made] == [False]
    behind.used -= 1000  # a while ago
    until(lambda: Started.made[0].ended)
    made.close()


def test_two_frames_in_which_together_nobody_blinks(runtime: Runtime, tmp_path: Path) -> None:
    """Of three people in frames of the demo another one blinks in the first two, and the third
    can't be used; of two people one blinks in one frame, nobody in the other."""
    folder = tmp_path / "shoot"
    folder.mkdir()
    for frame in evening.frames():
        if frame.name in ("QH2_0104", "QH2_0106", "QH2_0108", "QH2_0082", "QH2_0085"):
            demo.make_frame(frame, folder)
    shoot = indexed(runtime, folder)
    blinks, nobody, first, second, third = (row.id for row in frames.rows(runtime.db, shoot))
    assert face_rows.compare(runtime.db, shoot, [first, second]).together == [first, second]
    assert face_rows.compare(runtime.db, shoot, [first, second, third]).together == [first, second]
    # Where one of them shows all with open eyes, or none does, there is nothing to put together.
    assert face_rows.compare(runtime.db, shoot, [blinks, nobody]).together == []
    assert face_rows.compare(runtime.db, shoot, [first]).together == []
