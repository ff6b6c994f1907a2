"""What a hostile file can take from the machine: so much memory and so much time, and no more."""

import multiprocessing
import os
import time
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import numpy as np
import pytest

from tests.conftest import indexed
from tests.pictures import write_jpeg
from winnow.store import frames
from winnow.store.frames import Analysed, State
from winnow.work import analyse, feeding
from winnow.work.analyse import Failure, Job
from winnow.work.studio import Places, Studio


def take(gigabytes: int) -> str:
    """Ask for memory, without touching it."""
    try:
        return f"got {np.empty(gigabytes << 30, np.uint8).nbytes >> 30}"
    except MemoryError:
        return "refused"


def test_a_worker_does_not_get_all_memory() -> None:
    spawn = multiprocessing.get_context("spawn")
    with ProcessPoolExecutor(1, spawn, analyse.start_worker, (os.getpid(), 0)) as pool:
        assert pool.submit(take, 1).result() == "got 1"
        assert pool.submit(take, 9).result() == "refused"


def go_on(job: Job) -> Analysed | Failure:
    """Stands in for a decoder that a hostile file keeps busy."""
    if "hostile" in job.path.name:
        time.sleep(40)
    return analyse.look(job)


def test_a_file_that_never_ends_is_given_up(
    places: Places, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    folder = tmp_path / "shoot"
    # What becomes of its neighbours is in test_feeding.py, without processes that take their time to begin.
    write_jpeg(folder / "hostile.jpg", 5)
    monkeypatch.setattr("winnow.work.indexer.analyse.look", go_on)
    monkeypatch.setattr(feeding, "_LONGEST_JOB_S", 2.0)
    studio = Studio(places)  # real processes
    shoot = indexed(studio, folder)
    (row,) = frames.rows(studio.db, shoot)
    studio.close()
    assert row.state is State.FAILED
    assert "does not come to an end" in row.notice
