"""The draft proposes what can be used, meets the number, keeps what is decided, and is the same for
the same shoot."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from winnow.core.draft.draft import Agreement, Candidate, agreement, draft
from winnow.core.marks import Decision
from winnow.core.measure import likeness

PICK, REJECT = Decision.PICK, Decision.REJECT


def signature(seed: int) -> bytes:
    rng = np.random.default_rng(seed)
    small = rng.integers(0, 255, (6, 9, 3)).astype(np.uint8)
    return likeness.signature(np.kron(small, np.ones((40, 40, 1), np.uint8)))


SIGNATURES = [signature(n) for n in range(12)]


def frame(n: int, group: int = 0, place: int = 1, **known: object) -> Candidate:
    best = place == 1
    return Candidate(n, group, place=place, best=best, words=f"v{n}", **known)  # type: ignore[arg-type]


def test_the_best_of_each_group_is_proposed_with_its_reason_and_runner_up() -> None:
    made = draft([frame(1, 0, 2), frame(2, 0, 1), frame(3, 0, 3), frame(4, 1, 1), frame(5, 1, 1)])
    first, second = made.proposals
    assert (first.frames, first.keep, first.runner_up) == ((2, 1, 3), (2,), 1)
    assert (first.words, first.sure) == ("v2", True)
    # Where two are as good, nobody is sure.
    assert (second.keep, second.sure) == ((4,), False)
    assert made.kept == 2
    # Where the best was rejected by hand, or a second is added, nobody is sure either.
    left = draft([frame(1, 0, 1, decision=REJECT), frame(2, 0, 2)]).proposals[0]
    assert (left.keep, left.sure) == ((2,), False)
    assert not draft([frame(1, 0, 1), frame(2, 0, 2)], 2).proposals[0].sure


def test_what_is_decided_stays_as_it_is() -> None:
    made = draft(
        [
            frame(1, 0, 1), frame(2, 0, 2, decision=PICK),
            frame(3, 1, 1, decision=REJECT), frame(4, 1, 2, decision=REJECT),
            frame(5, 2, 1, decision=REJECT), frame(6, 2, 2),
        ]
    )  # fmt: skip
    assert [proposal.keep for proposal in made.proposals] == [(2,), (), (6,)]
    assert [proposal.decided for proposal in made.proposals] == [True, True, False]
    assert made.picked == 1
    assert made.proposals[0].words == "decided: 1 picked"


def test_groups_in_which_another_frame_was_taken_are_counted() -> None:
    shoot = [
        frame(1, 0, 1), frame(2, 0, 2, decision=PICK),
        frame(3, 1, 1, decision=PICK), frame(4, 1, 2, decision=PICK),
        frame(5, 2, 1, decision=PICK), frame(6, 3, 1), frame(7, 3, 2, decision=REJECT),
    ]  # fmt: skip
    assert agreement(shoot) == Agreement(groups=2, other=1)
    assert agreement([]) == Agreement(0, 0)


def test_a_group_without_a_usable_frame_gets_no_proposal() -> None:
    (only,) = draft([frame(1, 0, 1, usable=False), frame(2, 0, 2, usable=False)]).proposals
    assert (only.keep, only.sure) == ((), False)
    assert only.words == "no frame of this group can be used"


def test_up_to_the_number_the_most_different_seconds_are_added() -> None:
    same, other, far = SIGNATURES[:3]
    group = [
        frame(1, 0, 1, signature=same), frame(2, 0, 1, signature=same), frame(3, 0, 1,
        signature=other),
        frame(4, 1, 1, signature=far), frame(5, 1, 2, signature=far),
    ]  # fmt: skip
    assert [proposal.keep for proposal in draft(group, 3).proposals] == [(1, 3), (4,)]
    # As good comes before different; then anything that can be used.
    assert draft(group, 5).kept == 5
    assert draft(group, 99).kept == 5


def test_over_the_number_what_is_most_like_another_is_left_out() -> None:
    a, b = SIGNATURES[:2]
    shoot = [frame(1, 0, 1, signature=a), frame(2, 1, 1, signature=b), frame(3, 2, 1, signature=b)]
    made = draft(shoot, 2)
    assert [proposal.keep for proposal in made.proposals] == [(1,), (), (3,)]
    assert made.proposals[1].words == "left out: its frame is most like another that is kept"
    picked = [replace(shoot[0], decision=PICK), *shoot[1:]]
    assert [proposal.keep for proposal in draft(picked, 1).proposals] == [(1,), (), ()]


def test_over_the_number_a_single_frame_is_left_out_too() -> None:
    """As when what left the shoot already meets the number."""
    assert draft([frame(1)], 0).kept == 0


def test_an_empty_shoot_has_an_empty_draft() -> None:
    assert draft([], 60).proposals == ()
    assert draft([frame(1)], 60).proposals[0].sure


@st.composite
def shoots(draw: st.DrawFn) -> list[Candidate]:
    out: list[Candidate] = []
    for group in range(draw(st.integers(1, 5))):
        usable = draw(st.lists(st.booleans(), min_size=1, max_size=5))
        places = draw(st.permutations(range(1, len(usable) + 1)))
        ordered = sorted(range(len(usable)), key=lambda n: (not usable[n], places[n]))
        place = {n: k + 1 for k, n in enumerate(ordered)}
        for n, can in enumerate(usable):
            out.append(
                Candidate(
                    len(out) + 1, group, draw(st.sampled_from(Decision)), draw(st.integers(0, 5)),
                    place[n], can and place[n] == 1, can, "", draw(st.sampled_from([None,
                    *SIGNATURES])),
                )
            )  # fmt: skip
    return out


numbers = st.none() | st.integers(0, 20)


@pytest.mark.hypothesis
@given(shoots(), numbers)
def test_what_holds_for_every_draft(shoot: list[Candidate], number: int | None) -> None:
    made = draft(shoot, number)
    assert made == draft(list(shoot), number)
    of = {candidate.frame: candidate for candidate in shoot}
    assert [proposal.group for proposal in made.proposals] == sorted(
        {candidate.group for candidate in shoot}
    )
    picks = {candidate.frame for candidate in shoot if candidate.decision is PICK}
    kept = {frame for proposal in made.proposals for frame in proposal.keep}
    assert picks <= kept
    assert not {of[frame].decision for frame in kept - picks} - {Decision.UNDECIDED}
    assert all(of[frame].usable for frame in kept - picks)
    for proposal in made.proposals:
        assert sorted(proposal.frames) == sorted(
            f for f, known in of.items() if known.group == proposal.group
        )
        assert proposal.runner_up is None or proposal.runner_up not in proposal.keep
        open_ = [
            f for f in proposal.frames if of[f].usable and of[f].decision is Decision.UNDECIDED
        ]
        if not proposal.decided and number is None:
            assert bool(proposal.keep) == bool(open_)
        # The first that is kept is one that no open frame of its group is better than.
        if not proposal.decided and proposal.keep:
            assert of[proposal.keep[0]].place == min(of[f].place for f in open_)
    if number is not None:
        begun = draft(shoot).kept
        room = sum(
            min(
                4,
                sum(of[f].usable and of[f].decision is Decision.UNDECIDED for f in proposal.frames),
            )
            for proposal in made.proposals
            if not proposal.decided
        )
        most = len(picks) + room
        wanted = max(number, len(picks))
        assert made.kept == (min(wanted, most) if wanted >= begun else wanted)


@pytest.mark.hypothesis
@given(shoots(), st.integers(0, 4), st.booleans())
def test_a_new_frame_changes_its_group_alone(shoot: list[Candidate], at: int, usable: bool) -> None:
    group = shoot[at % len(shoot)].group
    last = max(n for n, candidate in enumerate(shoot) if candidate.group == group)
    new = Candidate(99, group, place=9, usable=usable)
    after = draft([*shoot[: last + 1], new, *shoot[last + 1 :]])
    before = {proposal.group: proposal for proposal in draft(shoot).proposals}
    for proposal in after.proposals:
        if proposal.group != group:
            assert proposal == before[proposal.group]


def seen(*people: int) -> frozenset[int]:
    return frozenset(people)


def test_somebody_who_would_be_in_none_gets_a_frame_of_their_own() -> None:
    made = draft(
        [
            frame(1, 0, 1, people=seen(1)), frame(2, 0, 2, people=seen(1, 2)),
            frame(3, 1, 1, people=seen(1)), frame(4, 1, 2, people=seen(2, 3)),
        ]
    )  # fmt: skip
    # One frame shows both of them who were missing.
    assert [proposal.keep for proposal in made.proposals] == [(1,), (3, 4)]
    assert made.proposals[1].words == "v3; and person 2, person 3, in no other frame that is kept"


def test_who_is_picked_already_is_in_it_and_who_cannot_be_shown_is_not_forced() -> None:
    made = draft(
        [
            frame(1, 0, 1, people=seen(2), decision=PICK),
            frame(2, 1, 1, people=seen(1)), frame(3, 1, 2, people=seen(2)),
            frame(4, 1, 3, people=seen(3), usable=False),
        ]
    )  # fmt: skip
    assert [proposal.keep for proposal in made.proposals] == [(1,), (2,)]


def test_over_the_number_those_go_last_without_whom_somebody_is_in_none() -> None:
    shoot = [frame(n, n, 1, people=seen(1 if n < 4 else n)) for n in range(6)]
    assert {n for p in draft(shoot, 3).proposals for n in p.keep} & {4, 5} == {4, 5}
    # The number holds all the same.
    assert draft(shoot, 1).kept == 1


@pytest.mark.hypothesis
@given(shoots(), st.data())
def test_everybody_who_can_be_shown_is_in_it(shoot: list[Candidate], data: st.DataObject) -> None:
    people = st.frozensets(st.integers(1, 5), max_size=3)
    shoot = [replace(candidate, people=data.draw(people)) for candidate in shoot]
    made = draft(shoot)
    kept = {n for proposal in made.proposals for n in proposal.keep}
    shown = {n for candidate in shoot if candidate.frame in kept for n in candidate.people}
    open_groups = {proposal.group for proposal in made.proposals if not proposal.decided}
    can = {
        n
        for candidate in shoot
        if candidate.group in open_groups
        and candidate.usable
        and candidate.decision is Decision.UNDECIDED
        for n in candidate.people
    }
    assert can <= shown
    number = data.draw(st.integers(0, 12))
    picks = sum(candidate.decision is PICK for candidate in shoot)
    fewer = draft(shoot, number)
    if number < made.kept:
        assert fewer.kept == max(number, picks)
