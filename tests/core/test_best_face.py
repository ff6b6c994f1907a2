"""Which of one person's faces is best."""

from dataclasses import replace

import pytest

from winnow.core.marks import Decision, Mark
from winnow.core.verdict.best_face import Shown, best, rank_so_far

FINE = Shown(closed=False, aside=False, speaking=False, blur=1.0)
CLOSED = Shown(closed=True, aside=None, speaking=False, blur=0.6)
ASIDE = Shown(closed=False, aside=True, speaking=False, blur=0.6)
SPEAKING = Shown(closed=False, aside=False, speaking=True, blur=0.6)
SOFTER = Shown(closed=False, aside=False, speaking=False, blur=2.0)
AS_SHARP = Shown(closed=False, aside=False, speaking=False, blur=1.04)
HALF = Shown(closed=False, aside=False, speaking=False, blur=0.6, narrowed=True)
TURNED = Shown(closed=None, aside=None, speaking=None, blur=0.5)
TINY = Shown(closed=False, aside=False, speaking=False, blur=0.3, counts=False)


@pytest.mark.parametrize("worse", [CLOSED, HALF, ASIDE, SPEAKING, SOFTER, TURNED, TINY])
def test_eyes_then_gaze_then_mouth_then_sharpness(worse: Shown) -> None:
    assert best([worse, FINE]) == [1]
    assert best([FINE, None, worse]) == [0]


def test_what_nobody_sees_is_a_tie() -> None:
    assert best([FINE, AS_SHARP, SOFTER]) == [0, 1]
    assert best([FINE, AS_SHARP]) == []


def test_the_order_of_signs() -> None:
    assert best([CLOSED, SPEAKING]) == [1]
    assert best([ASIDE, SPEAKING]) == [1]
    assert best([CLOSED, TURNED]) == [1]
    assert best([CLOSED, HALF]) == [1]
    assert best([HALF, ASIDE]) == [1]


def test_of_faces_that_are_as_good_the_one_that_smiles_is_best() -> None:
    smiling, serious = replace(AS_SHARP, smiles=True), replace(FINE, smiles=False)
    assert best([serious, smiling]) == [1]
    assert best([FINE, smiling]) == []
    assert best([replace(SOFTER, smiles=True), serious]) == [1]


def test_one_alone_is_no_best() -> None:
    assert best([None, FINE]) == best([None]) == best([]) == []


def test_the_best_frame_of_somebody_so_far() -> None:
    opened = Shown(False, False, False, None)
    shut = Shown(True, False, False, None)
    picked, rejected, plain = (
        Mark(decision) for decision in (Decision.PICK, Decision.REJECT, Decision.UNDECIDED)
    )
    in_order = [
        rank_so_far(picked, opened, usable=True),
        rank_so_far(Mark(stars=4), opened, usable=True),
        rank_so_far(plain, opened, usable=True),
        # Open eyes come before a pick with closed ones.
        rank_so_far(picked, shut, usable=True),
        rank_so_far(picked, opened, usable=False),
        rank_so_far(rejected, opened, usable=True),
    ]
    assert in_order == sorted(in_order)
    assert len(set(in_order)) == len(in_order)
