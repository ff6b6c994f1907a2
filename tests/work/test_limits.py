"""What a hostile file can take from the machine: so much memory and so much time, and no more."""

import multiprocessing
import os
import signal
import subprocess
import sys
import threading
import time
from concurrent.futures import ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from pathlib import Path

import numpy as np
import pytest

from tests.conftest import indexed, until
from tests.pictures import write_jpeg
from winnow.photos import bounds
from winnow.store import frames
from winnow.store.frame_figures import Analysed
from winnow.store.frames import State
from winnow.work.runtime import Places, Runtime
from winnow.work.workers import feeder, room, tasks
from winnow.work.workers.tasks import Failure, Job


def take(gigabytes: int) -> str:
    """Ask for memory, without touching it."""
    try:
        return f"got {np.empty(gigabytes << 30, np.uint8).nbytes >> 30}"
    except MemoryError:
        return "refused"


def test_a_worker_does_not_get_all_memory() -> None:
    spawn = multiprocessing.get_context("spawn")
    with ProcessPoolExecutor(1, spawn, tasks.start_worker, (0,)) as pool:
        assert pool.submit(take, 1).result() == "got 1"
        assert pool.submit(take, 3).result() == "refused"


KILLED = """
import os, signal, time
from winnow.work.workers.pool import Workers
if __name__ == "__main__":
    workers = Workers(count=2)
    print(*{workers.submit(os.getpid).result() for _ in range(40) if not time.sleep(0.01)},
    flush=True)
    os.kill(os.getpid(), signal.SIGKILL)
"""


def test_workers_end_with_a_server_that_is_killed(tmp_path: Path) -> None:
    script = tmp_path / "server.py"
    script.write_text(KILLED)
    # They hold its output open: this waits for their end.
    said = subprocess.run([sys.executable, script], capture_output=True, text=True, timeout=90)
    assert said.returncode == -signal.SIGKILL
    assert said.stdout.split(), said.stderr


def test_room_is_waited_for_and_comes_back(tmp_path: Path) -> None:
    """Locks are a process's own: what another one claims is waited for here."""
    file = tmp_path / "room"
    file.touch()
    spawn = multiprocessing.get_context("spawn")
    with ProcessPoolExecutor(1, spawn, room.share, (file, 4)) as pool:
        pool.submit(claim, 3 * room.PIECE).result()
        here = room.Room(file, 4)
        here.claim(room.PIECE)
        assert here._held == {3}
        here.release()
        waiting = threading.Thread(target=here.claim, args=(2 * room.PIECE,))
        waiting.start()
        waiting.join(0.2)
        assert waiting.is_alive()
        # What ends gives back, however it ends.
        with pytest.raises(BrokenProcessPool):
            pool.submit(os._exit, 1).result()
        waiting.join(30)
        assert here._held == {0, 1} or len(here._held) == 2
        here.close()


def test_two_that_want_more_than_they_have_do_not_wait_for_each_other(tmp_path: Path) -> None:
    file = tmp_path / "room"
    file.touch()
    spawn = multiprocessing.get_context("spawn")
    with ProcessPoolExecutor(1, spawn, room.share, (file, 4)) as pool:
        here = room.Room(file, 4)
        here.claim(2 * room.PIECE)
        pool.submit(claim, 2 * room.PIECE).result()
        more = pool.submit(claim, 3 * room.PIECE)
        wanting = threading.Thread(target=here.claim, args=(3 * room.PIECE,), daemon=True)
        wanting.start()
        # Whoever comes first has it, and gives it back with its job.
        for _ in range(2):
            until(lambda: more.done() or not wanting.is_alive())
            if not wanting.is_alive():
                here.release()
            if more.done():
                pool.submit(give_back).result()
        wanting.join(30)
        assert more.result(30) is None
        here.close()


@room.given_back
def give_back() -> None:
    """A job that ends."""


def claim(size: int) -> None:
    bounds.claim(size)


def test_more_than_there_is_counts_as_all_of_it(tmp_path: Path) -> None:
    file = tmp_path / "room"
    file.touch()
    here = room.Room(file, 3)
    here.claim(100 * room.PIECE)
    assert here._held == {0, 1, 2}
    here.close()


@pytest.mark.parametrize(
    ("gigabytes", "processes", "pieces"),
    [(2, 10, 35), (8, 10, 75), (64, 34, 686)],
)
def test_the_room_is_a_share_of_the_machines_memory_and_one_picture_always_fits(
    gigabytes: int, processes: int, pieces: int
) -> None:
    assert room.pieces_for(gigabytes * 10**9, processes) == pieces


def go_on(job: Job) -> Analysed | Failure:
    """Stands in for a decoder that a hostile file keeps busy."""
    if "hostile" in job.path.name:
        time.sleep(40)
    return tasks.look(job)


def test_a_file_that_never_ends_is_given_up(
    places: Places, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    folder = tmp_path / "shoot"
    # What becomes of its neighbours is in test_feeding.py, without processes that take their time
    # to begin.
    write_jpeg(folder / "hostile.jpg", 5)
    monkeypatch.setattr("winnow.work.index.indexer.tasks.look", go_on)
    monkeypatch.setattr(feeder, "_LONGEST_JOB_S", 2.0)
    runtime = Runtime(places)  # real processes
    shoot = indexed(runtime, folder)
    (row,) = frames.rows(runtime.db, shoot)
    runtime.close()
    assert row.state is State.FAILED
    assert "does not come to an end" in row.notice
