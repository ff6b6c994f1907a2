"""Marks in sidecars: taken on opening, written on command, never overwritten in silence."""

from pathlib import Path

from tests.conftest import indexed
from tests.pictures import write_shoot
from winnow.core.marks import Change, Decision, Edit, Mark, plan_edit
from winnow.core.sync import FileMark
from winnow.photos.metadata import read_mark, with_mark
from winnow.store import frames, marks, on_disk
from winnow.work import sidecars
from winnow.work.studio import Studio


def set_mark(studio: Studio, shoot: int, name: str, edit: Edit) -> None:
    frame = next(row.id for row in frames.rows(studio.db, shoot) if row.name == name)

    def plan() -> Change | None:
        return plan_edit(edit, marks.marks_of(studio.db, shoot, [frame]), {frame: name}, {})

    marks.apply(studio.db, shoot, plan)


def mark_of(studio: Studio, shoot: int, name: str) -> Mark:
    return next(row.mark for row in frames.rows(studio.db, shoot) if row.name == name)


def test_written_marks_are_read_by_another_shoot(studio: Studio, tmp_path: Path) -> None:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1, 2, 3])
    shoot = indexed(studio, folder)
    set_mark(studio, shoot, "QH_0001", Edit(Decision.PICK, 4, "R"))
    set_mark(studio, shoot, "QH_0002", Edit(Decision.REJECT))
    written, change = sidecars.write(studio.db, shoot)
    assert (written.written, written.problems, change) == (2, (), None)
    assert read_mark((folder / "QH_0001.xmp").read_bytes()) == FileMark(4, "Retouch", True)
    assert read_mark((folder / "QH_0002.xmp").read_bytes()).rating == -1
    assert not (folder / "QH_0003.xmp").exists()

    from winnow.store import shoots

    shoots.forget(studio.db, shoot)
    again = indexed(studio, folder)
    assert mark_of(studio, again, "QH_0001") == Mark(Decision.PICK, 4, "R")
    assert mark_of(studio, again, "QH_0002") == Mark(Decision.REJECT)
    assert marks.history(studio.db, again).undo == "marks taken from 2 sidecars"
    marks.undo(studio.db, again)
    assert mark_of(studio, again, "QH_0001") == Mark()


def test_writing_twice_changes_nothing(studio: Studio, tmp_path: Path) -> None:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1])
    shoot = indexed(studio, folder)
    set_mark(studio, shoot, "QH_0001", Edit(stars=2))
    sidecars.write(studio.db, shoot)
    before = (folder / "QH_0001.xmp").stat().st_mtime_ns
    indexed(studio, folder)
    written, _ = sidecars.write(studio.db, shoot)
    assert (written.written, written.same) == (0, 1)
    assert (folder / "QH_0001.xmp").stat().st_mtime_ns == before
    assert marks.history(studio.db, shoot).undo == "2 stars on QH_0001"


def test_a_change_from_outside_is_taken_over_and_a_conflict_left(
    studio: Studio, tmp_path: Path
) -> None:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1, 2])
    shoot = indexed(studio, folder)
    for name in ("QH_0001", "QH_0002"):
        set_mark(studio, shoot, name, Edit(stars=1))
    sidecars.write(studio.db, shoot)
    for name in ("QH_0001", "QH_0002"):
        path = folder / f"{name}.xmp"
        path.write_bytes(with_mark(path.read_bytes(), FileMark(5, "Album")))
    set_mark(studio, shoot, "QH_0002", Edit(stars=3))
    indexed(studio, folder)
    assert mark_of(studio, shoot, "QH_0001") == Mark(stars=5, label="A")
    assert mark_of(studio, shoot, "QH_0002") == Mark(stars=3)
    assert "different things" in " ".join(studio.indexer.status(shoot).notices)

    (conflict,) = [p for p in sidecars.plan(studio.db, shoot) if p.outcome == "conflict"]
    assert (conflict.here, conflict.in_file) == (Mark(stars=3), Mark(stars=5, label="A"))
    before = (folder / "QH_0002.xmp").read_bytes()
    written, _ = sidecars.write(studio.db, shoot)
    assert [p.frame for p in written.problems] == [conflict.frame]
    assert (folder / "QH_0002.xmp").read_bytes() == before

    _, change = sidecars.write(studio.db, shoot, "file")
    assert change is not None
    assert mark_of(studio, shoot, "QH_0002") == Mark(stars=5, label="A")
    assert {p.outcome for p in sidecars.plan(studio.db, shoot)} == {"same"}


def test_ours_over_theirs_on_wish(studio: Studio, tmp_path: Path) -> None:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1])
    shoot = indexed(studio, folder)
    set_mark(studio, shoot, "QH_0001", Edit(stars=2))
    (folder / "QH_0001.xmp").write_bytes(with_mark(None, FileMark(4)))
    written, change = sidecars.write(studio.db, shoot)
    assert (written.written, len(written.problems), change) == (0, 1, None)
    sidecars.write(studio.db, shoot, "ours")
    assert read_mark((folder / "QH_0001.xmp").read_bytes()).rating == 2


def test_a_label_of_others_is_never_written_over_unasked(studio: Studio, tmp_path: Path) -> None:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1, 2])
    for name in ("QH_0001", "QH_0002"):
        (folder / f"{name}.xmp").write_bytes(with_mark(None, FileMark(label="Zweite Wahl")))
    shoot = indexed(studio, folder)
    set_mark(studio, shoot, "QH_0001", Edit(stars=2))
    set_mark(studio, shoot, "QH_0002", Edit(label="A"))
    written, _ = sidecars.write(studio.db, shoot)
    assert read_mark((folder / "QH_0001.xmp").read_bytes()) == FileMark(2, "Zweite Wahl")
    assert read_mark((folder / "QH_0002.xmp").read_bytes()) == FileMark(label="Zweite Wahl")
    assert "Zweite Wahl" in written.problems[0].notice


def test_a_broken_sidecar_is_left_alone(studio: Studio, tmp_path: Path) -> None:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1])
    broken = with_mark(None, FileMark(3))[:120]
    (folder / "QH_0001.xmp").write_bytes(broken)
    shoot = indexed(studio, folder)
    assert "left alone" in " ".join(studio.indexer.status(shoot).notices)
    set_mark(studio, shoot, "QH_0001", Edit(stars=5))
    written, _ = sidecars.write(studio.db, shoot, "ours")
    assert written.written == 0
    assert (folder / "QH_0001.xmp").read_bytes() == broken


def test_two_frames_of_one_stem_get_sidecars_of_their_own(studio: Studio, tmp_path: Path) -> None:
    folder = tmp_path / "shoot"
    (jpg,) = write_shoot(folder, [1])
    (folder / "QH_0001.jpeg").write_bytes(jpg.read_bytes())
    shoot = indexed(studio, folder)
    files = on_disk.files_of(studio.db, [row.id for row in frames.rows(studio.db, shoot)])
    assert sorted(p.name for p in sidecars.targets(files).values()) == [
        "QH_0001.jpeg.xmp",
        "QH_0001.jpg.xmp",
    ]
