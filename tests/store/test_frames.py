"""What a look at the disk does to the stored frames."""

import pytest

from winnow.core.frames import FoundFile, FoundFrame
from winnow.photos.metadata import Facts
from winnow.store import frames, shoots
from winnow.store.db import Database
from winnow.store.frames import Difference, State


def found(*names: str, mtime: int = 1) -> list[FoundFrame]:
    return [FoundFrame((FoundFile(name, 10, mtime),)) for name in names]


@pytest.fixture
def place(db: Database) -> tuple[int, int]:
    shoot = shoots.make(db, "Test", ["/pictures"])
    return shoot, shoots.folders_of(db, shoot)[0].id


def test_added_changed_removed_and_returned(db: Database, place: tuple[int, int]) -> None:
    assert frames.reconcile(db, *place, found("a.jpg", "b.jpg"), []) == Difference(added=2)
    assert not frames.reconcile(db, *place, found("a.jpg", "b.jpg"), []).any
    frames.keep_failures(db, [(1, "broken")])
    changed = frames.reconcile(db, *place, found("a.jpg", mtime=2) + found("b.jpg"), [])
    assert changed == Difference(changed=1)
    assert frames.rows(db, place[0])[0].state == State.FOUND
    assert frames.reconcile(db, *place, found("a.jpg", mtime=2), []) == Difference(removed=1)
    assert [row.missing for row in frames.rows(db, place[0])] == [False, True]
    returned = frames.reconcile(db, *place, found("a.jpg", mtime=2) + found("b.jpg"), [])
    assert returned == Difference(returned=1)


def test_what_could_not_be_read_is_not_taken_for_removed(
    db: Database, place: tuple[int, int]
) -> None:
    frames.reconcile(db, *place, found("a.jpg", "closed/b.jpg", "closed2/c.jpg"), [])
    difference = frames.reconcile(db, *place, found("a.jpg"), ["closed"])
    assert difference == Difference(removed=1)
    assert {r.name: r.missing for r in frames.rows(db, place[0])} == {
        "a": False,
        "b": False,
        "c": True,
    }


def test_order_is_by_time_then_name(db: Database, place: tuple[int, int]) -> None:
    frames.reconcile(db, *place, found("QH_9999.jpg", "QH_0001.jpg", "QH_0002.jpg", "x.jpg"), [])
    ids = {row.name: row.id for row in frames.rows(db, place[0])}
    times = {"QH_9999": 10.0, "QH_0001": 10.5, "QH_0002": 10.5}
    frames.keep_facts(
        db, [(ids[n], "key", Facts(taken_at=t), 0.0, False) for n, t in times.items()]
    )
    assert frames.put_in_order(db, place[0])
    assert not frames.put_in_order(db, place[0])
    assert [r.name for r in frames.rows(db, place[0])] == ["QH_9999", "QH_0001", "QH_0002", "x"]


def test_facts_of_an_upright_frame_are_turned(db: Database, place: tuple[int, int]) -> None:
    frames.reconcile(db, *place, found("a.jpg"), [])
    frames.keep_facts(db, [(1, "k", Facts(width=60, height=40, orientation=6), 5.0, True)])
    (row,) = frames.rows(db, place[0])
    assert (row.width, row.height, row.taken_at, row.picture) == (40, 60, 5.0, 1)
