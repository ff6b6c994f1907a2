"""The funnel, and picks that are nearly the same picture."""

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tests.core.test_marks import marks
from winnow.core.marks import Decision, Mark
from winnow.core.measure.likeness import signature
from winnow.core.pace import over_time, pace
from winnow.core.tally import Bar, funnel, nearly_the_same


def test_a_funnel_from_shot_to_delivered() -> None:
    tally = {
        Mark(): 60,
        Mark(Decision.REJECT, 2, "A"): 25,
        Mark(Decision.PICK): 9,
        Mark(Decision.PICK, 3, "A"): 4,
        Mark(Decision.PICK, 1): 2,
    }
    assert funnel(tally, ["R", "A"], 5) == [
        Bar("shot", "", 100),
        Bar("decided", "", 40),
        Bar("picks", "", 15),
        Bar("stars", "1", 6),
        Bar("stars", "2", 4),
        Bar("stars", "3", 4),
        Bar("label", "A", 4),
        Bar("delivered", "", 5),
    ]


@given(st.dictionaries(marks, st.integers(1, 50), max_size=12))
def test_a_funnel_never_widens(tally: dict[Mark, int]) -> None:
    bars = [bar.frames for bar in funnel(tally, ["R", "A"], 0) if bar.kind != "label"]
    assert bars == sorted(bars, reverse=True)


def picture(seed: int, shift: int = 0) -> bytes:
    rng = np.random.default_rng(seed)
    small = rng.integers(0, 255, (12, 18, 3)).astype(np.uint8)
    large = small.repeat(20, 0).repeat(20, 1)
    return signature(np.ascontiguousarray(np.roll(large, shift, 1)))


def test_picks_that_look_nearly_the_same_are_found_in_runs() -> None:
    one, other = picture(1), picture(2)
    ids = [1, 2, 3, 4, 5, 6, 7]
    signatures = [one, picture(1, 1), other, one, one, None, one]
    groups = [0, 0, 0, 1, 1, 1, 2]
    assert nearly_the_same(ids, groups, signatures, set(ids)) == [[1, 2], [4, 5]]
    # A frame between them that is no pick doesn't part them; another group, or an unknown picture,
    # does.
    assert nearly_the_same(ids, groups, signatures, {1, 2, 4}) == [[1, 2]]
    assert nearly_the_same([1, 2, 3], [0, 0, 0], [one, other, one], {1, 3}) == [[1, 3]]
    assert nearly_the_same(ids, groups, signatures, set()) == []


def test_decisions_over_the_time_worked() -> None:
    steady = [float(n) for n in range(49)]
    assert over_time(steady, 4) == [11, 12, 12, 13]
    slow_then_quick = [0.0, 10, 20, 30, 40, *(40 + n for n in range(1, 41))]
    counts = over_time(slow_then_quick, 2)
    assert sum(counts) == 44
    assert counts[1] > 8 * counts[0]
    assert over_time(steady[:3], 4) == []
    assert pace(steady).worked_s == 48
