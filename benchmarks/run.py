"""Speed as ratios and percentiles: `make bench`. Prints a table; docs/benchmarks.md keeps one.

Ratios are to a floor measured in the same run, on the same files.
"""

from __future__ import annotations

import io
import os
import platform
import statistics
import tempfile
import time
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import numpy as np
import skimage.data
from PIL import Image

from winnow.core.filters import Filter
from winnow.core.groups import group_numbers
from winnow.core.marks import Change, Decision, Edit, plan_edit
from winnow.photos.metadata import Facts, with_facts
from winnow.store import frames, marks, shoots
from winnow.store.db import Database
from winnow.work import sheet
from winnow.work.studio import Places, Studio

PICTURES = 24
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


def row(what: str, figure: str, goal: str) -> None:
    """Print a line of the table."""
    print(f"| {what} | {figure} | {goal} |", flush=True)


def many_frames(db: Database) -> int:
    """A shoot of made-up rows."""
    shoot = shoots.make(db, "Many", ["/nowhere"])
    folder = shoots.folders_of(db, shoot)[0].id
    rng = np.random.default_rng(1)
    signatures = [rng.bytes(200) for _ in range(1000)]
    with db.write() as conn:
        conn.executemany(
            """
            INSERT INTO frame (shoot_id, folder_id, path, name, kind, files, state, picture, key,
                position, taken_at, width, height, likeness)
            VALUES (?, ?, ?, ?, 'JPEG', '', 2, 2, 'k', ?, ?, 6000, 4000, ?)
            """,
            [
                (shoot, folder, f"QH_{n}.jpg".encode(), f"QH_{n}", n, n * 2.0, signatures[n % 1000])
                for n in range(FRAMES)
            ],
        )
        conn.execute("INSERT INTO mark (frame_id) SELECT id FROM frame")
        conn.execute("UPDATE mark SET stars = abs(random()) % 6")
        conn.execute("UPDATE mark SET decision = 'pick' WHERE frame_id % 7 = 0")
    return shoot


def bench_marks(db: Database, shoot: int) -> None:
    """Marks, filter, list and groups on many frames."""
    ids = frames.filtered(db, shoot, Filter())

    def set_marks(wanted: list[int], edit: Edit) -> None:
        def plan() -> Change | None:
            held = marks.marks_of(db, shoot, wanted)
            return plan_edit(edit, held, frames.names(db, held), {})

        marks.apply(db, shoot, plan)

    turn = iter(range(10**9))
    one = timed(lambda: set_marks([ids[next(turn)]], Edit(Decision.REJECT)), 300)
    row(
        "a mark, stored durably, p50 / p95",
        f"{percentile(one, 0.5):.1f} / {percentile(one, 0.95):.1f} ms",
        "10 ms p95",
    )
    bulk = timed(lambda: set_marks(ids[::10], Edit(stars=next(turn) % 5 + 1)), 5)
    row("5,000 scattered frames marked at once", f"{statistics.median(bulk):.0f} ms", "150 ms")
    wanted = Filter((Decision.PICK, Decision.UNDECIDED), stars=2)
    found = timed(lambda: sheet.find(db, shoot, wanted), 15)
    row(f"filter with counts, {FRAMES:,} frames", f"{statistics.median(found):.0f} ms", "30 ms")
    listed = timed(lambda: sheet.in_groups(db, shoot), 3)
    row(
        f"every frame with its group, {FRAMES:,} frames",
        f"{statistics.median(listed):.0f} ms",
        "none set",
    )
    rng = np.random.default_rng(1)
    times = np.sort(rng.random(10_000) * 1e4)
    distances = rng.random(9_999).astype(np.float32)
    upright = np.zeros(10_000, np.bool_)
    grouped = timed(lambda: group_numbers(times, distances, upright), 20)
    row("10,000 frames grouped anew", f"{statistics.median(grouped):.1f} ms", "100 ms")


def write_pictures(folder: Path) -> float:
    """24-megapixel JPEGs of natural pictures with noise; returns their mean size in MB."""
    folder.mkdir()
    sources = [skimage.data.coffee(), skimage.data.chelsea(), skimage.data.astronaut()]
    rng = np.random.default_rng(1)
    noise = rng.normal(0, 5, (4000, 6000, 1)).astype(np.float32)
    for n in range(PICTURES):
        large = Image.fromarray(sources[n % 3]).resize((6000, 4000), Image.Resampling.BICUBIC)
        pixels = np.clip(np.asarray(large) + np.roll(noise, n * 37, 1), 0, 255).astype(np.uint8)
        out, small = io.BytesIO(), io.BytesIO()
        Image.fromarray(pixels).save(out, "JPEG", quality=93, subsampling=2)
        large.resize((160, 107)).save(small, "JPEG")
        facts = Facts(taken_at=1.78e9 + n, thumbnail=small.getvalue())
        (folder / f"QH_{n:04d}.jpg").write_bytes(with_facts(out.getvalue(), facts))
    return sum(p.stat().st_size for p in folder.iterdir()) / PICTURES / 1e6


def decode_luma(path: Path) -> int:
    """The floor: only the luma of a frame at full size, through libjpeg-turbo."""
    with Image.open(io.BytesIO(path.read_bytes())) as image:
        image.draft("L", image.size)
        return np.asarray(image).shape[0]


def bench_indexing(home: Path) -> None:
    """Indexing against the floor, on the same cores."""
    folder = home / "pictures"
    size = write_pictures(folder)
    paths = sorted(folder.iterdir())
    with ProcessPoolExecutor(os.cpu_count()) as pool:
        list(pool.map(decode_luma, paths[:4]))
        start = time.perf_counter()
        list(pool.map(decode_luma, paths))
        floor = time.perf_counter() - start
    studio = Studio(Places(home / "data", home / "cache"))
    shoot = shoots.make(studio.db, "Bench", [str(folder)])
    start = time.perf_counter()
    studio.indexer.start(shoot)
    first = shown = 0.0
    while (tally := shoots.tally(studio.db, shoot)).done < PICTURES:
        now = time.perf_counter() - start
        first = first or (now if tally.shown else 0.0)
        shown = shown or (now if tally.shown == PICTURES else 0.0)
        time.sleep(0.005)
    whole = time.perf_counter() - start
    studio.indexer.start(shoot)
    again = time.perf_counter()
    while studio.indexer.status(shoot).running:
        time.sleep(0.001)
    again = time.perf_counter() - again
    studio.close()
    row(
        f"floor: luma of {PICTURES} frames of 24 MP, {size:.0f} MB each, two processes",
        f"{floor / PICTURES * 1000:.0f} ms a frame",
        "",
    )
    row("first frame visible after opening (workers starting)", f"{first:.1f} s", "1 s")
    row("every frame visible", f"{shown:.1f} s", "5 s for 1,000")
    row("whole indexing against the floor", f"{whole / floor:.1f} ×", "2.0 ×")
    row("opening again, nothing changed", f"{again * 1000:.0f} ms", "no decoding")


def main() -> None:
    """Run everything."""
    print(f"{platform.machine()}, {os.cpu_count()} cores, Python {platform.python_version()}\n")
    print("| what | measured | goal |\n|---|---|---|")
    with tempfile.TemporaryDirectory() as name:
        home = Path(name)
        db = Database(home / "many.db")
        bench_marks(db, many_frames(db))
        db.close()
        bench_indexing(home)


if __name__ == "__main__":
    main()
