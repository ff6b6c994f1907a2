"""Kills moves to the holding folder and back at random moments: kill_aside.py FOLDER TIMES.

After each kill every byte must exist under one name, or under both names of one file; after the restart, once,
where the journal says. Prints how many kills there were, and how many found a move half done.
"""

import os
import random
import sys
from pathlib import Path

from tests.work.moments import Moments
from winnow.core.frames import pair
from winnow.photos import scan
from winnow.store import frames, held, on_disk, shoots
from winnow.store.db import Database
from winnow.work import aside, moving

FRAMES = 30


def moves(folder: Path, shoot: int, back: bool, ready: int) -> None:
    """In the child: move everything there, or back."""
    db = Database(folder / "winnow.db")
    ids = [row.id for row in frames.rows(db, shoot)]
    os.write(ready, b"x")
    (aside.bring_back if back else aside.set_aside)(db, ids)
    os._exit(0)


def prepared(folder: Path) -> tuple[int, dict[str, tuple[bytes, int]]]:
    pictures = folder / "shoot"
    rng = random.Random(3)
    contents = {}
    for n in range(FRAMES):
        for ending in ("jpg", "dng", "xmp"):
            path = pictures / f"day {n % 3}" / f"QH_{n:03d}.{ending}"
            path.parent.mkdir(parents=True, exist_ok=True)
            path.write_bytes(rng.randbytes(900))
            contents[path.relative_to(pictures).as_posix()] = (
                path.read_bytes(),
                path.stat().st_mtime_ns,
            )
    db = Database(folder / "winnow.db")
    shoot = shoots.make(db, "Killed", [str(pictures)])
    (source,) = shoots.folders_of(db, shoot)
    on_disk.reconcile(db, shoot, source.id, pair(scan.scan(pictures).files), [])
    with db.write() as conn:
        conn.execute("UPDATE frame SET state = 2")  # as if they were analysed
    db.close()
    return shoot, contents


def main(folder: Path, times: int) -> None:
    moments = Moments(random.Random(7), 0.12)
    shoot, contents = prepared(folder)
    here, there = folder / "shoot", folder / "shoot set aside"
    kills = half = 0
    # Goes on until some kills fell within a move, however fast the machine is.
    while kills < times or half < times / 10:
        back = there.exists() and any(path.is_file() for path in there.rglob("*"))
        reader, writer = os.pipe()
        child = os.fork()
        if child == 0:
            moves(folder, shoot, back, writer)
        os.close(writer)
        os.read(reader, 1)
        os.close(reader)
        moments.kill(child)
        kills += 1
        for name, (data, _) in contents.items():
            found = [place / name for place in (here, there) if (place / name).exists()]
            assert found, f"{name} is gone"
            assert all(path.read_bytes() == data for path in found), f"{name} is another"
            assert len(found) == 1 or found[0].samefile(found[1]), f"{name} is doubled"
        db = Database(folder / "winnow.db")
        half += moving.recover(db) > 0
        assert held.unsettled(db) == {}
        kept = held.of_shoot(db, shoot)
        on_disk.reconcile(
            db, shoot, shoots.folders_of(db, shoot)[0].id, pair(scan.scan(here).files), []
        )
        assert not any(row.missing for row in frames.rows(db, shoot))
        assert len(frames.rows(db, shoot)) == FRAMES
        names = {file.source: file.place for files in kept.values() for file in files}
        for name, (data, mtime_ns) in contents.items():
            place = names.get(here / name, here / name)
            other = here / name if place != here / name else there / name
            assert place.read_bytes() == data, f"{name} is not where the journal says"
            assert place.stat().st_mtime_ns == mtime_ns, f"{name} lost its time"
            assert not other.exists(), f"{name} is left behind"
        db.close()
    print(kills, half)


if __name__ == "__main__":
    main(Path(sys.argv[1]), int(sys.argv[2]))
