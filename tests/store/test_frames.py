"""What a look at the disk does to the stored frames."""

import pytest

from winnow.core.facts import Facts
from winnow.core.frames import FoundFile, FoundFrame
from winnow.store import frame_figures, frame_files, frame_order, frames, reconcile, shoots
from winnow.store.db import Database
from winnow.store.frame_figures import ReadFacts
from winnow.store.frames import State
from winnow.store.reconcile import Difference


def found(*names: str, mtime: int = 1) -> list[FoundFrame]:
    return [FoundFrame((FoundFile(name, 10, mtime),)) for name in names]


@pytest.fixture
def place(db: Database) -> tuple[int, int]:
    shoot = shoots.make(db, "Test", ["/pictures"])
    return shoot, shoots.folders_of(db, shoot)[0].id


def test_added_changed_removed_and_returned(db: Database, place: tuple[int, int]) -> None:
    assert reconcile.reconcile(db, *place, found("a.jpg", "b.jpg"), []) == Difference(added=2)
    assert not reconcile.reconcile(db, *place, found("a.jpg", "b.jpg"), []).any
    frame_figures.keep_failures(db, [(1, "broken")])
    changed = reconcile.reconcile(db, *place, found("a.jpg", mtime=2) + found("b.jpg"), [])
    assert changed == Difference(changed=1)
    assert frames.rows(db, place[0])[0].state == State.FOUND
    assert reconcile.reconcile(db, *place, found("a.jpg", mtime=2), []) == Difference(removed=1)
    assert [row.missing for row in frames.rows(db, place[0])] == [False, True]
    returned = reconcile.reconcile(db, *place, found("a.jpg", mtime=2) + found("b.jpg"), [])
    assert returned == Difference(returned=1)


def test_what_could_not_be_read_is_not_taken_for_removed(
    db: Database, place: tuple[int, int]
) -> None:
    reconcile.reconcile(db, *place, found("a.jpg", "closed/b.jpg", "closed2/c.jpg"), [])
    difference = reconcile.reconcile(db, *place, found("a.jpg"), ["closed"])
    assert difference == Difference(removed=1)
    assert {r.name: r.missing for r in frames.rows(db, place[0])} == {
        "a": False,
        "b": False,
        "c": True,
    }


def test_order_is_by_time_then_name(db: Database, place: tuple[int, int]) -> None:
    reconcile.reconcile(db, *place, found("QH_9999.jpg", "QH_0001.jpg", "QH_0002.jpg", "x.jpg"), [])
    ids = {row.name: row.id for row in frames.rows(db, place[0])}
    times = {"QH_9999": 10.0, "QH_0001": 10.5, "QH_0002": 10.5}
    frame_figures.keep_facts(
        db, [ReadFacts(ids[n], "key", Facts(taken_at=t), 0.0, False) for n, t in times.items()]
    )
    assert frame_order.put_in_order(db, place[0])
    assert not frame_order.put_in_order(db, place[0])
    assert [r.name for r in frames.rows(db, place[0])] == ["QH_9999", "QH_0001", "QH_0002", "x"]


def test_where_time_zones_are_known_order_is_by_the_instant(
    db: Database, place: tuple[int, int]
) -> None:
    """Two cameras whose clocks are two hours apart, as they state, and one that states nothing, in
    turn."""
    reconcile.reconcile(db, *place, found("a.jpg", "b.jpg", "c.jpg", "d.jpg", "e.jpg"), [])
    ids = {row.name: row.id for row in frames.rows(db, place[0])}
    noon, hours = 12 * 3600.0, 3600.0
    taken = {
        "a": Facts(taken_at=noon, utc_offset_min=120, camera="One"),
        "b": Facts(taken_at=noon + 60 - 2 * hours, utc_offset_min=0, camera="Two"),
        "c": Facts(taken_at=noon + 120, utc_offset_min=120, camera="One"),
        "d": Facts(taken_at=noon + 180, camera="Three"),
        "e": Facts(taken_at=noon + 240, utc_offset_min=120, camera="One"),
    }
    # Read one by one: in between, the zone of most is another one.
    for name in "bdace":
        frame_figures.keep_facts(db, [ReadFacts(ids[name], "key", taken[name], 0.0, False)])
    frame_order.put_in_order(db, place[0])
    rows = frames.rows(db, place[0])
    assert [(r.name, r.shot_at) for r in rows] == [
        (name, noon + 60 * n) for n, name in enumerate("abcde")
    ]
    known = {clock.camera: (clock.zones, clock.unzoned) for clock in shoots.clocks(db, place[0])}
    assert known == {"One": ((120,), 0), "Two": ((0,), 0), "Three": ((), 1)}
    # What is added to a clock counts on top.
    shoots.set_clock(db, place[0], "Two", "", 90)
    frame_order.set_shot_times(db, place[0])
    assert next(r.shot_at for r in frames.rows(db, place[0]) if r.name == "b") == noon + 150


def test_files_without_a_time_are_instants_wherever_they_were_read(
    db: Database, place: tuple[int, int]
) -> None:
    """Changed a minute after each other, and read by computers fourteen hours apart."""
    reconcile.reconcile(db, *place, found("a.jpg", "b.jpg"), [])
    ids = {row.name: row.id for row in frames.rows(db, place[0])}
    for name, changed, zone in (("a", 0, 840), ("b", 60, 0)):
        at = 1e9 + changed + 60 * zone
        frame_figures.keep_facts(db, [ReadFacts(ids[name], "key", Facts(), at, False, zone)])
    a, b = (row.shot_at for row in frames.rows(db, place[0]))
    assert a is not None
    assert b is not None
    assert b - a == 60
    (clock,) = shoots.clocks(db, place[0])
    assert (clock.zones, clock.unzoned) == ((), 2)


def test_the_zone_of_a_shoot_that_was_read_before_is_settled_once(
    db: Database, place: tuple[int, int]
) -> None:
    reconcile.reconcile(db, *place, found("a.jpg", "b.jpg"), [])
    with db.write() as conn:
        conn.execute("UPDATE frame SET taken_at = 7200, utc_offset_min = 60")
    assert frame_order.settle_zone(db, place[0])
    assert not frame_order.settle_zone(db, place[0])
    row = frames.get(db, 1)
    assert row is not None
    assert (row.shoot_utc_offset_min, row.shot_at) == (60, 7200)


def test_facts_of_an_upright_frame_are_turned(db: Database, place: tuple[int, int]) -> None:
    reconcile.reconcile(db, *place, found("a.jpg"), [])
    frame_figures.keep_facts(
        db, [ReadFacts(1, "k", Facts(width=60, height=40, orientation=6), 5.0, True)]
    )
    (row,) = frames.rows(db, place[0])
    assert (row.width, row.height, row.shot_at, row.picture) == (40, 60, 5.0, 1)


def sized(name: str, size: int, mtime: int = 7) -> FoundFrame:
    return FoundFrame((FoundFile(name, size, mtime),))


def names_by_id(db: Database, shoot: int) -> dict[int, tuple[str, bool]]:
    return {row.id: (row.name, row.missing) for row in frames.rows(db, shoot)}


def test_content_goes_before_names(db: Database, place: tuple[int, int]) -> None:
    """Two exchanged their names, three moved on by one, and one has the name of a frame that is
    gone."""
    sizes = {"a.jpg": 1, "b.jpg": 2, "c.jpg": 3, "d.jpg": 4, "e.jpg": 5, "x.jpg": 6, "y.jpg": 7}
    reconcile.reconcile(db, *place, [sized(name, size) for name, size in sizes.items()], [])
    ids = {row.name: row.id for row in frames.rows(db, place[0])}
    now = {"b.jpg": 1, "a.jpg": 2, "d.jpg": 3, "e.jpg": 4, "f.jpg": 5, "x.jpg": 7}
    found = [sized(name, size) for name, size in now.items()]
    difference = reconcile.reconcile(db, *place, found, [])
    assert difference == Difference(removed=1, moved=6)
    assert names_by_id(db, place[0]) == {
        ids["a"]: ("b", False), ids["b"]: ("a", False), ids["c"]: ("d", False), ids["d"]: ("e",
        False),
        ids["e"]: ("f", False), ids["y"]: ("x", False), ids["x"]: ("x", True),
    }  # fmt: skip
    assert not reconcile.reconcile(db, *place, found, []).any
    # The one that was gone comes back under another name.
    found.append(sized("z.jpg", 6))
    assert reconcile.reconcile(db, *place, found, []) == Difference(moved=1)
    assert names_by_id(db, place[0])[ids["x"]] == ("z", False)


def test_content_is_read_where_times_do_not_say_which_is_which(
    db: Database, place: tuple[int, int]
) -> None:
    """Copied with new times, of one size, and with exchanged names."""
    reconcile.reconcile(
        db, *place, [sized("a.jpg", 9, 1), sized("b.jpg", 9, 1), sized("c.jpg", 8, 1)], []
    )
    ids = {row.name: row.id for row in frames.rows(db, place[0])}
    with db.write() as conn:
        for name, content in (("a", "A"), ("b", "B"), ("c", "C")):
            conn.execute("UPDATE frame SET content_hash = ? WHERE name = ?", (content, name))
    asked: list[str] = []

    def digest(path: str) -> str | None:
        asked.append(path)
        return {"a.jpg": "B", "b.jpg": "A", "new.jpg": None}.get(path, "other")

    found = [
        sized("a.jpg", 9, 2),
        sized("b.jpg", 9, 3),
        sized("c.jpg", 8, 1),
        sized("new.jpg", 9, 5),
        sized("d.jpg", 7),
    ]
    assert reconcile.reconcile(db, *place, found, [], digest) == Difference(added=2, moved=2)
    assert sorted(asked) == ["a.jpg", "b.jpg", "new.jpg"], "only what may be one of them"
    assert names_by_id(db, place[0])[ids["a"]] == ("b", False)
    assert names_by_id(db, place[0])[ids["b"]] == ("a", False)


def test_a_file_that_was_edited_in_its_place_keeps_its_marks(
    db: Database, place: tuple[int, int]
) -> None:
    reconcile.reconcile(db, *place, [sized("a.jpg", 9, 1), sized("b.jpg", 8, 1)], [])
    found = [sized("a.jpg", 10, 2), sized("b.jpg", 8, 1)]
    assert reconcile.reconcile(db, *place, found, []) == Difference(changed=1)
    assert len(frames.rows(db, place[0])) == 2


def test_a_renamed_or_moved_frame_is_followed_with_its_marks(
    db: Database, place: tuple[int, int]
) -> None:
    before = [sized("a.jpg", 100), sized("b.jpg", 200), sized("empty1.jpg", 0)]
    reconcile.reconcile(db, *place, before, [])
    ids = {row.name: row.id for row in frames.rows(db, place[0])}
    after = [sized("kept/best.jpg", 100), sized("b.jpg", 200), sized("empty2.jpg", 0)]
    assert reconcile.reconcile(db, *place, after, []) == Difference(moved=2)
    rows = {row.name: row for row in frames.rows(db, place[0])}
    assert rows["best"].id == ids["a"]
    assert not rows["best"].missing
    (found_files,) = frame_files.files_of(db, [ids["a"]])
    assert str(found_files.shown) == "/pictures/kept/best.jpg"


def test_frames_that_look_alike_are_not_taken_for_each_other(
    db: Database, place: tuple[int, int]
) -> None:
    reconcile.reconcile(db, *place, [sized("a.jpg", 0), sized("b.jpg", 0)], [])
    difference = reconcile.reconcile(db, *place, [sized("c.jpg", 0), sized("d.jpg", 0)], [])
    assert difference == Difference(added=2, removed=2)


def test_a_copy_beside_its_original_is_a_frame_of_its_own(
    db: Database, place: tuple[int, int]
) -> None:
    reconcile.reconcile(db, *place, [sized("a.jpg", 100)], [])
    both = [sized("a.jpg", 100), sized("a copy.jpg", 100)]
    assert reconcile.reconcile(db, *place, both, []) == Difference(added=1)
