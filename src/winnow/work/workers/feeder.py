"""Feeding jobs to worker processes, so that one hostile file costs itself and never its
neighbours."""

from __future__ import annotations

import logging
import math
import sqlite3
import threading
import time
from collections.abc import Callable, Iterator
from concurrent.futures import FIRST_COMPLETED, CancelledError, Future, wait
from concurrent.futures.process import BrokenProcessPool
from typing import Any, Final, TypeVar, cast

from winnow.photos.cache import NoRoomError
from winnow.say import say
from winnow.work.workers import tasks
from winnow.work.workers.pool import NoWorkersError, Workers

T = TypeVar("T")
log = logging.getLogger(__name__)

# A decoder that takes longer than this on one picture hangs.
_LONGEST_JOB_S: Final = 120.0
_DEATHS_ALONE: Final = 2  # of a worker that had nothing but this job
STORE_EVERY_S: Final = 0.25
# While somebody steps through pictures, and a moment after, work behind makes do with a job now and
# then.
_STEPPING_S: Final = 0.4
_NOW_AND_THEN_S: Final = 0.5


class Feeder:
    """Runs a function over jobs in the workers, until ``ending`` is set.

    ``looked``: when somebody last looked at a picture, in s of the clock, for work that stands back
    behind that. ``clock``: seconds that only go on.
    """

    def __init__(
        self,
        workers: Workers,
        ending: threading.Event,
        looked: Callable[[], float] = lambda: -math.inf,
        clock: Callable[[], float] = time.monotonic,
    ) -> None:
        self._workers = workers
        self._ending = ending
        self._looked = looked
        self._clock = clock

    @property
    def is_here(self) -> bool:
        """Whether the workers are processes of this machine, with its files."""
        return self._workers.are_here

    def _room(self, submitted: float) -> int:
        """How many jobs may be under way, when the last one was submitted at that time."""
        now = self._clock()
        if now - self._looked() < _STEPPING_S:
            return 1 if now - submitted > _NOW_AND_THEN_S else 0
        # One more than can run: a longer queue would keep a picture that is wanted now waiting.
        return self._workers.count + 1

    def each(  # noqa: C901
        self,
        function: Callable[[Any], T],
        jobs: Iterator[Any],
        keep: Callable[[list[T]], None],
        failed: Callable[[Any, str], T],
        split: Callable[[Any], list[Any]] | None = None,
    ) -> None:
        """Run a function over jobs, keeping the cores fed but the queue short.

        A job whose worker dies or hangs is tried again alone. One that hangs again, or whose worker
        dies twice more, counts as failed, as does one that raises, or whose result can't be kept:
        somebody else may have ended a worker. ``split``: the parts of a job whose result is a list,
        one for each part. Raises NoRoomError when the pictures can't be kept, NoWorkersError when
        there are no workers any more: then all that is not done waits.
        """
        running: dict[Future[T], tuple[Any, float]] = {}
        suspects: list[Any] = []
        results: list[tuple[Any, T]] = []

        def store() -> None:
            _keep(results, keep, failed, split)
            results.clear()

        stored = self._clock()
        submitted = -math.inf
        exhausted = False
        while not self._ending.is_set():
            while not exhausted and len(running) < self._room(submitted):
                job = next(jobs, None)
                if job is None:
                    exhausted = True
                    break
                submitted = self._clock()
                running[self._workers.submit(function, job)] = (job, submitted)
            if not running:
                if exhausted:
                    break
                self._ending.wait(0.05)
                continue
            done, _ = wait(running, timeout=0.1, return_when=FIRST_COMPLETED)
            for future in done:
                job, _ = running.pop(future)
                try:
                    results.append((job, future.result()))
                except (BrokenProcessPool, CancelledError):
                    suspects += split(job) if split else [job]
                except (NoRoomError, NoWorkersError):
                    store()
                    raise
                except Exception as error:
                    results.append((job, failed(job, tasks.unreadable(error))))
            now = self._clock()
            # guard: time of a worker
            if any(now - since > _LONGEST_JOB_S for _, since in running.values()):
                self._workers.restart()
            if results and (now - stored > STORE_EVERY_S or not running):
                store()
                stored = now
        store()
        for job in suspects:
            if self._ending.is_set():
                return
            _keep([(job, self._alone(function, job, failed))], keep, failed, split)

    def _alone(self, function: Callable[[Any], T], job: Any, failed: Callable[[Any, str], T]) -> T:
        for _ in range(_DEATHS_ALONE):
            future = self._workers.submit(function, job)
            try:
                return future.result(timeout=_LONGEST_JOB_S)
            except TimeoutError:
                self._workers.restart()
                return failed(job, say("The file is damaged: decoding it does not come to an end."))
            except (BrokenProcessPool, CancelledError):
                continue
            except (NoRoomError, NoWorkersError):
                raise
            except Exception as error:
                return failed(job, tasks.unreadable(error))
        return failed(job, say("The file is damaged: decoding it stopped the decoder."))


def _keep(
    results: list[tuple[Any, T]],
    keep: Callable[[list[T]], None],
    failed: Callable[[Any, str], T],
    split: Callable[[Any], list[Any]] | None,
) -> None:
    """Keep results together; where that can't be, each by itself, so that one costs none of the
    others."""
    if not results:
        return
    try:
        keep([result for _, result in results])
    except (NoRoomError, sqlite3.OperationalError):
        raise  # it is no result's fault
    except Exception as error:
        if len(results) > 1:
            for pair in results:
                _keep([pair], keep, failed, split)
            return
        ((job, result),) = results
        parts = split(job) if split else [job]
        if len(parts) > 1 and isinstance(result, list):
            for part, of_part in zip(parts, result, strict=True):
                _keep([(part, cast(T, [of_part]))], keep, failed, split)
            return
        log.exception("a result could not be kept")
        keep([failed(job, tasks.unreadable(error))])
