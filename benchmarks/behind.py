"""How much looking for faces costs beside the bare models, and whether pictures wait for it.

    python -m benchmarks.behind FOLDER

On the demo shoot in a folder (made there if it is missing): the models alone over all that they are
shown, against the whole of looking for faces in the same previews; both in one process. Then a
shoot is indexed, and previews are asked for that aren't there, while nothing else runs and while
faces are looked for. At the end: another point of a group is measured, its groups are judged, and
hints are made for a large shoot.
"""

from __future__ import annotations

import os
import sys
import tempfile
import time
from collections import defaultdict
from pathlib import Path
from typing import Any
from unittest import mock

os.environ.update(OPENBLAS_NUM_THREADS="1", OMP_NUM_THREADS="1")

import cv2
import numpy as np

from benchmarks.run import percentile
from benchmarks.table import row
from winnow.core import people
from winnow.core.measure import faces as core_faces
from winnow.core.verdict import hints as core_hints
from winnow.core.verdict.hints import Looked
from winnow.core.verdict.judge import Judged
from winnow.demo import shoot as demo_shoot
from winnow.photos import face_numbers, faces, jpegs, smiles
from winnow.store import faces as face_store
from winnow.store import frame_figures, frames, hints, shoots
from winnow.work.index.faces_and_hints import FACE_VERSION, group_job
from winnow.work.runtime import Places, Runtime
from winnow.work.workers import face_tasks
from winnow.work.workers.face_tasks import FaceJob
from winnow.work.workers.jobs import job_of


def indexed(runtime: Runtime, folder: Path) -> int:
    """Index a folder to the end."""
    shoot = shoots.make(runtime.db, "Demo", [str(folder)])
    runtime.indexer.start(shoot)
    while runtime.indexer.status(shoot).running:
        time.sleep(0.05)
    return shoot


def bench_models(runtime: Runtime, shoot: int) -> None:
    """The stage against the bare models, over the same previews."""
    ids = [row.id for row in frames.rows(runtime.db, shoot) if row.picture == 2][::3]
    jobs = [
        FaceJob(job_of(runtime.db, runtime.cache, n), frame_figures.focus_map(runtime.db, n))
        for n in ids
    ]
    shown: dict[str, list[Any]] = defaultdict(list)
    real = faces.model

    def noted(name: str) -> Any:
        def call(picture: Any) -> Any:
            shown[name].append(picture.copy())
            return real(name)(picture)

        return call

    def smiling(cut: Any) -> Any:
        shown["smiles"].append(cut.copy())
        return network(cut)

    network = smiles._network
    faces.model, smiles._network = noted, smiling  # type: ignore[assignment]
    for job in jobs:
        face_tasks.find_faces(job)
    faces.model, smiles._network = real, network
    ratios, bares = [], []
    for _ in range(3):
        start = time.process_time()
        for name, inputs in shown.items():
            bare_model = network if name == "smiles" else real(name)
            for picture in inputs:
                bare_model(picture)
        bare = time.process_time() - start
        start = time.process_time()
        for job in jobs:
            face_tasks.find_faces(job)
        ratios.append((time.process_time() - start) / bare)
        bares.append(bare / len(jobs))
    ratio = sorted(ratios)[1]
    row(
        "faces and eyes, behind",
        f"{ratio:.2f} ×",
        "1.5 ×",
        floor=f"{1000 * min(bares):.0f} ms a preview: the bare models",
        met=ratio <= 1.5,
    )


def ask_for_pictures(runtime: Runtime, ids: list[int]) -> list[float]:
    """Seconds until a preview that isn't there yet is made, one after the other."""
    taken = []
    for frame in ids:
        start = time.perf_counter()
        runtime.indexer.picture(frame).result(60)
        taken.append(time.perf_counter() - start)
    return taken


def bench_waiting(runtime: Runtime, shoot: int) -> None:
    """A picture that is looked at, with and without faces being looked for."""
    ids = [row.id for row in frames.rows(runtime.db, shoot) if row.picture == 2]
    quiet = ask_for_pictures(runtime, ids[5:65])
    with runtime.db.write() as conn:
        conn.execute("UPDATE frame SET face_version = '' WHERE shoot_id = ?", (shoot,))
    runtime.indexer.start(shoot)
    while shoots.tally(runtime.db, shoot).faces < 4:
        time.sleep(0.02)
    busy = ask_for_pictures(runtime, ids[65:125])
    assert runtime.indexer.status(shoot).running
    runtime.indexer.stop(shoot)
    for what, times in (("nothing else runs", quiet), ("faces are looked for", busy)):
        row(
            f"a picture that is wanted now, while {what}, p50 / p95",
            f"{1000 * percentile(times, 0.5):.0f} / {1000 * percentile(times, 0.95):.0f} ms",
        )


def bench_point(runtime: Runtime, shoot: int) -> None:
    """Another point is clicked: the whole group is measured there."""
    groups: dict[int, list[int]] = defaultdict(list)
    for frame in frames.rows(runtime.db, shoot):
        groups[frame.group].append(frame.id)
    taken = []
    for members in groups.values():
        if len(members) < 6:
            continue
        # As the page does when somebody stays with a frame.
        runtime.subject_lock.beside(members[0], None, members)
        for x, y in ((0.3, 0.5), (0.6, 0.4)):
            start = time.perf_counter()
            runtime.subject_lock.beside(members[0], (x, y), members)
            taken.append(time.perf_counter() - start)
    row(
        "a group of 6 to 10 measured at another point, p50 / p95",
        f"{1000 * percentile(taken, 0.5):.0f} / {1000 * percentile(taken, 0.95):.0f} ms",
    )


def bench_judging(runtime: Runtime, shoot: int) -> None:
    """Groups are judged, with frames that look softer opened at full size, and by edges alone."""
    groups: dict[int, list[hints.Member]] = defaultdict(list)
    for member in hints.members(runtime.db, shoot):
        groups[member.group].append(member)
    jobs = [
        group_job(runtime.db, runtime.cache, "", members)
        for members in groups.values()
        if len(members) > 1
    ]
    each = []
    for close in (face_tasks._close, lambda *_: None):
        with mock.patch.object(face_tasks, "_close", close):
            start = time.perf_counter()
            for job in jobs:
                face_tasks.judge(job)
            each.append((time.perf_counter() - start) / sum(len(job.frames) for job in jobs))
    row(
        "a frame of a group judged, one core",
        f"{1000 * each[0]:.0f} ms",
        floor=f"{1000 * each[1]:.0f} ms: by edges alone, no file opened",
    )


def bench_hints() -> None:
    """Noticing in a shoot of 20,000 frames, once it is judged."""
    rng = np.random.default_rng(1)
    eye = core_faces.Eye(0.5, 0.5, 0.3, 1.0)
    face = core_faces.Face((0.4, 0.4, 0.5, 0.6), (eye, eye), 0, 1, np.zeros((8, 8, 3), np.float32))
    many = [
        Looked(
            n, n // 5, f"QH_{n}",
            Judged(0.5, 0.5, "eyes", 100, True, 1.0, float(abs(rng.normal(0, 0.2))), 5, 0.1, 10, 1,
            0.02, 0.8, 0),
            [face], 1, 0.0, float(rng.normal()), taken_at=n + 0.5, camera="Quillon H2",
            content_hash=str(n), signature=rng.bytes(264),
        )
        for n in range(20_000)
    ]  # fmt: skip
    start = time.perf_counter()
    core_hints.notice(many, {})
    row(
        "hints of 20,000 frames made anew, in a worker process",
        f"{1000 * (time.perf_counter() - start):,.0f} ms",
    )


def bench_people(runtime: Runtime, shoot: int) -> None:
    """Telling people apart: a face's numbers, and putting 5,000 faces together."""
    ids = [row.id for row in frames.rows(runtime.db, shoot) if row.picture == 2]
    taken = []
    for frame, listed in face_store.of_frames(runtime.db, ids).items():
        job = job_of(runtime.db, runtime.cache, frame)
        picture = jpegs.rgb_of_jpeg(runtime.cache.read(job.key or "", "preview") or b"")
        for face in listed:
            start = time.process_time()
            numbers = face_numbers.numbers_of(picture, face, picture.shape[1])
            if not np.isnan(numbers).any():
                taken.append(time.process_time() - start)
    each = 1000 * percentile(taken, 0.5)
    row("numbers of a face, one core, p50", f"{each:.0f} ms", "60 ms", met=each <= 60)
    rng = np.random.default_rng(1)
    middles = rng.normal(0, 0.09, (100, face_numbers.COUNT))
    many = middles[rng.integers(0, 100, 5_000)] + rng.normal(0, 0.02, (5_000, face_numbers.COUNT))
    start = time.process_time()
    people.told_apart(many.astype(np.float32), list(range(5_000)), [None] * 5_000)
    whole = time.process_time() - start
    row("5,000 faces of 100 people put together, one core", f"{whole:.1f} s", "5 s", met=whole <= 5)


def main(folder: Path) -> None:
    """Measure on the demo shoot in a folder, made where it isn't there, and note the figures."""
    for maker in demo_shoot.make_behind(folder):
        maker.join()
    cv2.setNumThreads(1)
    with tempfile.TemporaryDirectory() as home:
        runtime = Runtime(Places(Path(home) / "data", Path(home) / "cache"))
        shoot = indexed(runtime, folder)
        assert shoots.tally(runtime.db, shoot).faces > 200, FACE_VERSION
        bench_models(runtime, shoot)
        bench_point(runtime, shoot)
        bench_judging(runtime, shoot)
        bench_people(runtime, shoot)
        bench_waiting(runtime, shoot)
        runtime.close()
    bench_hints()


if __name__ == "__main__":
    main(Path(sys.argv[1]))
