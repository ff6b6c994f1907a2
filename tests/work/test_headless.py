"""Analysis without a page, here and on a cluster: the results are the same."""

import contextlib
import os
import signal
import socket
import subprocess
import sys
import time
from collections.abc import Iterator
from concurrent.futures.process import BrokenProcessPool
from pathlib import Path
from typing import Any

import pytest

from tests.conftest import until
from tests.pictures import dng, jpeg, write_shoot
from winnow.store import shoots
from winnow.store.db import Database
from winnow.work.index import cluster, headless
from winnow.work.index.cluster import ExecutorError
from winnow.work.runtime import Places, Runtime
from winnow.work.workers.pool import Workers


def results(path: Path) -> list[Any]:
    """All that was found out about each frame."""
    db = Database(path)
    rows = db.read.execute(
        """
        SELECT path, kind, state, picture, key, taken_at, camera, width, height, likeness,
        clipped_high, clipped_low,
            brightness_ev, content_hash, blur_px, faces, group_no, position, map, notice
        FROM frame LEFT JOIN focus_map ON frame_id = frame.id ORDER BY path
        """
    )
    found = [tuple(row) for row in rows]
    db.close()
    return found


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1, 1, 2, 3, 4, 5])
    (folder / "QH_0002.dng").write_bytes(dng(jpeg(2, 1200, 800)))
    (folder / "QH_0099.jpg").write_bytes(b"\xff\xd8 not a picture")
    return folder


def index(folder: Path, home: Path, *options: str) -> str:
    done = subprocess.run(
        [sys.executable, "-m", "winnow", "index", folder, *options],
        capture_output=True,
        text=True,
        timeout=240,
        env={**os.environ, "WINNOW_DATA": str(home), "WINNOW_CACHE": str(home / "cache")},
    )
    assert done.returncode == 0, done.stderr[-2000:]
    return done.stdout


def test_a_local_cluster_of_two_finds_the_same(folder: Path, tmp_path: Path) -> None:
    distributed = pytest.importorskip("distributed")
    here, there = tmp_path / "here", tmp_path / "there"
    said = index(folder, here)
    assert said.strip().endswith("7 frames, 6 analysed, 1 can’t be shown.")
    with distributed.LocalCluster(
        n_workers=2, threads_per_worker=1, processes=True, dashboard_address=None
    ) as two:
        said = index(folder, there, "--executor", f"dask:{two.scheduler_address}")
    assert said.strip().endswith("7 frames, 6 analysed, 1 can’t be shown.")
    found = results(here / "winnow.db")
    assert found == results(there / "winnow.db")
    assert sum(row[2] == 2 for row in found) == 6
    for name in ("preview", "thumbnail"):
        pictures = [
            {p.name: p.read_bytes() for p in (home / "cache").rglob(f"*.{name}.jpg")}
            for home in (here, there)
        ]
        assert pictures[0] == pictures[1]
        assert len(pictures[0]) == 6


@pytest.fixture
def one() -> Iterator[Any]:
    """A cluster of one worker, which is started anew when it ends."""
    distributed = pytest.importorskip("distributed")
    with distributed.LocalCluster(
        n_workers=1, threads_per_worker=1, processes=True, dashboard_address=None
    ) as made:
        yield made


def test_a_worker_that_is_lost_is_told_from_a_job_that_fails(one: Any) -> None:
    workers = cluster.workers_at(f"dask:{one.scheduler_address}")
    assert workers.count == 1
    with pytest.raises(BrokenProcessPool):
        workers.submit(os._exit, 1).result(timeout=240)
    with pytest.raises(ZeroDivisionError):
        workers.submit(divmod, 1, 0).result(timeout=240)
    assert workers.submit(divmod, 7, 2).result(timeout=240) == (3, 1)
    workers.close()


def test_a_job_that_hangs_on_a_cluster_is_ended(one: Any) -> None:
    workers = cluster.workers_at(f"dask:{one.scheduler_address}")
    hangs = workers.submit(time.sleep, 100_000)
    until(lambda: any(one.scheduler.workers[w].processing for w in one.scheduler.workers))
    workers.restart()
    with pytest.raises(BrokenProcessPool):
        hangs.result(timeout=240)
    # The only worker there is does this.
    assert workers.submit(divmod, 7, 2).result(timeout=240) == (3, 1)
    workers.close()


def test_a_worker_lost_midway_costs_no_frame(one: Any, tmp_path: Path) -> None:
    write_shoot(tmp_path / "shoot", range(12))
    workers = cluster.workers_at(f"dask:{one.scheduler_address}")
    runtime = Runtime(Places(tmp_path / "data", tmp_path / "cache"), workers)
    shoot = shoots.make(runtime.db, "Lost", [str(tmp_path / "shoot")])
    runtime.indexer.start(shoot)
    until(lambda: shoots.tally(runtime.db, shoot).done >= 1)
    (worker,) = one.workers.values()
    # Not by the cluster's own way, which wants an event loop in this thread.
    os.kill(worker.process.pid, signal.SIGKILL)
    until(lambda: not runtime.indexer.status(shoot).running)
    tally = shoots.tally(runtime.db, shoot)
    runtime.close()
    assert (tally.done, tally.failed, tally.faces) == (12, 0, 12)


def free_port() -> int:
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        return int(taken.getsockname()[1])


@contextlib.contextmanager
def own_scheduler(folder: Path) -> Iterator[tuple[subprocess.Popen[bytes], Workers]]:
    """A scheduler in a process of its own, with one worker in another."""
    port = str(free_port())
    address = f"tcp://127.0.0.1:{port}"

    def start(what: str, *options: str) -> subprocess.Popen[bytes]:
        return subprocess.Popen(
            [sys.executable, "-m", f"distributed.cli.dask_{what}", *options, "--no-dashboard"],
            cwd=folder,
            stderr=subprocess.DEVNULL,
        )

    found: list[Workers] = []

    def ready() -> bool:
        with contextlib.suppress(ExecutorError):
            found.append(cluster.workers_at(f"dask:{address}"))
        return bool(found)

    with (
        start("scheduler", "--host", "127.0.0.1", "--port", port) as scheduler,
        start("worker", address, "--nthreads", "1", "--no-nanny") as worker,
    ):
        try:
            until(ready)
            yield scheduler, found[0]
        finally:
            worker.kill()
            scheduler.kill()


@pytest.mark.parametrize("end", [signal.SIGTERM, signal.SIGKILL])
def test_a_scheduler_that_goes_away_ends_the_run_in_words(
    end: signal.Signals, tmp_path: Path
) -> None:
    pytest.importorskip("distributed")
    write_shoot(tmp_path / "shoot", range(12))
    places = Places(tmp_path / "data", tmp_path / "cache")
    lines: list[str] = []
    with own_scheduler(tmp_path) as (scheduler, workers):
        runtime = Runtime(places, workers)

        def tell(line: str) -> None:
            if not lines:
                scheduler.send_signal(end)
            lines.append(line)

        assert headless.index(runtime, [str(tmp_path / "shoot")], "Gone", tell) == 1
        runtime.close()
    assert any("scheduler is gone" in line for line in lines), lines
    # No file counts as damaged for it, and all are analysed the next time.
    lines.clear()
    again = Runtime(places)
    assert headless.index(again, [str(tmp_path / "shoot")], "Gone", lines.append) == 0
    again.close()
    assert lines[-1] == "12 frames, 12 analysed."


def test_workers_with_several_threads_are_refused() -> None:
    distributed = pytest.importorskip("distributed")
    with (
        distributed.LocalCluster(
            n_workers=1, threads_per_worker=2, processes=False, dashboard_address=None
        ) as many,
        pytest.raises(ExecutorError, match="--nthreads 1"),
    ):
        cluster.workers_at(f"dask:{many.scheduler_address}")


def test_what_is_no_executor_is_said(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    with pytest.raises(ExecutorError, match="dask:ADDRESS"):
        cluster.workers_at("ray://x")
    monkeypatch.setitem(sys.modules, "distributed", None)
    with pytest.raises(ExecutorError, match="not installed"):
        cluster.workers_at("dask:tcp://127.0.0.1:1")


def test_indexing_an_empty_folder_says_so(tmp_path: Path) -> None:
    (tmp_path / "empty").mkdir()
    runtime = Runtime(Places(tmp_path / "data", tmp_path / "cache"))
    lines: list[str] = []
    try:
        assert headless.index(runtime, [str(tmp_path / "empty")], "Empty", lines.append) == 1
    finally:
        runtime.close()
    assert lines[-1] == "0 frames, 0 analysed."
