"""How jobs are handed to workers.

The clock and the workers are the test's own: nothing here takes time.
"""

import threading
from collections.abc import Callable
from concurrent.futures import Executor, Future
from concurrent.futures.process import BrokenProcessPool
from typing import Any

import pytest

from winnow.work.workers.feeder import Feeder
from winnow.work.workers.pool import Workers


class Clock:
    """Seconds that go on when somebody waits."""

    def __init__(self) -> None:
        self.now = 0.0

    def __call__(self) -> float:
        self.now += 0.001
        return self.now


class Ending(threading.Event):
    """Waiting for it lets the clock go on."""

    def __init__(self, clock: Clock) -> None:
        super().__init__()
        self._clock = clock

    def wait(self, timeout: float | None = None) -> bool:
        assert timeout is not None
        self._clock.now += timeout
        return self.is_set()


class ByHand(Executor):
    """Its jobs are done when they are waited for, but for those that never are."""

    def __init__(self, clock: Clock, stuck: frozenset[int] = frozenset()) -> None:
        self._clock, self._stuck = clock, stuck
        self.most = 0
        self.times: list[float] = []
        self._waiting: list[tuple[Future[Any], Callable[..., Any], int]] = []

    def submit(self, function: Callable[..., Any], /, *given: Any, **_: Any) -> Future[Any]:
        future: Future[Any] = _Asked(self)
        self._waiting.append((future, function, *given))
        self.times.append(self._clock.now)
        self.most = max(self.most, len(self._waiting))
        return future

    def do(self) -> None:
        """Do what is under way, but for what is stuck; that takes a second."""
        self._clock.now += 1
        assert self._clock.now < 600, "it waits for ever"
        done, self._waiting = self._waiting, [job for job in self._waiting if job[2] in self._stuck]
        for future, function, job in done:
            if job not in self._stuck:
                future.set_result(function(job))

    def shutdown(self, wait: bool = True, *, cancel_futures: bool = False) -> None:
        waiting, self._waiting = self._waiting, []
        for future, _, _ in waiting:
            future.cancel()


class _Asked(Future[Any]):
    def __init__(self, executor: ByHand) -> None:
        super().__init__()
        self.executor = executor

    def result(self, timeout: float | None = None) -> Any:
        if not self.done() and timeout is not None:
            self.executor.do()
            if not self.done():
                raise TimeoutError
        return super().result(timeout)


@pytest.fixture(autouse=True)
def waiting(monkeypatch: pytest.MonkeyPatch) -> None:
    def wait(
        asked: set[_Asked], timeout: float, return_when: str
    ) -> tuple[set[_Asked], set[_Asked]]:
        next(iter(asked)).executor.do()
        return {future for future in asked if future.done()}, {
            future for future in asked if not future.done()
        }

    monkeypatch.setattr("winnow.work.workers.feeder.wait", wait)


def fed(
    looked: Callable[[Clock], float],
    jobs: int,
    stuck: frozenset[int] = frozenset(),
) -> tuple[ByHand, list[int], list[str]]:
    """Feed jobs to three workers: the executor, what was kept, and what was said of failed ones."""
    clock = Clock()
    executor = ByHand(clock, stuck)
    kept: list[int] = []
    notices: list[str] = []

    def failed(job: int, notice: str) -> int:
        notices.append(f"{job}: {notice}")
        return -job

    feeder = Feeder(Workers(lambda: executor, count=3), Ending(clock), lambda: looked(clock), clock)
    feeder.each(abs, iter(range(1, jobs + 1)), kept.extend, failed)
    return executor, sorted(kept), notices


def test_workers_are_kept_fed_with_a_short_queue() -> None:
    executor, kept, _ = fed(lambda clock: float("-inf"), 12)
    assert (executor.most, kept) == (4, list(range(1, 13)))


def test_while_somebody_looks_at_pictures_a_job_is_done_now_and_then() -> None:
    executor, kept, _ = fed(lambda clock: clock.now, 3)
    assert (executor.most, kept) == (1, [1, 2, 3])
    assert min(b - a for a, b in zip(executor.times, executor.times[1:], strict=False)) > 0.5


def test_when_nobody_looks_any_more_all_go_on() -> None:
    executor, kept, _ = fed(lambda clock: 0, 12)
    assert (executor.most, kept) == (4, list(range(1, 13)))
    assert executor.times[1] > 0.4, "one job while somebody looks"


def test_a_job_that_never_ends_is_given_up_and_its_neighbours_are_done() -> None:
    executor, kept, notices = fed(lambda clock: float("-inf"), 6, stuck=frozenset({2}))
    assert kept == [-2, 1, 3, 4, 5, 6]
    assert notices == ["2: The file is damaged: decoding it does not come to an end."]
    assert executor.times[-1] > 120, "it is given its time"


def test_it_ends_at_once_when_it_should_while_somebody_looks() -> None:
    clock = Clock()
    ending = Ending(clock)
    executor = ByHand(clock)

    def looked() -> float:
        if len(executor.times) == 2:
            ending.set()
        return clock.now

    feeder = Feeder(Workers(lambda: executor, count=3), ending, looked, clock)
    feeder.each(abs, iter(range(10**6)), lambda kept: None, lambda job, notice: job)
    assert len(executor.times) == 2


class Mortal(Executor):
    """Its worker dies so often with a job, by whatever hand, and does it then."""

    def __init__(self, deaths: dict[int, int]) -> None:
        self._deaths = deaths

    def submit(self, function: Callable[..., Any], /, *given: Any, **_: Any) -> Future[Any]:
        future: Future[Any] = Future()
        if self._deaths.get(given[0], 0) > 0:
            self._deaths[given[0]] -= 1
            future.set_exception(BrokenProcessPool())
        else:
            future.set_result(function(*given))
        return future


@pytest.mark.parametrize(("deaths", "kept"), [(1, True), (2, True), (3, False)])
def test_one_death_of_a_worker_is_not_the_files_fault_and_a_third_is(
    monkeypatch: pytest.MonkeyPatch, deaths: int, kept: bool
) -> None:
    monkeypatch.setattr("winnow.work.workers.feeder.wait", lambda asked, **_: (set(asked), set()))
    clock = Clock()
    results: list[int] = []

    def failed(job: int, notice: str) -> int:
        assert "stopped the decoder" in notice
        return -job

    feeder = Feeder(Workers(lambda: Mortal({2: deaths}), count=3), Ending(clock), clock=clock)
    feeder.each(abs, iter((1, 2, 3)), results.extend, failed)
    assert sorted(results) == ([1, 2, 3] if kept else [-2, 1, 3])
