"""Work on many things, a few at once."""

import threading

import pytest

from winnow.work.in_order import in_order


def test_results_come_in_the_order_of_the_items_and_a_few_are_made_at_once() -> None:
    both = threading.Barrier(2, timeout=60)

    def doubled(n: int) -> int:
        if n < 2:
            both.wait()  # neither ends without the other
        return 2 * n

    assert list(in_order(doubled, range(9), at_once=2)) == [2 * n for n in range(9)]
    assert list(in_order(doubled, [], at_once=2)) == []


def test_after_no_more_what_is_begun_is_finished() -> None:
    done: list[int] = []
    taken: list[int] = []

    def work(n: int) -> int:
        done.append(n)
        return n

    for n in in_order(work, range(100), at_once=3, going=lambda: len(taken) < 5):
        taken.append(n)
    assert taken == sorted(done)
    assert 5 <= len(taken) <= 8


def test_an_error_is_raised_after_what_was_begun_with_it() -> None:
    begun = threading.Barrier(3, timeout=60)
    taken: list[int] = []

    def work(n: int) -> int:
        begun.wait()
        if n == 1:
            raise ValueError("1")
        return n

    def take_each() -> None:
        for n in in_order(work, range(3), at_once=3):
            taken.append(n)

    with pytest.raises(ValueError, match="1"):
        take_each()
    assert taken == [0, 2]


def test_what_is_done_alone_has_nothing_beside_it() -> None:
    beside: list[int] = []
    running: set[int] = set()
    lock = threading.Lock()

    def work(n: int) -> None:
        with lock:
            running.add(n)
        if n % 4 == 0:
            beside.append(len(running))
        with lock:
            running.discard(n)

    list(in_order(work, range(40), at_once=4, alone=lambda n: n % 4 == 0))
    assert beside == [1] * 10
