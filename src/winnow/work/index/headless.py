"""Analysis without a page, on this machine's processors or on those of a cluster."""

from __future__ import annotations

import time
from collections.abc import Callable
from importlib import import_module
from typing import Any, Final

from winnow import terminal
from winnow.core.counts import counted
from winnow.say import say
from winnow.store import shoots
from winnow.work.moves import moved_shoots
from winnow.work.runtime import Runtime
from winnow.work.workers.pool import Workers

_TELL_S: Final = 2.0
_DASK: Final = "dask:"


class ExecutorError(Exception):
    """Workers that can't be used, with the reason and what to do next."""


def workers_at(address: str) -> Workers:
    """Workers behind ``dask:ADDRESS``, a dask.distributed scheduler. Raises ExecutorError.

    Its machines need Winnow, and must see the folders and the cache under the same paths. Any other
    executor with the interface of ``concurrent.futures`` can be given to ``Workers``.
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
    count = sum(client.nthreads().values())
    if not count:
        raise ExecutorError(
            say("The scheduler at {address} has no workers. Start some first.", address=address)
        )
    # A file that kills a worker is tried once more, by Winnow itself.
    return Workers(lambda: client.get_executor(pure=False, retries=0), count=count)


def index(
    runtime: Runtime, folders: list[str], name: str, tell: Callable[[str], None] = terminal.tell
) -> int:
    """Analyse folders as a shoot, to the end; returns the exit status."""
    shoot = shoots.find_by_folders(runtime.db, folders)
    if shoot is None and (seen := moved_shoots.find(runtime.db, folders)):
        tell(say("{found} Open it in the page first, which asks what to do.", found=seen.sentence))
        return 1
    if shoot is None:
        shoot = shoots.make(runtime.db, name, folders)
    runtime.indexer.start(shoot)
    told = 0.0
    while (status := runtime.indexer.status(shoot)).running:
        if time.monotonic() - told > _TELL_S:
            told = time.monotonic()
            tally = shoots.tally(runtime.db, shoot)
            tell(
                say(
                    "{found:,} found, {done:,} analysed, faces in {faces:,} ({stage})",
                    found=tally.frames,
                    done=tally.done,
                    faces=tally.faces,
                    stage=status.stage,
                )
            )
        time.sleep(0.1)
    tally = shoots.tally(runtime.db, shoot)
    for notice in runtime.indexer.status(shoot).notices:
        tell(notice)
    words = say(
        "{frames}, {done:,} analysed", frames=counted(tally.frames, "frame"), done=tally.done
    )
    if tally.failed:
        words += say(", {failed:,} can’t be shown", failed=tally.failed)
    tell(words + ".")
    return 0 if tally.frames and tally.done else 1
