"""What other programs change in files is taken over or offered; nothing is taken away unasked."""

import os
from pathlib import Path

import pytest

from tests.conftest import indexed, until
from tests.pictures import jpeg, write_shoot
from tests.ready import ready
from tests.work.saying import (
    FILES,
    OURS,
    frame_of,
    mark_in,
    mark_of,
    outcomes,
    said_now,
    set_mark,
    set_texts,
    state,
    write,
)
from winnow.core.files.merge import Said, Stated
from winnow.core.files.profiles import FileMark
from winnow.core.files.texts import TextEdit, Texts
from winnow.core.marks import Decision, Edit, Mark
from winnow.photos import xmp
from winnow.photos.xmp import read_sidecar
from winnow.store import file_state, history, shoots
from winnow.work.files import label_texts
from winnow.work.files import read as files_read
from winnow.work.files import write as files_write
from winnow.work.files.write import Order, Planned
from winnow.work.runtime import Runtime


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
