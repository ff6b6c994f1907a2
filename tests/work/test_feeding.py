"""How jobs are handed to workers."""

import threading
import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor

from tests.conftest import until
from winnow.work.feeding import Feeder
from winnow.work.workers import Workers


def most_at_once(looked: Callable[[], float], jobs: int) -> tuple[int, list[int]]:
    """How many jobs were under way at once, and what was kept."""
    under_way, most, kept = 0, 0, list[int]()
    lock = threading.Lock()

    def job(number: int) -> int:
        nonlocal under_way, most
        with lock:
            under_way += 1
            most = max(most, under_way)
        time.sleep(0.05)
        with lock:
            under_way -= 1
        return number

    workers = Workers(lambda: ThreadPoolExecutor(8), count=3)
    feeder = Feeder(workers, threading.Event(), looked)
    feeder.each(job, iter(range(jobs)), kept.extend, lambda number, notice: number)
    workers.close()
    return most, sorted(kept)


def test_workers_are_kept_fed_with_a_short_queue() -> None:
    assert most_at_once(lambda: float("-inf"), 12) == (4, list(range(12)))


def test_while_somebody_looks_at_pictures_a_job_is_done_now_and_then() -> None:
    assert most_at_once(time.monotonic, 3) == (1, [0, 1, 2])


def test_when_nobody_looks_any_more_all_go_on() -> None:
    last = time.monotonic()
    most, kept = most_at_once(lambda: last, 12)
    assert (most, kept) == (4, list(range(12)))


def test_it_ends_at_once_when_it_should_while_somebody_looks() -> None:
    ending = threading.Event()
    workers = Workers(lambda: ThreadPoolExecutor(1))
    feeder = Feeder(workers, ending, time.monotonic)
    jobs = iter(range(10**6))
    thread = threading.Thread(
        target=feeder.each, args=(abs, jobs, lambda kept: None, lambda job, notice: job)
    )
    thread.start()
    ending.set()
    until(lambda: not thread.is_alive(), 10)
    workers.close()
