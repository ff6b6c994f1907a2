"""Workers on a cluster: a dask.distributed scheduler that is there, on storage that all share."""

from __future__ import annotations

import logging
import threading
from collections.abc import Callable
from concurrent.futures import Executor, Future
from concurrent.futures.process import BrokenProcessPool
from functools import partial
from importlib import import_module
from typing import Any, Final, TypeVar

from winnow.say import say
from winnow.work.workers import tasks
from winnow.work.workers.pool import NoWorkersError, Workers

T = TypeVar("T")
log = logging.getLogger(__name__)
_DASK: Final = "dask:"
_RESTART_S: Final = 60
_LOOK_EVERY_S: Final = 0.5
_GONE: Final = say(
    "The cluster’s scheduler is gone. What was analysed stays. Start this again when the scheduler "
    "is there: it goes on where it was."
)


class ExecutorError(Exception):
    """Workers that can't be used, with the reason and what to do next."""


def workers_at(address: str) -> Workers:
    """Workers behind ``dask:ADDRESS``, a dask.distributed scheduler. Raises ExecutorError.

    Its machines need Winnow, and must see the folders and the cache under the same paths.
    """
    if not address.startswith(_DASK):
        raise ExecutorError(
            say("The executor is given as dask:ADDRESS, such as dask:tcp://10.0.0.5:8786.")
        )
    try:
        distributed: Any = import_module("distributed")
    except ImportError:
        raise ExecutorError(
            say(
                "dask.distributed is not installed. Install Winnow with it: pip install "
                "winnow[cluster]."
            )
        ) from None
    try:
        client = distributed.Client(address.removeprefix(_DASK), timeout=10, set_as_default=False)
    except (OSError, TimeoutError, ValueError) as error:
        raise ExecutorError(
            say("There is no scheduler at {address}: {error}.", address=address, error=error)
        ) from None
    threads = client.nthreads().values()
    if not threads:
        client.close()
        raise ExecutorError(
            say("The scheduler at {address} has no workers. Start some first.", address=address)
        )
    if max(threads) > 1:
        # Switches of the decoders hold for a whole process.
        client.close()
        raise ExecutorError(
            say(
                "Its workers run several jobs at once in one process. Start them with one thread "
                "each: dask worker {address} --nworkers -1 --nthreads 1.",
                address=address.removeprefix(_DASK),
            )
        )
    return Workers(lambda: _Cluster(client), count=len(threads))


def _prepared(function: Callable[..., T], *arguments: object) -> T:
    """Run a function in a process that was started by somebody else."""
    tasks.prepare()
    return function(*arguments)


class _Cluster(Executor):
    """A cluster as an executor: a worker that is lost reads as a process that died, one that hangs
    is started anew, and a scheduler that does not come back as NoWorkersError."""

    def __init__(self, client: Any) -> None:
        self._client = client
        self._lock = threading.Lock()
        self._running: dict[Any, Future[Any]] = {}
        self._ended = threading.Event()
        threading.Thread(target=self._watch, name="cluster", daemon=True).start()

    def submit(self, fn: Callable[..., T], /, *args: Any, **kwargs: Any) -> Future[T]:
        """Run a function on any worker."""
        ours: Future[T] = Future()
        ours.set_running_or_notify_cancel()
        job = partial(_prepared, fn, **kwargs)
        try:
            theirs = self._client.submit(job, *args, pure=False, retries=0)
        except Exception as error:
            if _is_there(self._client):
                raise
            raise NoWorkersError(_GONE) from error
        with self._lock:
            self._running[theirs] = ours
        theirs.add_done_callback(self._done)
        return ours

    def _done(self, theirs: Any) -> None:
        if theirs.status == "cancelled" and not self._ended.is_set():
            return  # told by who watches, once it is known whether the scheduler comes back
        with self._lock:
            ours = self._running.pop(theirs, None)
        if ours is None:
            return
        try:
            ours.set_result(theirs.result())
        except BaseException as error:
            lost = theirs.status != "error" or type(error).__name__ == "KilledWorker"
            ours.set_exception(BrokenProcessPool(str(error)) if lost else error)

    def _watch(self) -> None:
        """Tell jobs whose scheduler went away: lost where it is there again, else no workers.

        A scheduler that ends in order tells its clients to be quiet, and their jobs stay undone
        for ever.
        """
        while not self._ended.wait(_LOOK_EVERY_S):
            if self._client.status == "connecting":
                continue
            there = _is_there(self._client)
            with self._lock:
                told = [j for j in self._running if j.status == "cancelled" or not there]
                ours = [self._running.pop(theirs) for theirs in told]
            for future in ours:
                future.set_exception(BrokenProcessPool() if there else NoWorkersError(_GONE))

    def shutdown(self, wait: bool = True, *, cancel_futures: bool = False) -> None:
        """Take back what runs. With ``wait``, leave the cluster; else start those workers anew that
        are at it."""
        self._ended.set()
        with self._lock:
            running, self._running = self._running, {}
        try:
            keys = {theirs.key for theirs in running}
            at_it = [w for w, theirs in self._client.processing().items() if keys & set(theirs)]
            self._client.cancel(list(running))
            if at_it and not wait:
                self._client.restart_workers(at_it, timeout=_RESTART_S, raise_for_error=False)
        except Exception as error:  # the cluster may be gone, or have nobody that starts them anew
            log.warning("the cluster's workers could not be started anew: %s", error)
        for ours in running.values():
            ours.set_exception(BrokenProcessPool())
        if wait:
            self._client.close()


def _is_there(client: Any) -> bool:
    """Whether a client has its scheduler, or still tries to reach it again."""
    if client.status == "connecting":
        return True
    comm = client.scheduler_comm
    return client.status == "running" and comm is not None and not comm.comm.closed()
