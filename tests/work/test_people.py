"""People are told apart where somebody wants it, and forgotten with all that was made for it."""

from __future__ import annotations

from pathlib import Path

import pytest

from tests.conftest import indexed, until
from tests.pictures import write_natural
from tests.store.test_marks import edit
from winnow.core.filters.filter import Filter
from winnow.core.filters.parser import parse
from winnow.core.marks import Decision, Edit
from winnow.store import frames, people, shoots
from winnow.store.people import HIDDEN, Saying
from winnow.work import filtering
from winnow.work import people as work
from winnow.work.runtime import Runtime
from winnow.work.workers import face_tasks

FOUR = [(0, 0, 0), (30, 10, 0), (-20, 15, 0), (10, -20, 0)]


@pytest.fixture
def shoot(runtime: Runtime, tmp_path: Path) -> int:
    write_natural(tmp_path / "shoot", FOUR)
    return indexed(runtime, tmp_path / "shoot")


def told_apart(runtime: Runtime, shoot: int) -> list[work.Person]:
    people.switch_on(runtime.db, shoot)
    return looked_again(runtime, shoot)


def looked_again(runtime: Runtime, shoot: int) -> list[work.Person]:
    runtime.indexer.start(shoot)
    until(lambda: not runtime.indexer.status(shoot).running)
    assert not people.is_stale(runtime.db, shoot)
    return work.people_of(runtime.db, shoot).people


def found(runtime: Runtime, shoot: int, written: str) -> list[int]:
    wanted = Filter((), "at_least", None, (), written, parse(written, {}))
    return filtering.matching(runtime.db, shoot, wanted)


def test_nobody_is_told_apart_unless_it_is_switched_on(runtime: Runtime, shoot: int) -> None:
    assert not people.is_on(runtime.db, shoot)
    assert looked_again_is_idle(runtime, shoot)
    assert not list(runtime.db.path.parent.glob("people*"))


def looked_again_is_idle(runtime: Runtime, shoot: int) -> bool:
    runtime.indexer.start(shoot)
    until(lambda: not runtime.indexer.status(shoot).running)
    return work.people_of(runtime.db, shoot).people == []


def test_one_person_in_four_frames_has_her_picks_and_a_filter(runtime: Runtime, shoot: int) -> None:
    (person,) = told_apart(runtime, shoot)
    ids = [row.id for row in frames.rows(runtime.db, shoot)]
    assert [face.frame for face in person.faces] == ids
    assert (person.number, person.picks) == (1, [])
    edit(runtime.db, shoot, Edit(Decision.PICK), ids[1:2])
    (person,) = work.people_of(runtime.db, shoot).people
    assert (person.picks, person.open_picks) == (ids[1:2], ids[1:2])
    assert person.faces[person.best].frame == ids[1], "a pick is the best so far"
    assert found(runtime, shoot, "person 1") == ids
    assert found(runtime, shoot, "person 1 pick") == ids[1:2]
    assert found(runtime, shoot, "person 2") == []
    assert found(runtime, shoot, "not person 2") == ids


def test_a_face_taken_out_is_nobodys_until_that_is_taken_back(runtime: Runtime, shoot: int) -> None:
    told_apart(runtime, shoot)
    kept = people.faces(runtime.db, shoot)[0]
    people.say(runtime.db, shoot, Saying("out", (kept.frame, kept.x, kept.y)))
    (person,) = looked_again(runtime, shoot)
    assert kept.frame not in [face.frame for face in person.faces]
    assert [face.frame for face in work.people_of(runtime.db, shoot).unsure] == [kept.frame]
    assert people.take_back(runtime.db, shoot)
    (person,) = looked_again(runtime, shoot)
    assert len(person.faces) == 4


def test_forgetting_removes_every_number_at_once(runtime: Runtime, shoot: int) -> None:
    told_apart(runtime, shoot)
    people.forget(runtime.db, shoot)
    assert not list(runtime.db.path.parent.glob("people*"))
    assert work.people_of(runtime.db, shoot).people == []
    assert found(runtime, shoot, "person 1") == []
    told_apart(runtime, shoot)
    shoots.forget(runtime.db, shoot)
    assert not list(runtime.db.path.parent.glob("people*"))


def test_numbers_that_are_there_are_not_made_again(
    runtime: Runtime, shoot: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    told_apart(runtime, shoot)

    def never(*_: object) -> None:
        raise AssertionError("looked at again")

    monkeypatch.setattr(face_tasks, "number_faces", never)
    people.take_back(runtime.db, shoot)
    (person,) = looked_again(runtime, shoot)
    assert len(person.faces) == 4


def test_a_damaged_file_is_made_anew(runtime: Runtime, shoot: int) -> None:
    told_apart(runtime, shoot)
    (path,) = runtime.db.path.parent.glob("people*")
    path.write_bytes(b"no database" * 1000)
    runtime.indexer.start(shoot)
    until(lambda: not runtime.indexer.status(shoot).running)
    # The look that came upon it says so; the next one does all of it again.
    (person,) = looked_again(runtime, shoot)
    assert len(person.faces) == 4


def test_while_a_guest_asks_nobody_is_told(runtime: Runtime, shoot: int) -> None:
    told_apart(runtime, shoot)
    hidden = HIDDEN.set(True)
    try:
        assert work.people_of(runtime.db, shoot).people == []
        assert found(runtime, shoot, "person 1") == []
    finally:
        HIDDEN.reset(hidden)
    assert found(runtime, shoot, "person 1")


def test_killed_while_people_are_put_together_it_is_done_again(
    runtime: Runtime, shoot: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    with monkeypatch.context() as patch:
        patch.setattr(people, "keep_people", lambda *_: 1 / 0)
        people.switch_on(runtime.db, shoot)
        runtime.indexer.start(shoot)
        until(lambda: not runtime.indexer.status(shoot).running)
        assert people.is_stale(runtime.db, shoot)
    (person,) = looked_again(runtime, shoot)
    assert len(person.faces) == 4
