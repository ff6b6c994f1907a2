"""Marks and texts in files: taken on opening, offered while open, written on command, nothing in
silence."""

import os
from pathlib import Path
from typing import Any

import pytest

from tests.conftest import indexed, until
from tests.pictures import in_two_parts, jpeg, write_shoot
from tests.ready import ready
from winnow.core.files.merge import Said, Stated
from winnow.core.files.profiles import FileMark
from winnow.core.files.texts import TextEdit, Texts
from winnow.core.marks import Change, Decision, Edit, Mark, plan_edit
from winnow.photos import copies, whole, xmp
from winnow.photos.xmp import embedded, read_sidecar, with_stated
from winnow.store import file_state, frame_files, frames, guests, history, marks, settings, shoots
from winnow.work.files import captions, label_texts
from winnow.work.files import read as files_read
from winnow.work.files import write as files_write
from winnow.work.files.write import Order, Planned, Written
from winnow.work.runtime import Runtime

OURS = Order(kinds={"stars": "here", "label": "here", "decision": "here"})
FILES = Order(kinds={"stars": "file", "label": "file"})


def frame_of(runtime: Runtime, shoot: int, name: str) -> int:
    return next(row.id for row in frames.rows(runtime.db, shoot) if row.name == name)


def set_mark(runtime: Runtime, shoot: int, name: str, edit: Edit, by: str = "") -> None:
    frame = frame_of(runtime, shoot, name)

    def plan() -> Change | None:
        return plan_edit(edit, marks.marks_of(runtime.db, shoot, [frame]), lambda _: name, {})

    marks.apply(runtime.db, shoot, plan, by)


def set_texts(runtime: Runtime, shoot: int, name: str, edit: TextEdit) -> None:
    captions.edit(runtime.db, shoot, [frame_of(runtime, shoot, name)], edit, fill=False)


def said_now(runtime: Runtime, shoot: int, name: str) -> Said:
    frame = frame_of(runtime, shoot, name)
    return files_read.said_of(runtime.db, shoot, [frame])[frame]


def mark_of(runtime: Runtime, shoot: int, name: str) -> Mark:
    return said_now(runtime, shoot, name).mark


def write(runtime: Runtime, shoot: int, order: Order = Order()) -> tuple[Written, Change | None]:  # noqa: B008
    return files_write.write(runtime.db, runtime.cache, shoot, order)


def outcomes(runtime: Runtime, shoot: int) -> dict[str, Planned]:
    return {p.name: p for p in files_write.plan(runtime.db, shoot)}


def state(path: Path, stated: Stated) -> None:
    """What another program writes."""
    data = path.read_bytes() if path.exists() else None
    path.write_bytes(with_stated(data, stated))


def mark_in(path: Path) -> FileMark:
    return read_sidecar(path.read_bytes()).mark


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


def test_a_change_from_outside_is_taken_over_and_a_conflict_left(
    runtime: Runtime, tmp_path: Path
) -> None:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1, 2])
    shoot = ready(runtime, folder)
    for name in ("QH_0001", "QH_0002"):
        set_mark(runtime, shoot, name, Edit(stars=1))
    write(runtime, shoot)
    for name in ("QH_0001", "QH_0002"):
        state(folder / f"{name}.xmp", Stated(FileMark(5, "Album")))
    set_mark(runtime, shoot, "QH_0002", Edit(stars=3))
    indexed(runtime, folder)
    assert mark_of(runtime, shoot, "QH_0001") == Mark(stars=5, label="A")
    assert mark_of(runtime, shoot, "QH_0002") == Mark(stars=3)
    found = shoots.get(runtime.db, shoot)
    assert found is not None
    assert found.tally.in_conflict == 1

    conflict = outcomes(runtime, shoot)["QH_0002"]
    assert (conflict.outcome, conflict.merged.conflicts) == ("conflict", ("stars",))
    assert (conflict.here.mark, conflict.in_file.mark) == (Mark(stars=3), Mark(stars=5, label="A"))
    before = (folder / "QH_0002.xmp").read_bytes()
    written, _ = write(runtime, shoot)
    assert [frame for frame, _ in written.problems] == [conflict.frame]
    assert (folder / "QH_0002.xmp").read_bytes() == before

    _, change = write(runtime, shoot, FILES)
    assert change is not None
    assert mark_of(runtime, shoot, "QH_0002") == Mark(stars=5, label="A")
    assert {p.outcome for p in outcomes(runtime, shoot).values()} == {"same"}
    assert file_state.waiting(runtime.db, shoot) == {}


def test_conflicts_are_decided_one_by_one_or_for_a_kind(runtime: Runtime, tmp_path: Path) -> None:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1, 2])
    shoot = ready(runtime, folder)
    for name in ("QH_0001", "QH_0002"):
        set_mark(runtime, shoot, name, Edit(stars=2))
        set_texts(runtime, shoot, name, TextEdit({"title": "Ours"}))
        state(folder / f"{name}.xmp", Stated(FileMark(4), Texts("Theirs")))
    assert {p.merged.conflicts for p in outcomes(runtime, shoot).values()} == {("stars", "title")}
    first = frame_of(runtime, shoot, "QH_0001")
    write(runtime, shoot, Order(kinds={"stars": "here", "title": "file"},
                               single={(first, "title"): "here"}))  # fmt: skip
    assert read_sidecar((folder / "QH_0001.xmp").read_bytes()).texts.title == "Ours"
    assert said_now(runtime, shoot, "QH_0002") == Said(Mark(stars=2), Texts("Theirs"))
    assert mark_in(folder / "QH_0002.xmp").rating == 2


def test_a_sidecar_that_appears_under_the_name_is_not_overlooked(
    runtime: Runtime, tmp_path: Path
) -> None:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1])
    shoot = ready(runtime, folder)
    set_mark(runtime, shoot, "QH_0001", Edit(stars=2))
    state(folder / "QH_0001.xmp", Stated(FileMark(4)))
    written, change = write(runtime, shoot)
    assert (written.written, len(written.problems), change) == (0, 1, None)
    write(runtime, shoot, OURS)
    assert mark_in(folder / "QH_0001.xmp").rating == 2


def test_a_label_of_others_is_never_written_over_unasked(runtime: Runtime, tmp_path: Path) -> None:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1, 2])
    for name in ("QH_0001", "QH_0002"):
        state(folder / f"{name}.xmp", Stated(FileMark(label="Zweite Wahl")))
    shoot = ready(runtime, folder)
    set_mark(runtime, shoot, "QH_0001", Edit(stars=2))
    set_mark(runtime, shoot, "QH_0002", Edit(label="A"))
    planned = outcomes(runtime, shoot)["QH_0002"]
    assert (planned.outcome, planned.stated.mark.label) == ("conflict", "Zweite Wahl")
    write(runtime, shoot)
    assert mark_in(folder / "QH_0001.xmp") == FileMark(2, "Zweite Wahl")
    assert mark_in(folder / "QH_0002.xmp") == FileMark(label="Zweite Wahl")
    write(runtime, shoot, OURS)
    assert mark_in(folder / "QH_0002.xmp") == FileMark(label="Album")


def test_a_label_text_of_others_gets_a_meaning(runtime: Runtime, tmp_path: Path) -> None:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1, 2])
    state(folder / "QH_0001.xmp", Stated(FileMark(3, "Zweite Wahl")))
    shoot = ready(runtime, folder)
    assert mark_of(runtime, shoot, "QH_0001") == Mark(stars=3)
    found = label_texts.give_meaning(runtime.db, shoot, "zweite wahl", "A")
    files_read.read_changed(runtime.db, shoot, only=found)
    assert mark_of(runtime, shoot, "QH_0001") == Mark(stars=3, label="A")
    # The text stays as others wrote it while it means what is said here.
    assert outcomes(runtime, shoot)["QH_0001"].outcome in ("same", "change")
    state(folder / "QH_0002.xmp", Stated(FileMark(label="ZWEITE WAHL")))
    indexed(runtime, folder)
    assert mark_of(runtime, shoot, "QH_0002") == Mark(label="A")


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


def test_changes_outside_are_offered_while_the_shoot_is_open(
    runtime: Runtime, tmp_path: Path
) -> None:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1, 2])
    shoot = ready(runtime, folder)
    for name in ("QH_0001", "QH_0002"):
        set_mark(runtime, shoot, name, Edit(stars=1))
    write(runtime, shoot)
    state(folder / "QH_0001.xmp", Stated(FileMark(5)))
    os.utime(folder / "QH_0002.xmp")  # touched, but it says the same
    runtime.indexer.start(shoot, offer=True)
    until(lambda: not runtime.indexer.status(shoot).running)
    frame = frame_of(runtime, shoot, "QH_0001")
    assert file_state.offered(runtime.db, shoot) == [frame]
    assert mark_of(runtime, shoot, "QH_0001") == Mark(stars=1)
    found = shoots.get(runtime.db, shoot)
    assert found is not None
    assert found.tally.changed_outside == 1
    change, _ = files_read.read_changed(runtime.db, shoot, only=[frame])
    assert change is not None
    assert mark_of(runtime, shoot, "QH_0001") == Mark(stars=5)
    assert file_state.offered(runtime.db, shoot) == []
    # Taken back, it is what is said here that is new.
    history.undo(runtime.db, shoot)
    write(runtime, shoot)
    assert mark_in(folder / "QH_0001.xmp").rating == 1


def test_what_a_picture_or_a_new_sidecar_says_later_is_offered_too(
    runtime: Runtime, tmp_path: Path
) -> None:
    folder = tmp_path / "shoot"
    (path, _, _) = write_shoot(folder, [1, 2, 3])
    shoot = ready(runtime, folder)
    path.write_bytes(xmp.with_embedded(path.read_bytes(), Stated(FileMark(5))))
    state(folder / "QH_0002.xmp", Stated(texts=Texts("Theirs")))
    runtime.indexer.start(shoot, offer=True)
    until(lambda: not runtime.indexer.status(shoot).running)
    offered = [frame_of(runtime, shoot, name) for name in ("QH_0001", "QH_0002")]
    assert file_state.offered(runtime.db, shoot) == offered
    assert mark_of(runtime, shoot, "QH_0001") == Mark()
    # A frame that comes in with marks brings them along.
    (folder / "QH_0004.jpg").write_bytes(xmp.with_embedded(jpeg(4), Stated(FileMark(2))))
    runtime.indexer.start(shoot, offer=True)
    until(lambda: not runtime.indexer.status(shoot).running)
    assert mark_of(runtime, shoot, "QH_0004") == Mark(stars=2)
    files_read.read_changed(runtime.db, shoot, only=offered)
    assert mark_of(runtime, shoot, "QH_0001") == Mark(stars=5)
    assert said_now(runtime, shoot, "QH_0002").texts.title == "Theirs"


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


def test_nothing_is_taken_away_by_what_nobody_looked_at(runtime: Runtime, tmp_path: Path) -> None:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1, 2])
    shoot = ready(runtime, folder)
    for name in ("QH_0001", "QH_0002"):
        set_mark(runtime, shoot, name, Edit(stars=1))
        set_texts(runtime, shoot, name, TextEdit({"title": "Dusk"}))
    write(runtime, shoot)
    # One loses its title to another program, the other one gains a caption.
    state(folder / "QH_0001.xmp", Stated(FileMark(1)))
    state(folder / "QH_0002.xmp", Stated(FileMark(1), Texts("Dusk", "At the quay")))
    set_mark(runtime, shoot, "QH_0001", Edit(stars=3))
    set_mark(runtime, shoot, "QH_0002", Edit(stars=3))
    write(runtime, shoot, Order(shown={}))
    assert said_now(runtime, shoot, "QH_0001").texts.title == "Dusk"
    assert file_state.offered(runtime.db, shoot) == [frame_of(runtime, shoot, "QH_0001")]
    assert mark_in(folder / "QH_0001.xmp").rating == 1
    assert said_now(runtime, shoot, "QH_0002") == Said(Mark(stars=3), Texts("Dusk", "At the quay"))
    assert mark_in(folder / "QH_0002.xmp").rating == 3


def test_what_the_plan_did_not_show_is_not_taken_away(runtime: Runtime, tmp_path: Path) -> None:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1, 2])
    shoot = ready(runtime, folder)
    for name in ("QH_0001", "QH_0002"):
        set_texts(runtime, shoot, name, TextEdit({"title": "Dusk"}))
    write(runtime, shoot)
    state(folder / "QH_0001.xmp", Stated(FileMark(1)))
    seen = files_write.shown(files_write.plan(runtime.db, shoot))
    # Between looking and writing, another program takes something away from the other one as well.
    state(folder / "QH_0002.xmp", Stated(FileMark(1)))
    write(runtime, shoot, Order(shown=seen))
    assert said_now(runtime, shoot, "QH_0001").texts.title == ""
    assert said_now(runtime, shoot, "QH_0002").texts.title == "Dusk"
    assert file_state.offered(runtime.db, shoot) == [frame_of(runtime, shoot, "QH_0002")]


def test_a_file_that_changes_while_others_are_written_is_left_alone(
    runtime: Runtime, tmp_path: Path
) -> None:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1, 2])
    shoot = ready(runtime, folder)
    for name in ("QH_0001", "QH_0002"):
        set_mark(runtime, shoot, name, Edit(stars=1))
    write(runtime, shoot)
    for name in ("QH_0001", "QH_0002"):
        set_mark(runtime, shoot, name, Edit(stars=2))
    planned = files_write.plan

    def then_another_program_writes(*arguments: object) -> list[Planned]:
        result = planned(*arguments)  # type: ignore[arg-type]
        state(folder / "QH_0002.xmp", Stated(FileMark(5), Texts("Theirs")))
        return result

    with pytest.MonkeyPatch.context() as patched:
        patched.setattr(files_write, "plan", then_another_program_writes)
        written, _ = write(runtime, shoot)
    assert (written.written, len(written.problems)) == (1, 1)
    assert "changed by another program" in written.problems[0][1]
    assert read_sidecar((folder / "QH_0002.xmp").read_bytes()).texts.title == "Theirs"
    assert outcomes(runtime, shoot)["QH_0002"].merged.conflicts == ("stars",)


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


@pytest.mark.parametrize("look_first", [False, True])
def test_sidecars_that_were_deleted_take_nothing_back_and_are_written_again(
    runtime: Runtime, tmp_path: Path, look_first: bool
) -> None:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1, 2])
    shoot = ready(runtime, folder)
    set_mark(runtime, shoot, "QH_0001", Edit(Decision.PICK, 4, "R"))
    set_texts(runtime, shoot, "QH_0001", TextEdit({"title": "Dusk"}, add=("quay",)))
    write(runtime, shoot)
    before = said_now(runtime, shoot, "QH_0001")
    (folder / "QH_0001.xmp").unlink()
    if look_first:
        indexed(runtime, folder)
        assert file_state.offered(runtime.db, shoot) == []
    planned = outcomes(runtime, shoot)["QH_0001"]
    assert (planned.outcome, planned.merged.took) == ("new", ())
    written, change = write(runtime, shoot)
    assert (written.written, change) == (1, None)
    assert said_now(runtime, shoot, "QH_0001") == before
    stated = read_sidecar((folder / "QH_0001.xmp").read_bytes())
    assert (stated.mark.rating, stated.texts.title, stated.texts.keywords) == (4, "Dusk", ("quay",))


def test_a_picture_that_states_less_than_its_lost_sidecar_did_takes_nothing_back(
    runtime: Runtime, tmp_path: Path
) -> None:
    folder = tmp_path / "shoot"
    (path,) = write_shoot(folder, [1])
    path.write_bytes(xmp.with_embedded(path.read_bytes(), Stated(FileMark(2), Texts(title="Old"))))
    shoot = ready(runtime, folder)
    set_mark(runtime, shoot, "QH_0001", Edit(stars=4))
    set_texts(runtime, shoot, "QH_0001", TextEdit({"title": "New"}))
    write(runtime, shoot)
    (folder / "QH_0001.xmp").unlink()
    indexed(runtime, folder)
    write(runtime, shoot)
    assert mark_of(runtime, shoot, "QH_0001") == Mark(stars=4)
    assert said_now(runtime, shoot, "QH_0001").texts.title == "New"
    assert mark_in(folder / "QH_0001.xmp").rating == 4


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
