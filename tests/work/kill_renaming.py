"""Kills renamings, and undoing them, at random moments: kill_renaming.py FOLDER TIMES.

After each kill every byte exists under one name, or under two names of one file; after the restart, once, where the
journal says. Prints how many kills there were, and how many found a renaming half done.
"""

import os
import random
import sys
from pathlib import Path

from tests.work.moments import Moments
from winnow.core.frames import pair
from winnow.photos import scan
from winnow.store import frames, on_disk, renamings, shoots
from winnow.store.db import Database
from winnow.work import rename

FRAMES = 40
TEMPLATES = ("fair {seq}", "QH_{seq:3}", "fair {seq:2} {stars}")


def prepared(folder: Path) -> tuple[int, set[bytes]]:
    pictures = folder / "shoot"
    pictures.mkdir()
    rng = random.Random(3)
    contents = set()
    for n in range(FRAMES):
        for ending in ("jpg", "dng", "xmp"):
            data = rng.randbytes(900)
            (pictures / f"QH_{n:03d}.{ending}").write_bytes(data)
            contents.add(data)
    db = Database(folder / "winnow.db")
    shoot = shoots.make(db, "Killed", [str(pictures)])
    (source,) = shoots.folders_of(db, shoot)
    on_disk.reconcile(db, shoot, source.id, pair(scan.scan(pictures).files), [])
    with db.write() as conn:
        conn.execute("UPDATE frame SET state = 2")  # as if they were analysed
    db.close()
    return shoot, contents


def work(folder: Path, shoot: int, undo: int | None, rng: random.Random, ready: int) -> None:
    """In the child: rename everything, in another order each time, or undo the last renaming."""
    db = Database(folder / "winnow.db")
    if undo is None:
        ids = [row.id for row in frames.rows(db, shoot)]
        rng.shuffle(ids)
        with db.write() as conn:
            for position, frame in enumerate(ids):
                conn.execute("UPDATE frame SET position = ? WHERE id = ?", (position, frame))
        template = rng.choice(TEMPLATES)
        planned = rename.plan(db, shoot, ids, template)
        undo = renamings.make(db, shoot, template, planned.frames, planned.steps)
        os.write(ready, b"x")
        rename._through(db, undo, back=False)
    else:
        os.write(ready, b"x")
        rename._through(db, undo, back=True)
    os._exit(0)


def main(folder: Path, times: int) -> None:
    rng = random.Random(7)
    moments = Moments(rng, 0.15)
    shoot, contents = prepared(folder)
    pictures = folder / "shoot"
    kills = half = 0
    # Goes on until some kills fell within a move, however fast the machine is.
    while kills < times or half < times / 10:
        db = Database(folder / "winnow.db")
        made = [one for one in renamings.of_shoot(db, shoot) if one.state == "done"]
        db.close()
        undo = made[0].id if made and rng.random() < 0.4 else None
        reader, writer = os.pipe()
        child = os.fork()
        if child == 0:
            work(folder, shoot, undo, random.Random(kills), writer)
        os.close(writer)
        os.read(reader, 1)
        os.close(reader)
        moments.kill(child)
        kills += 1
        seen: dict[bytes, list[Path]] = {}
        for path in pictures.iterdir():
            seen.setdefault(path.read_bytes(), []).append(path)
        assert set(seen) == contents, "a file is gone, or another"
        assert all(path.samefile(paths[0]) for paths in seen.values() for path in paths)
        db = Database(folder / "winnow.db")
        half += rename.recover(db) > 0
        assert renamings.unsettled(db) == []
        last = renamings.of_shoot(db, shoot)[0]
        assert last.state in ("done", "undone"), last
        assert last.notice == "", last
        names = sorted(path.name for path in pictures.iterdir())
        assert len(names) == len(contents)
        known = []
        for frame in on_disk.files_of(db, [row.id for row in frames.rows(db, shoot)]):
            known += [path.name for path in (*frame.all, *frame.sidecars)]
            assert len({path.name.partition(".")[0] for path in (*frame.all, *frame.sidecars)}) == 1
        assert sorted(known) == names, "the shoot knows other names"
        # A look at the folder finds nothing new, and nothing lost.
        source = shoots.folders_of(db, shoot)[0].id
        difference = on_disk.reconcile(db, shoot, source, pair(scan.scan(pictures).files), [])
        assert not difference.any, difference
        db.close()
    print(kills, half)


if __name__ == "__main__":
    main(Path(sys.argv[1]), int(sys.argv[2]))
