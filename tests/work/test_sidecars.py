"""Marks and texts in files: taken on opening, offered while open, written on command, nothing in
silence."""

import os
from pathlib import Path
from typing import Any

import pytest

from tests.conftest import indexed, until
from tests.pictures import in_two_parts, jpeg, write_shoot
from tests.ready import ready
from tests.work.saying import OURS, mark_in, mark_of, said_now, set_mark, set_texts, state, write
from winnow.core.files.merge import Said, Stated
from winnow.core.files.profiles import FileMark
from winnow.core.files.texts import TextEdit, Texts
from winnow.core.marks import Decision, Edit, Mark
from winnow.photos import copies, whole, xmp
from winnow.photos.xmp import embedded, read_sidecar, with_stated
from winnow.store import file_state, frame_files, frames, guests, history, settings, shoots
from winnow.work.files import captions
from winnow.work.files import write as files_write
from winnow.work.files.write import Order
from winnow.work.runtime import Runtime


def test_what_is_written_is_read_by_another_shoot(runtime: Runtime, tmp_path: Path) -> None:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1, 2, 3])
    shoot = ready(runtime, folder)
    set_mark(runtime, shoot, "QH_0001", Edit(Decision.PICK, 4, "R"))
    set_mark(runtime, shoot, "QH_0002", Edit(Decision.REJECT))
    texts = Texts("Dusk", "At the quay\n灯", ("quay", "a, b"), ("Ann",), "© Ann", "Pier", "Holm")
    set_texts(runtime, shoot, "QH_0001", TextEdit({"title": "Dusk", "caption": texts.caption,
              "creators": ("Ann",), "rights": "© Ann", "location": "Pier", "city": "Holm"},
              add=texts.keywords))  # fmt: skip
    written, change = write(runtime, shoot)
    assert (written.written, written.problems, change) == (2, (), None)
    assert read_sidecar((folder / "QH_0001.xmp").read_bytes()) == Stated(
        FileMark(4, "Retouch", True), texts
    )
    assert mark_in(folder / "QH_0002.xmp").rating == -1
    assert not (folder / "QH_0003.xmp").exists()
    assert file_state.unwritten(runtime.db, shoot) == []

    shoots.forget(runtime.db, shoot)
    again = ready(runtime, folder)
    assert said_now(runtime, again, "QH_0001") == Said(Mark(Decision.PICK, 4, "R"), texts)
    assert mark_of(runtime, again, "QH_0002") == Mark(Decision.REJECT)
    assert history.of(runtime.db, again).undo == "taken from the files of 2 frames"
    history.undo(runtime.db, again)
    assert said_now(runtime, again, "QH_0001") == Said()


def test_writing_twice_changes_nothing(runtime: Runtime, tmp_path: Path) -> None:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1])
    shoot = ready(runtime, folder)
    set_mark(runtime, shoot, "QH_0001", Edit(stars=2))
    write(runtime, shoot)
    before = (folder / "QH_0001.xmp").stat().st_mtime_ns
    indexed(runtime, folder)
    written, _ = write(runtime, shoot)
    assert (written.written, written.same) == (0, 1)
    assert (folder / "QH_0001.xmp").stat().st_mtime_ns == before
    assert history.of(runtime.db, shoot).undo == "2 stars on QH_0001"


def test_a_broken_sidecar_is_left_alone(runtime: Runtime, tmp_path: Path) -> None:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1])
    broken = with_stated(None, Stated(FileMark(3)))[:120]
    (folder / "QH_0001.xmp").write_bytes(broken)
    shoot = ready(runtime, folder)
    assert "left alone" in " ".join(runtime.indexer.status(shoot).notices)
    set_mark(runtime, shoot, "QH_0001", Edit(stars=5))
    written, _ = write(runtime, shoot, OURS)
    assert written.written == 0
    assert (folder / "QH_0001.xmp").read_bytes() == broken


def test_new_sidecars_are_named_as_set_and_two_of_one_stem_apart(
    runtime: Runtime, tmp_path: Path
) -> None:
    folder = tmp_path / "shoot"
    (jpg, _) = write_shoot(folder, [1, 2])
    (folder / "QH_0001.jpeg").write_bytes(jpg.read_bytes())
    shoot = ready(runtime, folder)
    files = frame_files.files_of(runtime.db, [row.id for row in frames.rows(runtime.db, shoot)])

    def names() -> list[str]:
        return sorted(p.name for p in files_write.new_sidecars(runtime.db, shoot, files).values())

    assert names() == ["QH_0001.jpeg.xmp", "QH_0001.jpg.xmp", "QH_0002.xmp"]
    settings.save(runtime.db, {"sidecar_names": "full"})
    assert names() == ["QH_0001.jpeg.xmp", "QH_0001.jpg.xmp", "QH_0002.jpg.xmp"]


@pytest.mark.parametrize("name", ["QH_0001.xmp", "QH_0001.jpg.xmp"])
def test_both_patterns_are_read_and_written_as_found(
    runtime: Runtime, tmp_path: Path, name: str
) -> None:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1])
    state(folder / name, Stated(FileMark(3), Texts(keywords=("quay",))))
    shoot = ready(runtime, folder)
    assert said_now(runtime, shoot, "QH_0001") == Said(Mark(stars=3), Texts(keywords=("quay",)))
    set_mark(runtime, shoot, "QH_0001", Edit(Decision.PICK))
    write(runtime, shoot)
    assert mark_in(folder / name) == FileMark(3, None, True)
    assert sorted(os.listdir(folder)) == sorted(["QH_0001.jpg", name])


def test_what_a_picture_states_itself_is_taken_and_not_repeated(
    runtime: Runtime, tmp_path: Path
) -> None:
    folder = tmp_path / "shoot"
    folder.mkdir()
    own = Stated(FileMark(3), Texts("In camera", rights="© Ann"))
    (folder / "QH_0001.jpg").write_bytes(xmp.with_embedded(jpeg(1), own))
    shoot = ready(runtime, folder)
    assert said_now(runtime, shoot, "QH_0001") == Said(Mark(stars=3), own.texts)
    written, _ = write(runtime, shoot)
    assert written.written == 0
    assert os.listdir(folder) == ["QH_0001.jpg"]
    set_mark(runtime, shoot, "QH_0001", Edit(Decision.PICK))
    write(runtime, shoot)
    assert read_sidecar((folder / "QH_0001.xmp").read_bytes()) == Stated(
        FileMark(3, None, True), own.texts
    )


def test_embedding_into_jpegs_keeps_the_pictures(runtime: Runtime, tmp_path: Path) -> None:
    folder = tmp_path / "shoot"
    (path,) = write_shoot(folder, [1])
    shoot = ready(runtime, folder)
    before, row = path.read_bytes(), frames.rows(runtime.db, shoot)[0]
    settings.save(runtime.db, {"embed": True})
    set_mark(runtime, shoot, "QH_0001", Edit(Decision.PICK, 4))
    set_texts(runtime, shoot, "QH_0001", TextEdit({"caption": "At the quay"}))
    written, _ = write(runtime, shoot)
    assert (written.written, written.problems) == (1, ())
    assert embedded(path.read_bytes()) == Stated(
        FileMark(4, None, True), Texts(caption="At the quay")
    )
    assert os.listdir(folder) == ["QH_0001.jpg"]
    scan = before.index(b"\xff\xda")
    assert path.read_bytes().endswith(before[scan:])
    # It is known as it is now: nothing is decoded again, and its pictures are there.
    now = frames.rows(runtime.db, shoot)[0]
    assert (now.state, now.picture) == (row.state, 2)
    assert now.key != row.key
    assert runtime.cache.read(now.key or "", "preview")
    (known,) = frames.content_hashes(runtime.db, shoot).values()
    assert known == copies.file_hash(path)
    indexed(runtime, folder)
    assert frames.rows(runtime.db, shoot)[0].key == now.key
    assert write(runtime, shoot)[0].written == 0


def test_marks_are_written_by_themselves_once_that_is_wanted(
    runtime: Runtime, tmp_path: Path
) -> None:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1, 2])
    shoot = ready(runtime, folder)
    set_mark(runtime, shoot, "QH_0001", Edit(stars=1))
    runtime.events.tell(shoot, "marks")
    settings.save(runtime.db, {"write_by_itself": True})
    set_mark(runtime, shoot, "QH_0002", Edit(stars=2))
    runtime.events.tell(shoot, "marks")
    until(lambda: (folder / "QH_0002.xmp").exists() and (folder / "QH_0001.xmp").exists())
    until(lambda: not file_state.unwritten(runtime.db, shoot))
    until(lambda: runtime.file_writer.status(shoot).by_itself)
    # What others changed is not touched by itself where it conflicts.
    state(folder / "QH_0001.xmp", Stated(FileMark(5)))
    set_mark(runtime, shoot, "QH_0001", Edit(stars=3))
    runtime.events.tell(shoot, "marks")
    until(lambda: bool((s := runtime.file_writer.status(shoot).result) and s.problems))
    assert mark_in(folder / "QH_0001.xmp").rating == 5


@pytest.mark.parametrize("embed", [False, True])
def test_what_guests_say_is_written_nowhere_before_the_owner_takes_it_over(
    runtime: Runtime, tmp_path: Path, embed: bool
) -> None:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1, 2])
    shoot = ready(runtime, folder)
    before = {path.name: path.read_bytes() for path in folder.iterdir()}
    settings.save(runtime.db, {"write_by_itself": True, "embed": embed})
    set_mark(runtime, shoot, "QH_0001", Edit(stars=1), by="Ana")
    set_mark(runtime, shoot, "QH_0002", Edit(stars=2))
    runtime.events.tell(shoot, "marks")
    until(lambda: not file_state.unwritten(runtime.db, shoot))
    write(runtime, shoot)
    assert (folder / "QH_0001.jpg").read_bytes() == before["QH_0001.jpg"]
    assert not (folder / "QH_0001.xmp").exists()
    guests.take_over(runtime.db, shoot)
    write(runtime, shoot)
    if embed:
        assert xmp.embedded((folder / "QH_0001.jpg").read_bytes()).mark.rating == 1
    else:
        assert mark_in(folder / "QH_0001.xmp").rating == 1


@pytest.mark.parametrize("embed", [True, False])
def test_a_file_that_was_written_just_before_a_kill_is_known_as_its_own(
    runtime: Runtime, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, embed: bool
) -> None:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1])
    shoot = ready(runtime, folder)
    settings.save(runtime.db, {"embed": embed})
    set_mark(runtime, shoot, "QH_0001", Edit(stars=1))
    write(runtime, shoot)
    set_mark(runtime, shoot, "QH_0001", Edit(stars=4))

    def killed(*_: object) -> None:
        raise KeyboardInterrupt

    real = whole.write_whole

    def then_killed(*arguments: Any) -> None:
        real(*arguments)
        killed()

    with monkeypatch.context() as patched:
        patched.setattr(whole, "write_whole", then_killed)
        with pytest.raises(KeyboardInterrupt):
            write(runtime, shoot)
    written, _ = write(runtime, shoot)
    assert written.problems == ()
    assert said_now(runtime, shoot, "QH_0001").mark.stars == 4
    path = folder / ("QH_0001.jpg" if embed else "QH_0001.xmp")
    stated = xmp.embedded(path.read_bytes()) if embed else read_sidecar(path.read_bytes())
    assert stated.mark.rating == 4


def test_a_writing_can_be_stopped(runtime: Runtime, tmp_path: Path) -> None:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1])
    shoot = ready(runtime, folder)
    set_mark(runtime, shoot, "QH_0001", Edit(stars=1))
    result, _ = files_write.write(runtime.db, runtime.cache, shoot, stopping=lambda: True)
    assert result.written == 0
    runtime.file_writer.start(shoot, Order())
    runtime.file_writer.wait(shoot, 30)
    assert (folder / "QH_0001.xmp").exists()


def test_texts_are_undone_and_redone_with_marks(runtime: Runtime, tmp_path: Path) -> None:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1])
    shoot = ready(runtime, folder)
    set_texts(runtime, shoot, "QH_0001", TextEdit({"title": "One"}))
    set_mark(runtime, shoot, "QH_0001", Edit(stars=2))
    set_texts(runtime, shoot, "QH_0001", TextEdit({"title": "Two"}, add=("quay",)))
    assert history.of(runtime.db, shoot).undo == "title and keywords of QH_0001"
    assert history.past_changes(runtime.db, shoot)[0].frames == 1
    history.undo(runtime.db, shoot)
    assert said_now(runtime, shoot, "QH_0001") == Said(Mark(stars=2), Texts("One"))
    history.go_to(runtime.db, shoot, None)
    assert said_now(runtime, shoot, "QH_0001") == Said()
    last = history.past_changes(runtime.db, shoot)[0].id
    change = history.go_to(runtime.db, shoot, last)
    assert change is not None
    assert said_now(runtime, shoot, "QH_0001") == Said(Mark(stars=2), Texts("Two", "", ("quay",)))


def test_a_template_fills_each_frames_own_values(runtime: Runtime, tmp_path: Path) -> None:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1, 2])
    shoot = ready(runtime, folder)
    ids = [row.id for row in frames.rows(runtime.db, shoot)]
    captions.edit(runtime.db, shoot, ids, TextEdit({"title": "{name} of {shoot}"}), fill=True)
    assert said_now(runtime, shoot, "QH_0002").texts.title == "QH_0002 of Test"
    common = captions.common(runtime.db, shoot, ids)
    assert common.several == ("title",)


def test_texts_in_the_second_part_of_a_jpegs_xmp_are_taken_and_written(
    runtime: Runtime, tmp_path: Path
) -> None:
    (path,) = write_shoot(tmp_path / "shoot", [1])
    path.write_bytes(in_two_parts(path.read_bytes(), "Far", "step " * 40_000))
    shoot = indexed(runtime, tmp_path / "shoot")
    assert said_now(runtime, shoot, "QH_0001").texts.title == "Far"
    settings.save(runtime.db, {"embed": True})
    set_mark(runtime, shoot, "QH_0001", Edit(stars=3))
    written, _ = write(runtime, shoot)
    assert (written.written, written.problems) == (1, ())
    assert embedded(path.read_bytes()) == Stated(FileMark(3), Texts("Far"))
