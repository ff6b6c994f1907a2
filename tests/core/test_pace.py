"""The pace of a cull."""

import pytest

from winnow.core.pace import pace


def test_pace_is_that_of_the_work_not_of_the_pauses() -> None:
    steady = [2.0 * n for n in range(31)]
    assert pace(steady).a_minute == pytest.approx(30)
    # A coffee of an hour counts as the longest thought, one minute.
    with_pause = steady + [steady[-1] + 3600 + 2.0 * n for n in range(31)]
    assert pace(with_pause).worked_s == pytest.approx(60 + 60 + 60)


def test_the_latest_frames_say_it() -> None:
    slow = [10.0 * n for n in range(300)]
    quick = [slow[-1] + 1.0 * n for n in range(1, 301)]
    assert pace(slow + quick).a_minute == pytest.approx(60)


@pytest.mark.parametrize("times", [[], [1.0], [1.0, 2.0, 3.0], [5.0] * 20])
def test_too_little_to_say(times: list[float]) -> None:
    assert pace(times).a_minute is None


def test_a_clock_that_was_set_back_counts_for_nothing() -> None:
    assert pace([100.0, 102.0, 50.0, 52.0]).worked_s == pytest.approx(4)
