"""Marks, filters, groups and indexing.

Ratios are to a floor measured in the same run, on the same files.
"""

from __future__ import annotations

import contextlib
import io
import multiprocessing
import os
import shutil
import sqlite3
import statistics
import tempfile
import time
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from functools import partial
from pathlib import Path

import cv2
import numpy as np
import psutil
import skimage.data
import turbojpeg
from PIL import Image

from benchmarks.table import row
from winnow.core.facts import FACTS_VERSION, Facts
from winnow.core.filters.filter import Filter
from winnow.core.frames import Kind, pair
from winnow.core.groups.runs import group_numbers
from winnow.core.marks import Change, Decision, Edit, plan_edit
from winnow.core.measure import exposure, focus, focus_map, likeness
from winnow.demo.raw import dng
from winnow.photos import pictures, scan
from winnow.photos.exif_writer import with_facts
from winnow.store import frame_order, frames, hints, marks, reconcile, shoots
from winnow.store.db import Database
from winnow.work import filtering
from winnow.work.index.faces_and_hints import FACE_VERSION
from winnow.work.runtime import Places, Runtime
from winnow.work.workers import tasks

PICTURES = 24
INDEXED = 96
# As in Winnow's workers.
os.environ.update(OPENBLAS_NUM_THREADS="1", OMP_NUM_THREADS="1")
FRAMES = 50_000


def percentile(values: list[float], share: float) -> float:
    """The value that this share of the others doesn't exceed."""
    return sorted(values)[min(len(values) - 1, int(share * len(values)))]


def timed(work: Callable[[], object], times: int) -> list[float]:
    """Run some work, and return how long each run took, in ms."""
    taken = []
    for _ in range(times):
        start = time.perf_counter()
        work()
        taken.append((time.perf_counter() - start) * 1000)
    return taken


def many_frames(db: Database, count: int = FRAMES) -> int:
    """A shoot of made-up rows."""
    shoot = shoots.make(db, "Many", ["/nowhere"])
    folder = shoots.folders_of(db, shoot)[0].id
    rng = np.random.default_rng(1)
    # Takes of five, each frame more or less like the one before it: by any likeness at which the
    # slider may stand, some are cut.
    signatures: list[bytes] = []
    seen = np.zeros((64, 96, 3), np.uint8)
    for n in range(min(count, 5_000)):
        other = cv2.resize(rng.integers(0, 256, (4, 6, 3), np.uint8), (96, 64))
        new = rng.uniform(0, 0.7) if n % 5 else 1.0
        seen = cv2.addWeighted(other, new, seen, 1 - new, 0).astype(np.uint8)
        signatures.append(likeness.signature(seen))
    with db.write() as conn:
        conn.executemany(
            """
            INSERT INTO frame (shoot_id, folder_id, path, name, kind, files, state, picture, key,
                position, taken_at, width, height, likeness)
            VALUES (?, ?, ?, ?, 'JPEG', '', 2, 2, 'k', ?, ?, 6000, 4000, ?)
            """,
            [
                (
                    shoot,
                    folder,
                    f"QH_{n}.jpg".encode(),
                    f"QH_{n}",
                    n,
                    n * 2.0,
                    signatures[n % len(signatures)],
                )
                for n in range(count)
            ],
        )
        conn.execute(
            "INSERT INTO mark (frame_id) SELECT id FROM frame WHERE shoot_id = ?", (shoot,)
        )
        conn.execute("UPDATE mark SET stars = abs(random()) % 6")
        conn.execute("UPDATE mark SET decision = 'pick' WHERE frame_id % 7 = 0")
    return shoot


def set_marks(db: Database, shoot: int, wanted: list[int], edit: Edit) -> None:
    """As a key does."""

    def plan() -> Change | None:
        held = marks.marks_of(db, shoot, wanted)
        return plan_edit(edit, held, partial(frames.name_of, db), {})

    marks.apply(db, shoot, plan)


def bench_marks(db: Database, shoot: int) -> None:
    """Marks, filter, list and groups on many frames."""
    ids = filtering.matching(db, shoot, Filter())

    turn = iter(range(10**9))
    one_mark = timed(lambda: set_marks(db, shoot, [ids[next(turn)]], Edit(Decision.REJECT)), 300)
    writes = bare_writes(db.path.parent)
    bare = [percentile(writes, share) for share in (0.5, 0.95)]
    p95 = percentile(one_mark, 0.95)
    row(
        "a mark, stored durably, p50 / p95",
        f"{percentile(one_mark, 0.5):.1f} / {p95:.1f} ms",
        "10 ms p95",
        floor=f"{bare[0]:.1f} / {bare[1]:.1f} ms: a row in SQLite",
        met=p95 < 10,
    )
    bulk = timed(lambda: set_marks(db, shoot, ids[::10], Edit(stars=next(turn) % 5 + 1)), 5)
    values = [(n % 5, frame) for n, frame in enumerate(ids[::10])]

    def bare_bulk() -> None:
        with db.write() as conn:
            conn.executemany("UPDATE mark SET stars = ? WHERE frame_id = ?", values)

    row(
        f"5,000 of {FRAMES:,} frames marked at once",
        f"{statistics.median(bulk):.0f} ms",
        "150 ms",
        floor=f"{statistics.median(timed(bare_bulk, 5)):.0f} ms: the rows alone",
        met=statistics.median(bulk) < 150,
    )
    wanted = Filter((Decision.PICK, Decision.UNDECIDED), stars=2)
    found = timed(lambda: filtering.find(db, shoot, wanted), 15)
    own = "SELECT frame.id FROM frame JOIN mark ON frame_id = frame.id WHERE shoot_id = ?"
    plain = f"{own} AND stars >= 2 AND decision != 'reject'"
    floor = timed(lambda: db.read.execute(plain, (shoot,)).fetchall(), 9)
    row(
        f"filter with counts, {FRAMES:,} frames",
        f"{statistics.median(found):.0f} ms",
        "30 ms",
        floor=f"{statistics.median(floor):.0f} ms: the bare SQL",
        met=statistics.median(found) < 30,
    )
    listed = timed(lambda: frames.rows(db, shoot), 3)
    row(
        f"every frame with its group, {FRAMES:,} frames",
        f"{statistics.median(listed):.0f} ms",
    )
    rng = np.random.default_rng(1)
    times = np.sort(rng.random(10_000) * 1e4)
    distances = rng.random(9_999).astype(np.float32)
    upright = np.zeros(10_000, np.bool_)
    grouped = timed(lambda: group_numbers(times, distances, upright), 20)
    row("10,000 frames cut into groups", f"{statistics.median(grouped):.1f} ms")


def bare_writes(folder: Path) -> list[float]:
    """ms of one row stored durably by SQLite alone, in a file beside."""
    conn = sqlite3.connect(folder / "floor.db", isolation_level=None)
    conn.execute("PRAGMA journal_mode = WAL")
    conn.execute("PRAGMA synchronous = FULL")
    conn.execute("CREATE TABLE one (n INTEGER)")
    taken = timed(lambda: conn.execute("INSERT INTO one VALUES (1)"), 200)
    conn.close()
    return taken


def write_pictures(folder: Path, quality: int = 94, grain: float = 6) -> float:
    """24-megapixel JPEGs of natural pictures with noise (sd in levels); returns their mean size in
    MB."""
    folder.mkdir()
    sources = [getattr(skimage.data, name)() for name in ("coffee", "chelsea", "astronaut")]
    rng = np.random.default_rng(1)
    noise = rng.normal(0, grain, (4000, 6000, 1)).astype(np.float32)
    for n in range(PICTURES):
        large = Image.fromarray(sources[n % 3]).resize((6000, 4000), Image.Resampling.BICUBIC)
        pixels = np.clip(np.asarray(large) + np.roll(noise, n * 37, 1), 0, 255).astype(np.uint8)
        out, small = io.BytesIO(), io.BytesIO()
        Image.fromarray(pixels).save(out, "JPEG", quality=quality, subsampling=2)
        large.resize((160, 107)).save(small, "JPEG")
        facts = Facts(taken_at=1.78e9 + n, thumbnail=small.getvalue())
        (folder / f"QH_{n:04d}.jpg").write_bytes(with_facts(out.getvalue(), facts))
    return sum(p.stat().st_size for p in folder.iterdir()) / PICTURES / 1e6


def linked(folder: Path, source: Path, count: int) -> Path:
    """A folder of ``count`` frames that are links to the pictures of another."""
    folder.mkdir()
    originals = sorted(source.iterdir())
    for n in range(count):
        os.link(originals[n % len(originals)], folder / f"QH_{n:05d}.jpg")
    return folder


def decode_luma(path: Path) -> int:
    """The floor: only the luma of a frame at full size, through libjpeg-turbo."""
    return int(turbojpeg.TurboJPEG().decode(path.read_bytes(), turbojpeg.TJPF_GRAY).shape[0])


def pictures_alone(path: Path) -> int:
    """Preview and thumbnail, and nothing measured."""
    nothing = focus_map.FocusMap(np.zeros((1, 1), np.float32), np.zeros((1, 1), np.uint8), 32, 0)
    focus.measure_levels = lambda *levels: nothing
    likeness.signature = lambda picture: b""
    none = (0.0,) * 4
    exposure.measure = lambda picture: exposure.Exposure(0, 0, 0, none, none)
    return len(pictures.look(path.read_bytes(), Kind.JPEG, 1).preview)


def start_worker() -> None:
    """As Winnow's own workers begin."""
    tasks.start_worker(5)


def spread(work: Callable[[Path], object], paths: list[Path]) -> float:
    """Seconds that work on files takes, in as many processes as there are cores, once warm."""
    spawn = multiprocessing.get_context("spawn")
    with ProcessPoolExecutor(os.cpu_count(), spawn, start_worker) as pool:
        list(pool.map(work, paths[:6]))
        start = time.perf_counter()
        list(pool.map(work, paths))
        return time.perf_counter() - start


def memory_mb() -> float:
    """What this process and its children take together; shared pages count once (PSS)."""
    total = 0
    for process in [psutil.Process(), *psutil.Process().children(recursive=True)]:
        with contextlib.suppress(psutil.Error, OSError):
            total += process.memory_full_info().pss
    return total / 1e6


def index(
    runtime: Runtime, folder: Path, until: Callable[[shoots.Tally], bool]
) -> dict[str, float]:
    """Index a folder until a condition holds; seconds to the first frame and to all, until all are
    in groups, memory."""
    shoot = shoots.make(runtime.db, folder.name, [str(folder)])
    start = time.perf_counter()
    runtime.indexer.start(shoot)
    times: dict[str, float] = {"memory": 0}
    looked = 0.0
    while True:
        tally = shoots.tally(runtime.db, shoot)
        now = time.perf_counter() - start
        if tally.shown:
            times.setdefault("first", now)
        if tally.frames and tally.shown == tally.frames:
            times.setdefault("shown", now)
        if "grouped" not in times and runtime.indexer.status(shoot).stage == "pictures":
            times["grouped"] = now
        if now - looked > 0.5:
            looked = now
            times["memory"] = max(times["memory"], memory_mb())
        if until(tally):
            break
        time.sleep(0.005)
    times["whole"] = time.perf_counter() - start
    runtime.indexer.stop(shoot)
    return times


def bench_size(home: Path, runtime: Runtime, pictures: Path, size: float) -> float:
    """Indexing files of one size (MB) against the floor, on the same cores; returns the memory that
    it took, in MB."""
    many = linked(home / f"many {size:.1f}", pictures, INDEXED)
    paths = sorted(many.iterdir())
    floor = spread(decode_luma, paths)
    alone = spread(pictures_alone, paths)
    whole = index(runtime, many, lambda tally: tally.done == INDEXED)
    floor = (floor + spread(decode_luma, paths)) / 2
    bare = f"{floor / INDEXED * 1000:.0f} ms a frame: luma of 24 MP, {size:.1f} MB"
    for what, taken, goal in (
        ("preview and thumbnail alone", alone, 1.4),
        ("whole indexing but faces", whole["whole"], 1.6),
    ):
        times = taken / floor
        row(what, f"{times:.2f} ×", f"{goal} ×", floor=bare, met=times <= goal)
    return whole["memory"]


def bench_indexing(home: Path) -> None:
    """Indexing against the floor, for files of several sizes, and opening large shoots."""
    runtime = Runtime(Places(home / "data", home / "cache"))
    runtime.workers.warm()
    for name, quality, grain in (("small", 88, 2.0), ("middle", 92, 3.5)):
        size = write_pictures(home / name, quality, grain)
        bench_size(home, runtime, home / name, size)
        shutil.rmtree(home / name)
    size = write_pictures(home / "pictures")
    memory = bench_size(home, runtime, home / "pictures", size)
    row("memory while indexing, server and workers", f"{memory:,.0f} MB")
    thousand = linked(home / "thousand", home / "pictures", 1000)
    heads = read_heads(thousand)
    # Some are analysed when all are in groups.
    quick = index(runtime, thousand, lambda tally: tally.done > 0)
    known = linked(home / "known", home / "pictures", 5000)
    again = reopened(runtime, known)
    runtime.close()
    reading = f"{heads * 1000:.0f} ms: 128 KiB of each"
    row(
        "1,000 frames opened: the first one visible",
        f"{quick['first']:.1f} s",
        "1 s",
        floor=reading,
        met=quick["first"] < 1,
    )
    row(
        "1,000 frames opened: every one visible",
        f"{quick['shown']:.1f} s",
        "5 s",
        floor=reading,
        met=quick["shown"] < 5,
    )
    row(
        "1,000 frames opened: every one in its group",
        f"{quick['grouped']:.1f} s",
        "5 s",
        floor=reading,
        met=quick["grouped"] < 5,
    )
    row("5,000 known frames opened again", f"{again:.2f} s, none decoded")
    bench_raw(next((home / "pictures").iterdir()))


def read_heads(folder: Path) -> float:
    """Seconds that reading the beginning of each file takes."""
    start = time.perf_counter()
    for path in folder.iterdir():
        with path.open("rb") as file:
            file.read(1 << 17)
    return time.perf_counter() - start


def bench_raw(path: Path) -> None:
    """A raw frame with this picture as its embedded preview, against the picture itself."""
    as_jpeg = path.read_bytes()
    with Image.open(path) as opened:
        as_raw = dng(np.asarray(opened), as_jpeg, "Quillon H2")
    jpeg = statistics.median(timed(lambda: pictures.look(as_jpeg, Kind.JPEG, 1), 9))
    raw = statistics.median(timed(lambda: pictures.look(as_raw, Kind.RAW, 1), 9))
    ratio = raw / jpeg
    row(
        "a raw frame, from its embedded preview",
        f"{ratio:.2f} ×",
        "as fast as JPEG",
        floor=f"{jpeg:.0f} ms: the JPEG",
        met=ratio < 1.1,
    )


def reopened(runtime: Runtime, folder: Path) -> float:
    """Seconds that a second opening of a folder takes, when all of it is known."""
    shoot = shoots.make(runtime.db, "Known", [str(folder)])
    index_id = shoots.folders_of(runtime.db, shoot)[0].id
    reconcile.reconcile(runtime.db, shoot, index_id, pair(scan.scan(folder).files), [])
    with runtime.db.write() as conn:
        conn.execute(
            """
            UPDATE frame SET state = 2, picture = 2, key = 'k', taken_at = id, facts_version = ?,
                picture_version = ?, figure_version = ?, face_version = ? WHERE shoot_id = ?
            """,
            (
                FACTS_VERSION,
                pictures.PICTURE_VERSION,
                pictures.FIGURE_VERSION,
                FACE_VERSION,
                shoot,
            ),
        )
    frame_order.put_in_order(runtime.db, shoot)
    hints.note_begun(runtime.db, shoot)
    hints.note_made(runtime.db, shoot)
    start = time.perf_counter()
    runtime.indexer.start(shoot)
    while runtime.indexer.status(shoot).running:
        time.sleep(0.001)
    taken = time.perf_counter() - start
    assert shoots.tally(runtime.db, shoot).done == 5000
    return taken


def main() -> None:
    """Measure, and note the figures."""
    with tempfile.TemporaryDirectory() as name:
        home = Path(name)
        db = Database(home / "many.db")
        bench_marks(db, many_frames(db))
        db.close()
        bench_indexing(home)


if __name__ == "__main__":
    main()
