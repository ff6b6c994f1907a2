"""Marks and texts in files, and finding by texts: files.py.

Prints the table that docs/benchmarks.md keeps. Floors: one fsync and rename for each file written,
and one open and read for each file read.
"""

from __future__ import annotations

import os
import tempfile
import time
from collections.abc import Callable
from functools import partial
from pathlib import Path
from statistics import median, quantiles

from winnow.core.files.merge import Stated
from winnow.core.files.profiles import FileMark
from winnow.core.files.texts import Texts, TextStep
from winnow.core.filters.filter import Filter
from winnow.core.filters.parser import parse
from winnow.core.frames import FoundFile, FoundFrame, pair
from winnow.core.marks import Change, Decision, Edit, plan_edit
from winnow.photos import scan
from winnow.photos.cache import PictureCache
from winnow.photos.xmp import read_sidecar, with_stated
from winnow.store import file_state, frames, marks, reconcile, settings, shoots, texts
from winnow.store.db import Database
from winnow.work import filtering
from winnow.work.events import Events
from winnow.work.files import read as files_read
from winnow.work.files import write as files_write
from winnow.work.files.auto_write import FileWriter

FILES, MANY = 5000, 50_000


def timed(work: Callable[[], object]) -> float:
    """Seconds that something takes."""
    started = time.perf_counter()
    work()
    return time.perf_counter() - started


def mark(db: Database, shoot: int, ids: list[int], edit: Edit) -> None:
    """Mark frames as the API does."""

    def plan() -> Change | None:
        return plan_edit(edit, marks.marks_of(db, shoot, ids), partial(frames.name_of, db), {})

    marks.apply(db, shoot, plan)


def floor_write(folder: Path, data: bytes, number: int) -> float:
    """Seconds to write so many files whole: temporary file, fsync, rename, fsync of the folder."""

    def work() -> None:
        for n in range(number):
            part = folder / f"part{n}"
            with part.open("xb") as file:
                file.write(data)
                file.flush()
                os.fsync(file.fileno())
            os.replace(part, folder / f"floor{n}")
            handle = os.open(folder, os.O_RDONLY)
            os.fsync(handle)
            os.close(handle)

    return timed(work)


def presses(db: Database, shoot: int, ids: list[int], events: Events) -> list[float]:
    """Milliseconds of single marks, 25 a second."""
    took = []
    for n in range(200):
        frame = ids[n * 7 % len(ids)]
        edit = Edit(stars=(n + int(time.time())) % 5 + 1)
        took.append(1000 * timed(lambda frame=frame, edit=edit: mark(db, shoot, [frame], edit)))  # type: ignore[misc]
        events.tell(shoot, "marks")
        time.sleep(0.04)
    return took


def p95(values: list[float]) -> float:
    return quantiles(values, n=20)[-1]


def row(what: str, measured: str, goal: str = "") -> None:
    print(f"| {what} | {measured} | {goal} |", flush=True)


def sidecars(home: Path) -> None:
    """Reading, planning and writing, and marking meanwhile."""
    folder = home / "shoot"
    folder.mkdir()
    sidecar = with_stated(None, Stated(FileMark(1), Texts("Quay", "At dusk", ("a", "b"))))
    for n in range(FILES):
        (folder / f"QH_{n:05d}.jpg").write_bytes(b"\xff\xd8\xff\xd9")
        (folder / f"QH_{n:05d}.xmp").write_bytes(sidecar)
    db, cache = Database(home / "winnow.db"), PictureCache(home / "cache")
    shoot = shoots.make(db, "Bench", [str(folder)])
    (source,) = shoots.folders_of(db, shoot)
    reconcile.reconcile(db, shoot, source.id, pair(scan.scan(folder).files), [])
    floor = timed(lambda: [path.read_bytes() for path in folder.glob("*.xmp")])
    parsed = timed(lambda: [read_sidecar(sidecar) for _ in range(FILES)])
    read = timed(lambda: files_read.read_changed(db, shoot))
    row(f"{FILES:,} sidecars read and taken over", f"{read:.1f} s; parsing them alone "
                                                   f"{parsed:.1f} s, "
        f"reading the bytes {floor:.1f} s", "none set")  # fmt: skip
    ids = [row.id for row in frames.rows(db, shoot)]
    mark(db, shoot, ids, Edit(Decision.PICK))
    planned = timed(lambda: files_write.plan(db, shoot))
    row(f"what would be written, {FILES:,} frames", f"{1000 * planned:.0f} ms", "none set")
    least = floor_write(home, sidecar, 500) / 500
    wrote = timed(lambda: files_write.write(db, cache, shoot)) / FILES
    row("a sidecar written, merged and noted", f"{1000 * wrote:.1f} ms, {wrote / least:.1f} × the "
                                               f"floor of "
        f"{1000 * least:.1f} ms", "none set")  # fmt: skip
    events = Events()
    alone = presses(db, shoot, ids, events)
    writer = FileWriter(db, cache, events)
    settings.save(db, {"write_by_itself": True})
    mark(db, shoot, ids, Edit(stars=4))
    events.tell(shoot, "marks")
    time.sleep(2.5)  # it has begun
    meanwhile = presses(db, shoot, ids, events)
    row(
        "a mark, stored, p50 / p95, while 5,000 sidecars are written by themselves",
        f"{median(meanwhile):.1f} / {p95(meanwhile):.1f} ms; otherwise {median(alone):.1f} / "
        f"{p95(alone):.1f} ms",
        "10 ms p95",
    )
    writer.close()
    assert file_state.waiting(db, shoot) == {}
    db.close()


def finding(home: Path) -> None:
    """Filters over texts in a very large shoot."""
    db = Database(home / "many.db")
    shoot = shoots.make(db, "Many", ["/pictures"])
    (source,) = shoots.folders_of(db, shoot)
    found = [FoundFrame((FoundFile(f"QH_{n:05d}.jpg", 1, n),)) for n in range(MANY)]
    reconcile.reconcile(db, shoot, source.id, found, [])
    ids = [row.id for row in frames.rows(db, shoot)]
    with db.write() as conn:
        texts.put(conn, [TextStep(id, Texts(), Texts(f"Table {id % 90}",
        f"Guests at table {id % 90}, at dusk",
            ("quay", f"guest {id % 400}"), city="Holm")) for id in ids])  # fmt: skip
    for text in ("guest 123", '"table 7,"', "keyword=quay", 'keyword="guest 12"', "qu", "zzz"):
        where = parse(text, {})
        wanted = Filter(written=text, where=where)
        filtering.find(db, shoot, wanted)
        took = [timed(partial(filtering.find, db, shoot, wanted)) for _ in range(7)]
        number = len(filtering.matching(db, shoot, wanted))
        row(
            f"`{text}` in {MANY:,} frames: {number:,} found",
            f"{1000 * sorted(took)[3]:.0f} ms",
            "30 ms",
        )
    db.close()


def main() -> None:
    """Print the table."""
    print("| what | measured | goal |\n|---|---|---|")
    with tempfile.TemporaryDirectory() as home:
        sidecars(Path(home))
        finding(Path(home))


if __name__ == "__main__":
    main()
