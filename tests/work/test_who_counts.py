"""Somebody says whose face counts: what is counted, found and judged follows."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest

from tests.conftest import indexed, until
from tests.core.test_faces import face
from tests.pictures import write_natural
from winnow.core.filters.filter import Filter
from winnow.core.filters.parser import parse
from winnow.core.measure.faces import Face
from winnow.store import face_weights, faces, frames, hints, people
from winnow.store.people import KeptFace
from winnow.work import filtering, who_counts
from winnow.work.compare import face_rows
from winnow.work.evidence import evidence
from winnow.work.index.faces_and_hints import FACE_VERSION
from winnow.work.runtime import Runtime

FOUR = [(0, 0, 0), (30, 10, 0), (-20, 15, 0), (10, -20, 0)]
LEFT, RIGHT = face(0.3, 0.5, 0.3, seed=1), face(0.7, 0.5, 0.28, seed=2)
BLINKS = face(0.7, 0.5, 0.28, gap=0.05, seed=2)


@pytest.fixture
def shoot(runtime: Runtime, tmp_path: Path) -> int:
    """Four frames of two people; the right one, a passer-by, blinks in all but the first."""
    write_natural(tmp_path / "shoot", FOUR)
    shoot = indexed(runtime, tmp_path / "shoot")
    show(runtime, shoot, [[LEFT, RIGHT], *[[LEFT, BLINKS]] * 3])
    return shoot


def ids_of(runtime: Runtime, shoot: int) -> list[int]:
    return [row.id for row in frames.rows(runtime.db, shoot)]


def show(runtime: Runtime, shoot: int, people_in: list[list[Face]]) -> None:
    """Let these faces have been found, and nothing been judged yet."""
    shown = list(zip(ids_of(runtime, shoot), people_in, strict=True))
    faces.keep(runtime.db, shown, FACE_VERSION)
    with runtime.db.write() as conn:
        conn.execute("DELETE FROM judged")
    settled(runtime, shoot)


def settled(runtime: Runtime, shoot: int) -> None:
    runtime.indexer.start(shoot)
    until(lambda: not runtime.indexer.status(shoot).running)
    assert not hints.is_stale(runtime.db, shoot)


def found(runtime: Runtime, shoot: int, written: str) -> list[int]:
    wanted = Filter((), "at_least", None, (), written, parse(written, {}))
    return filtering.matching(runtime.db, shoot, wanted)


def weights(runtime: Runtime, shoot: int) -> list[list[str]]:
    listed = faces.of_frames(runtime.db, ids_of(runtime, shoot))
    return [[face.weight for face in those] for those in listed.values()]


def test_a_passer_by_counts_nowhere_in_the_group(runtime: Runtime, shoot: int) -> None:
    ids = ids_of(runtime, shoot)
    assert found(runtime, shoot, "hint eyes_closed") == ids[1:]
    assert found(runtime, shoot, "faces 2") == ids
    assert (
        who_counts.say(runtime.db, shoot, [(ids[2], *RIGHT.middle)], "none", everywhere=False) == 4
    )
    # What is counted follows at once, also where the right one's eyes are open.
    assert found(runtime, shoot, "faces 2") == []
    assert found(runtime, shoot, "faces 1") == ids
    assert hints.is_stale(runtime.db, shoot)
    settled(runtime, shoot)
    assert found(runtime, shoot, "hint eyes_closed") == []
    rows = face_rows.compare(runtime.db, shoot, ids).rows
    assert [row.faces[1] and (row.faces[1].weight, row.faces[1].counts) for row in rows] == [
        ("", True), ("none", False),
    ]  # fmt: skip
    # It is taken back by saying that it counts as any other.
    who_counts.say(runtime.db, shoot, [(ids[0], *RIGHT.middle)], "", everywhere=False)
    assert face_weights.of_shoot(runtime.db, shoot) == {}
    settled(runtime, shoot)
    assert found(runtime, shoot, "hint eyes_closed") == ids[1:]


def test_the_frames_are_judged_anew_where_it_counts_most(runtime: Runtime, shoot: int) -> None:
    ids = ids_of(runtime, shoot)
    before = hints.judged_of(runtime.db, ids)[ids[0]]
    assert before.x == pytest.approx(LEFT.middle[0])
    who_counts.say(runtime.db, shoot, [(ids[0], *RIGHT.middle)], "most", everywhere=False)
    settled(runtime, shoot)
    assert hints.judged_of(runtime.db, ids)[ids[0]].x == pytest.approx(RIGHT.middle[0])
    verdicts = hints.verdicts_of(runtime.db, ids)
    assert verdicts[ids[0]].best
    assert "face that counts most" in verdicts[ids[1]].words
    # The other one instead: of one face one thing is said.
    who_counts.say(runtime.db, shoot, [(ids[1], *RIGHT.middle)], "none", everywhere=False)
    assert weights(runtime, shoot) == [["", "none"]] * 4


def test_a_frame_that_comes_to_the_group_shows_the_same_passer_by(
    runtime: Runtime, shoot: int
) -> None:
    ids = ids_of(runtime, shoot)
    # Of the last one nothing is known yet.
    faces.keep(runtime.db, [(ids[3], [])], FACE_VERSION)
    who_counts.say(runtime.db, shoot, [(ids[0], *RIGHT.middle)], "none", everywhere=False)
    assert weights(runtime, shoot) == [*[["", "none"]] * 3, []]
    show(runtime, shoot, [[LEFT, RIGHT], *[[LEFT, BLINKS]] * 3])
    assert weights(runtime, shoot) == [["", "none"]] * 4
    assert found(runtime, shoot, "hint eyes_closed") == []


def know(runtime: Runtime, shoot: int, person_of: dict[int, int | None]) -> None:
    """Let the right face of frames be known as people."""
    people.keep(
        runtime.db,
        shoot,
        {
            frame: (
                "key",
                [
                    KeptFace(
                        frame, 1, *RIGHT.middle, np.zeros(128, np.float32), sure=True, person=person
                    )
                ],
            )
            for frame, person in person_of.items()
        },
    )


def test_in_the_whole_shoot_it_is_said_of_a_person(runtime: Runtime, shoot: int) -> None:
    ids = ids_of(runtime, shoot)
    where = [(ids[0], *RIGHT.middle)]
    with pytest.raises(who_counts.NobodyKnownError):
        who_counts.say(runtime.db, shoot, where, "none", everywhere=True)
    people.switch_on(runtime.db, shoot)
    know(runtime, shoot, {ids[0]: 3, ids[1]: 3, ids[2]: None, ids[3]: 4})
    assert who_counts.say(runtime.db, shoot, where, "none", everywhere=True) == 2
    assert weights(runtime, shoot) == [["", "none"], ["", "none"], ["", ""], ["", ""]]
    with pytest.raises(who_counts.NobodyKnownError):
        who_counts.say(runtime.db, shoot, [(ids[2], *RIGHT.middle)], "none", everywhere=True)
    # More of that person's faces are known.
    know(runtime, shoot, {ids[2]: 3})
    who_counts.spread_in_shoot(runtime.db, shoot)
    assert weights(runtime, shoot)[2:] == [["", "none"], ["", ""]]
    # It tells who is whom: so it is forgotten with that; what was said in a group stays.
    who_counts.say(runtime.db, shoot, [(ids[0], *LEFT.middle)], "most", everywhere=False)
    people.forget(runtime.db, shoot)
    who_counts.forget(runtime.db, shoot)
    assert weights(runtime, shoot) == [["most", ""]] * 4
    who_counts.forget(runtime.db, shoot)


def test_eyes_are_half_closed_by_what_is_usual_of_who_counts(runtime: Runtime, shoot: int) -> None:
    ids = ids_of(runtime, shoot)
    narrow = face(0.7, 0.5, 0.28, gap=0.22, seed=2)
    show(runtime, shoot, [*[[LEFT, RIGHT]] * 3, [LEFT, narrow]])
    assert found(runtime, shoot, "hint half_closed") == [ids[3]]
    assert found(runtime, shoot, "hint eyes_closed") == []
    assert "eyes less open" in hints.verdicts_of(runtime.db, ids)[ids[3]].words
    rows = face_rows.compare(runtime.db, shoot, ids).rows
    halves = [[shown and shown.eyes_half for shown in row.faces] for row in rows]
    assert halves == [[False] * 4, [False, False, False, True]]
    assert rows[1].best == [0, 1, 2]
    # However few are compared, a face says what its hint says.
    (_, beside) = face_rows.compare(runtime.db, shoot, [ids[0], ids[3]]).rows
    assert [shown and shown.eyes_half for shown in beside.faces] == [False, True]
    # It is shown at that eye, beside the same one in the best frame.
    (shown,) = evidence(runtime.db, shoot, ["half_closed"])
    assert shown.at is not None
    assert shown.at.x == pytest.approx(narrow.eyes[0].x)
    assert shown.beside_at == shown.at
    # The threshold can be moved: the faces follow it as the hint does.
    hints.set_threshold(runtime.db, shoot, "half_closed", 60)
    rows = face_rows.compare(runtime.db, shoot, ids).rows
    assert not any(shown and shown.eyes_half for row in rows for shown in row.faces)
