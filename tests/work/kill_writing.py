"""Kills the writing of sidecars at random places: kill_writing.py FOLDER FRAMES TIMES.

After each kill every sidecar must be whole, and say what was said before or what was to be written. Prints
how many kills there were and how many sidecars a kill left old and new.
"""

import os
import random
import signal
import sys
import time
from functools import partial
from pathlib import Path

from winnow.core.frames import pair
from winnow.core.marks import Change, Edit, plan_edit
from winnow.core.profiles import FileMark
from winnow.core.sync import Stated
from winnow.core.texts import Texts
from winnow.photos import scan
from winnow.photos.cache import PictureCache
from winnow.photos.xmp import read_sidecar, with_stated
from winnow.store import frames, marks, on_disk, shoots
from winnow.store.db import Database
from winnow.work import said, write_files

OTHERS = Texts("Quay", "Kept whatever happens", ("a", "b"))


def writes(folder: Path, shoot: int, ready: int) -> None:
    """In the child: write everything."""
    db = Database(folder / "winnow.db")
    os.write(ready, b"x")
    write_files.write(db, PictureCache(folder / "cache"), shoot)
    os._exit(0)


def give_stars(folder: Path, shoot: int, stars: int) -> None:
    db = Database(folder / "winnow.db")
    ids = [row.id for row in frames.rows(db, shoot)]

    def plan() -> Change | None:
        return plan_edit(
            Edit(stars=stars), marks.marks_of(db, shoot, ids), partial(frames.name_of, db), {}
        )

    marks.apply(db, shoot, plan)
    db.close()


def prepared(folder: Path, number: int) -> int:
    """A shoot whose sidecars hold texts of others; its pictures need not be looked at for this."""
    pictures = folder / "shoot"
    pictures.mkdir()
    sidecar = with_stated(None, Stated(FileMark(1), OTHERS))
    for n in range(number):
        (pictures / f"QH_{n:04d}.jpg").write_bytes(b"\xff\xd8\xff\xd9")
        (pictures / f"QH_{n:04d}.xmp").write_bytes(sidecar)
    db = Database(folder / "winnow.db")
    shoot = shoots.make(db, "Killed", [str(pictures)])
    (source,) = shoots.folders_of(db, shoot)
    on_disk.reconcile(db, shoot, source.id, pair(scan.scan(pictures).files), [])
    said.read_changed(db, shoot)
    db.close()
    return shoot


def main(folder: Path, number: int, times: int) -> None:
    rng = random.Random(7)
    shoot = prepared(folder, number)
    kills = old = new = 0
    while kills < times:
        before, stars = 1 + kills % 2, 2 - kills % 2
        give_stars(folder, shoot, stars)
        # However fast the machine is: within the work, when it has come to this frame.
        reached = folder / "shoot" / f"QH_{rng.randrange(number // 2):04d}.xmp"
        seen = reached.stat().st_mtime_ns
        reader, writer = os.pipe()
        child = os.fork()
        if child == 0:
            writes(folder, shoot, writer)
        os.close(writer)
        os.read(reader, 1)
        os.close(reader)
        while reached.stat().st_mtime_ns == seen:
            time.sleep(0.001)
        os.kill(child, signal.SIGKILL)
        os.waitpid(child, 0)
        kills += 1
        found = sorted((folder / "shoot").glob("QH_*.xmp"))
        assert len(found) == number
        for path in found:
            stated = read_sidecar(path.read_bytes())
            assert stated.texts == OTHERS, f"{path} lost what it said"
            assert stated.mark.rating in (before, stars), f"{path} says {stated.mark}"
            old += stated.mark.rating == before
            new += stated.mark.rating == stars
        # The rest is written after a restart, and nothing is taken for another program's change.
        db = Database(folder / "winnow.db")
        result, change = write_files.write(db, PictureCache(folder / "cache"), shoot)
        assert (result.problems, change) == ((), None), result
        db.close()
        assert not list((folder / "shoot").glob(".*")), "parts are left behind"
        for path in found:
            assert read_sidecar(path.read_bytes()).mark.rating == stars
    print(kills, old, new)


if __name__ == "__main__":
    main(Path(sys.argv[1]), int(sys.argv[2]), int(sys.argv[3]))
