"""What a dask cluster costs on top of as many workers of Winnow's own, on this machine.

Run: python -m benchmarks.cluster (about six minutes; nothing else should run)
"""

from __future__ import annotations

import shutil
import tempfile
import time
from pathlib import Path
from statistics import median
from typing import Final

import distributed

from benchmarks.run import linked, write_pictures
from benchmarks.table import row
from winnow.work.index import cluster, headless
from winnow.work.runtime import Places, Runtime
from winnow.work.workers.pool import Workers

_FRAMES: Final = 48
_TIMES: Final = 3
_GOAL: Final = 1.1


def indexed(home: Path, folder: Path, workers: Workers) -> float:
    """Seconds in which workers that have started analyse a folder, with faces and hints."""
    workers.warm()
    runtime = Runtime(Places(home / "data", home / "cache"), workers)
    start = time.perf_counter()
    assert headless.index(runtime, [str(folder)], "Scaling", lambda line: None) == 0
    taken = time.perf_counter() - start
    runtime.close()
    shutil.rmtree(home)
    return taken


def main() -> None:
    """Print a row for each number of workers."""
    with tempfile.TemporaryDirectory() as name:
        root = Path(name)
        write_pictures(root / "pictures")
        folder = linked(root / "many", root / "pictures", _FRAMES)
        for count in (1, 2, 4):
            own, theirs = [], []
            with distributed.LocalCluster(  # type: ignore[no-untyped-call]
                n_workers=count, threads_per_worker=1, processes=True, dashboard_address=None
            ) as there:
                for _ in range(_TIMES):
                    own.append(indexed(root / "home", folder, Workers(count=count)))
                    at = cluster.workers_at(f"dask:{there.scheduler_address}")
                    theirs.append(indexed(root / "home", folder, at))
            times = median(theirs) / median(own)
            row(
                f"{_FRAMES} frames analysed by a dask cluster of {count} here",
                f"{median(theirs):.1f} s, {times:.2f} ×",
                "1.1 ×",
                floor=f"{count} of Winnow's own: {median(own):.1f} s",
                met=times <= _GOAL,
            )


if __name__ == "__main__":
    main()
