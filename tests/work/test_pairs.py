"""Frames that are parts of one picture: decided, written about and delivered together."""

from pathlib import Path

import pytest

from tests.work.delivering import names, run
from tests.work.saying import frame_of, mark_of, said_now, set_mark
from winnow.core.marks import Decision, Edit
from winnow.photos.xmp import read_sidecar
from winnow.store import frames, groups, history, own_steps
from winnow.work import pairs
from winnow.work.deliver import plan as delivery_plan
from winnow.work.group_decisions import Taken, decide
from winnow.work.runtime import Runtime


@pytest.fixture
def linked(runtime: Runtime, picked: int) -> int:
    """A shoot in which the second and the third frame are parts of one picture."""
    change = pairs.link(
        runtime.db, picked, [frame_of(runtime, picked, n) for n in ("QH_0002", "QH_0003")], "both"
    )
    assert change is not None
    return picked


def decisions(runtime: Runtime, shoot: int) -> list[str]:
    return [row.mark.decision[0] for row in frames.rows(runtime.db, shoot)]


def test_linking_picks_the_parts_and_gives_them_a_keyword_as_one_step(
    runtime: Runtime, linked: int
) -> None:
    parts = tuple(frame_of(runtime, linked, n) for n in ("QH_0002", "QH_0003"))
    assert groups.pairs(runtime.db, linked) == [parts]
    assert decisions(runtime, linked) == ["p", "p", "p"]
    assert said_now(runtime, linked, "QH_0003").texts.keywords == ("both",)
    assert history.of(runtime.db, linked).undo == "linked QH_0002 and QH_0003 as one picture"
    own_steps.undo(runtime.db, linked)
    assert groups.pairs(runtime.db, linked) == []
    assert decisions(runtime, linked) == ["p", "p", "u"]
    assert said_now(runtime, linked, "QH_0003").texts.keywords == ()
    own_steps.redo(runtime.db, linked)
    assert groups.pairs(runtime.db, linked) == [parts]


def test_linking_once_more_changes_nothing(runtime: Runtime, linked: int) -> None:
    (parts,) = groups.pairs(runtime.db, linked)
    assert pairs.link(runtime.db, linked, parts, "both") is None
    with pytest.raises(KeyError):
        pairs.link(runtime.db, linked, [parts[0], 999], "both")


def test_a_decision_on_one_part_is_one_on_both_and_undone_with_it(
    runtime: Runtime, linked: int
) -> None:
    set_mark(runtime, linked, "QH_0003", Edit(Decision.REJECT))
    assert decisions(runtime, linked) == ["p", "r", "r"]
    assert history.of(runtime.db, linked).undo == "rejected QH_0003, with 1 frame linked to it"
    set_mark(runtime, linked, "QH_0003", Edit(stars=2))
    assert mark_of(runtime, linked, "QH_0002").stars == 0
    own_steps.undo(runtime.db, linked)
    own_steps.undo(runtime.db, linked)
    assert decisions(runtime, linked) == ["p", "p", "p"]


def test_taking_the_best_and_rejecting_the_rest_keeps_the_whole_picture(
    runtime: Runtime, linked: int
) -> None:
    first, second, third = (row.id for row in frames.rows(runtime.db, linked))
    decide(runtime.db, linked, [Taken([], [second], [])], proposed=True)
    assert decisions(runtime, linked) == ["p", "r", "r"]
    decide(runtime.db, linked, [Taken([second], [first, third])], proposed=True)
    assert decisions(runtime, linked) == ["r", "p", "p"]


def test_taken_apart_each_goes_its_own_way(runtime: Runtime, linked: int) -> None:
    pairs.unlink(runtime.db, linked, frame_of(runtime, linked, "QH_0003"), "both")
    assert groups.pairs(runtime.db, linked) == []
    assert said_now(runtime, linked, "QH_0002").texts.keywords == ()
    set_mark(runtime, linked, "QH_0003", Edit(Decision.REJECT))
    assert decisions(runtime, linked) == ["p", "p", "r"]
    assert pairs.unlink(runtime.db, linked, frame_of(runtime, linked, "QH_0003"), "") is None


def test_a_part_is_never_delivered_without_the_others(
    runtime: Runtime, linked: int, tmp_path: Path
) -> None:
    target = tmp_path / "out"
    planned = delivery_plan.plan(
        runtime.db, linked, str(target), [frame_of(runtime, linked, "QH_0003")]
    )
    assert (planned.frames, planned.linked) == (2, ("QH_0002",))
    result = run(runtime, linked, target)
    assert result.state == "done"
    assert {"QH_0002.dng", "QH_0002.jpg", "QH_0003.jpg"} <= set(names(target))
    for name in ("QH_0002.xmp", "QH_0003.xmp"):
        assert read_sidecar((target / name).read_bytes()).texts.keywords == ("both",)
