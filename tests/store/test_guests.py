"""Each person's own steps, branches of the history that were left, and what waits for the owner."""

import random
from functools import partial

import pytest

from tests.store.test_marks import add, all_marks
from winnow.core.files.texts import TextEdit
from winnow.core.marks import Change, Decision, Edit, Mark, plan_edit
from winnow.store import frames, guests, history, marks, own_steps, shoots, texts
from winnow.store.db import Database
from winnow.work.files import captions

PICK, REJECT = Edit(Decision.PICK), Edit(Decision.REJECT)


@pytest.fixture
def shoot(db: Database) -> int:
    shoot_id = shoots.make(db, "Test", ["/pictures"])
    add(db, shoot_id, 6)
    return shoot_id


def edit(db: Database, shoot: int, wanted: Edit, ids: list[int], by: str = "") -> Change | None:
    def plan() -> Change | None:
        return plan_edit(wanted, marks.marks_of(db, shoot, ids), partial(frames.name_of, db), {})

    return marks.apply(db, shoot, plan, by)


def decisions(db: Database, shoot: int) -> str:
    """The decisions of all frames, a letter each: u, p, r."""
    return "".join(mark.decision[0] for mark in all_marks(db, shoot).values())


def test_a_branch_of_redo_is_left_and_can_be_gone_to(db: Database, shoot: int) -> None:
    one, two, *_ = all_marks(db, shoot)
    edit(db, shoot, PICK, [one])
    edit(db, shoot, PICK, [two])
    second = history.past_changes(db, shoot)[0].id
    history.undo(db, shoot)
    history.undo(db, shoot)
    edit(db, shoot, REJECT, [one])
    assert history.of(db, shoot).redo is None
    assert [(step.undone, step.left) for step in history.past_changes(db, shoot)] == [
        (False, False), (False, True), (False, True),
    ]  # fmt: skip
    change = history.go_to(db, shoot, second)
    assert change is not None
    assert change.sentence == "another branch of the history"
    assert decisions(db, shoot) == "ppuuuu"
    # And back again: the branch that was left now.
    history.go_to(db, shoot, history.past_changes(db, shoot)[0].id)
    assert decisions(db, shoot) == "ruuuuu"


def test_on_a_branch_redo_goes_on_with_its_newest_steps(db: Database, shoot: int) -> None:
    ids = list(all_marks(db, shoot))
    for frame in ids[:3]:
        edit(db, shoot, PICK, [frame])
    first = history.past_changes(db, shoot)[2].id
    history.go_to(db, shoot, None)
    edit(db, shoot, REJECT, [ids[5]])
    history.go_to(db, shoot, first)
    assert decisions(db, shoot) == "puuuuu"
    assert history.redo(db, shoot)
    assert history.redo(db, shoot)
    assert decisions(db, shoot) == "pppuuu"
    assert history.redo(db, shoot) is None


@pytest.mark.parametrize("seed", range(4))
def test_every_state_that_ever_was_can_be_gone_to(db: Database, shoot: int, seed: int) -> None:
    rng = random.Random(seed)
    ids = list(all_marks(db, shoot))
    states: dict[int | None, str] = {None: decisions(db, shoot)}
    for _ in range(40):
        act = rng.choice(("mark", "mark", "undo", "redo", "go"))
        if act == "mark" and edit(db, shoot, rng.choice((PICK, REJECT)), rng.sample(ids, 2)):
            states[history.past_changes(db, shoot)[0].id] = decisions(db, shoot)
        elif act == "undo":
            history.undo(db, shoot)
        elif act == "redo":
            history.redo(db, shoot)
        else:
            wanted = rng.choice(list(states))
            history.go_to(db, shoot, wanted)
            assert decisions(db, shoot) == states[wanted]
    for wanted, state in states.items():
        history.go_to(db, shoot, wanted)
        assert decisions(db, shoot) == state
        made = [
            change.id
            for change in history.past_changes(db, shoot)
            if not change.undone and not change.left
        ]
        assert max(made, default=None) == wanted


def test_a_guest_takes_back_own_steps_only(db: Database, shoot: int) -> None:
    one, two, three, *_ = all_marks(db, shoot)
    edit(db, shoot, PICK, [one])
    edit(db, shoot, PICK, [two, three], "Ana")
    edit(db, shoot, Edit(stars=3), [two])
    assert own_steps.history_of(db, shoot, "Ana").undo == "picked 2 frames"
    assert own_steps.history_of(db, shoot, "Ben") == history.History(None, None)
    own_steps.undo(db, shoot, "Ana")
    # The owner's stars on the same frame stay, and so does the owner's pick.
    assert decisions(db, shoot) == "puuuuu"
    assert marks.marks_of(db, shoot, [two])[two] == Mark(stars=3)
    assert own_steps.undo(db, shoot, "Ana") is None
    assert own_steps.history_of(db, shoot, "Ana") == history.History(None, "picked 2 frames")
    own_steps.redo(db, shoot, "Ana")
    assert decisions(db, shoot) == "pppuuu"
    assert own_steps.redo(db, shoot, "Ana") is None
    own_steps.undo(db, shoot, "Ana")
    own_steps.redo(db, shoot, "Ana")
    own_steps.undo(db, shoot, "Ana")
    assert decisions(db, shoot) == "puuuuu"


def test_what_another_changed_since_stays(db: Database, shoot: int) -> None:
    one, two, *_ = all_marks(db, shoot)
    edit(db, shoot, PICK, [one, two], "Ana")
    edit(db, shoot, REJECT, [two])
    own_steps.undo(db, shoot, "Ana")
    assert decisions(db, shoot) == "uruuuu"


def test_the_owners_undo_is_of_the_owners_steps(db: Database, shoot: int) -> None:
    one, two, three, *_ = all_marks(db, shoot)
    edit(db, shoot, PICK, [one])
    edit(db, shoot, PICK, [two])
    edit(db, shoot, PICK, [three], "Ana")
    assert own_steps.history_of(db, shoot).undo == f"picked {frames.name_of(db, two)}"
    own_steps.undo(db, shoot)
    assert decisions(db, shoot) == "pupuuu"
    own_steps.undo(db, shoot)
    assert decisions(db, shoot) == "uupuuu"
    assert own_steps.undo(db, shoot) is None, "the guest's is not the owner's to undo unseen"
    own_steps.redo(db, shoot)
    own_steps.redo(db, shoot)
    assert decisions(db, shoot) == "pppuuu"
    assert own_steps.redo(db, shoot) is None
    # In the history everything can be gone to.
    history.go_to(db, shoot, None)
    assert decisions(db, shoot) == "uuuuuu"


def test_texts_of_a_guest_are_taken_back_field_by_field(db: Database, shoot: int) -> None:
    one, *_ = all_marks(db, shoot)
    captions.edit(
        db, shoot, [one], TextEdit({"title": "A", "city": "B"}, (), ()), fill=False, by="Ana"
    )
    captions.edit(db, shoot, [one], TextEdit({"title": "C"}, (), ()), fill=False)
    own_steps.undo(db, shoot, "Ana")
    now = texts.texts_of(db, shoot, [one])[one]
    assert (now.title, now.city) == ("C", "")


def test_what_guests_did_waits_for_the_owner(db: Database, shoot: int) -> None:
    one, two, three, *_ = all_marks(db, shoot)
    edit(db, shoot, PICK, [one, two], "Ben")
    edit(db, shoot, PICK, [three], "Ana")
    edit(db, shoot, Edit(stars=1), [three], "Ana")
    assert guests.waiting(db, shoot) == [
        guests.Waiting("Ana", 2, (three,)),
        guests.Waiting("Ben", 1, (one, two)),
    ]
    assert guests.held_back(db, shoot) == {one, two, three}
    assert guests.marked_by(db, one) == "Ben"
    assert guests.take_over(db, shoot, "Ben") == {one, two}
    assert guests.held_back(db, shoot) == {three}
    assert guests.take_over(db, shoot) == {three}
    assert guests.waiting(db, shoot) == []
    assert decisions(db, shoot) == "pppuuu"


def test_what_a_guest_took_back_waits_no_more_and_waits_again_when_it_is_made_again(
    db: Database, shoot: int
) -> None:
    one, *_ = all_marks(db, shoot)
    edit(db, shoot, PICK, [one], "Ana")
    for _ in range(3):
        own_steps.undo(db, shoot, "Ana")
        assert guests.held_back(db, shoot) == set()
        own_steps.redo(db, shoot, "Ana")
        assert guests.held_back(db, shoot) == {one}


def test_the_owner_takes_back_what_guests_did(db: Database, shoot: int) -> None:
    one, two, three, *_ = all_marks(db, shoot)
    edit(db, shoot, PICK, [one])
    edit(db, shoot, REJECT, [one, two], "Ana")
    edit(db, shoot, Edit(stars=2), [two], "Ana")
    edit(db, shoot, PICK, [three], "Ben")
    change = guests.take_back(db, shoot, "Ana")
    assert change is not None
    assert change.sentence == "taken back: what Ana did"
    assert decisions(db, shoot) == "pupuuu"
    assert marks.marks_of(db, shoot, [two])[two] == Mark()
    assert guests.held_back(db, shoot) == {three}
    # One step back, and it waits again.
    own_steps.undo(db, shoot)
    assert decisions(db, shoot) == "rrpuuu"
    assert guests.held_back(db, shoot) == {one, two, three}
    own_steps.redo(db, shoot)
    assert decisions(db, shoot) == "pupuuu"
    assert guests.take_back(db, shoot, "Ana") is None


def test_a_guest_does_not_undo_what_the_owner_took_back(db: Database, shoot: int) -> None:
    one, two, *_ = all_marks(db, shoot)
    edit(db, shoot, PICK, [one], "Ana")
    guests.take_back(db, shoot)
    edit(db, shoot, PICK, [two], "Ana")
    own_steps.undo(db, shoot, "Ana")
    assert own_steps.undo(db, shoot, "Ana") is None
