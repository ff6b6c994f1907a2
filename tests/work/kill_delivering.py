"""Kills deliveries, and taking them back, at random moments: kill_delivering.py FOLDER TIMES.

Whole copies and moves in turn. After each kill every original exists with its bytes under its old name or its new
one, and nothing else in the target is a picture; going on completes. Prints how many kills there were, and how many
found something half done.
"""

import os
import random
import sys
from pathlib import Path

from tests.work.moments import Moments
from winnow.core.frames import pair
from winnow.photos import scan
from winnow.store import deliveries, frames, held, on_disk, shoots
from winnow.store.db import Database
from winnow.store.deliveries import How
from winnow.work import delivery_plan, moving
from winnow.work.deliver import Deliveries
from winnow.work.delivery_plan import Wish
from winnow.work.events import Events

FRAMES = 30


def prepared(folder: Path) -> tuple[int, dict[str, bytes]]:
    pictures = folder / "shoot"
    pictures.mkdir()
    rng = random.Random(3)
    contents = {
        f"QH_{n:03d}.{ending}": rng.randbytes(900)
        for n in range(FRAMES)
        for ending in ("jpg", "dng")
    }
    for name, data in contents.items():
        (pictures / name).write_bytes(data)
    db = Database(folder / "winnow.db")
    shoot = shoots.make(db, "Killed", [str(pictures)])
    (source,) = shoots.folders_of(db, shoot)
    on_disk.reconcile(db, shoot, source.id, pair(scan.scan(pictures).files), [])
    with db.write() as conn:
        conn.execute("UPDATE frame SET state = 2")  # as if they were analysed
        conn.execute("UPDATE mark SET decision = 'pick'")
    db.close()
    return shoot, contents


def work(folder: Path, shoot: int, delivery: int | None, back: bool, how: How, ready: int) -> None:
    """In the child: start a delivery, go on with one, or take it back."""
    db = Database(folder / "winnow.db")
    moving.recover(db)
    jobs = Deliveries(db, Events())
    if delivery is None:
        ids = [row.id for row in frames.rows(db, shoot)]
        wish = Wish(how=how, template="{seq:2}/{name}")
        planned = delivery_plan.plan(db, shoot, str(folder / "out"), ids, wish)
        os.write(ready, b"x")
        delivery = jobs.start(shoot, planned)
    else:
        os.write(ready, b"x")
        (jobs.take_back if back else jobs.resume)(delivery)
    jobs.wait(delivery)
    os._exit(0)


def killed(
    moments: Moments, folder: Path, shoot: int, delivery: int | None, back: bool, how: How
) -> None:
    reader, writer = os.pipe()
    child = os.fork()
    if child == 0:
        work(folder, shoot, delivery, back, how, writer)
    os.close(writer)
    os.read(reader, 1)
    os.close(reader)
    moments.kill(child)


def check(folder: Path, contents: dict[str, bytes]) -> None:
    for name, data in contents.items():
        places = [folder / "shoot" / name, *(folder / "out").glob(f"*/{name}")]
        found = [place for place in places if place.exists()]
        assert found, f"{name} is gone"
        assert all(place.read_bytes() == data for place in found), f"{name} is another"


def part_back(folder: Path, delivery: int) -> bool:
    db = Database(folder / "winnow.db")
    found = deliveries.get(db, delivery)
    db.close()
    return found is not None and 0 < found.back < found.files


def main(folder: Path, times: int) -> None:
    moments = Moments(random.Random(7), 0.2)
    shoot, contents = prepared(folder)
    out = folder / "out"
    kills = half = rounds = 0
    # Goes on until some kills fell within a move, however fast the machine is.
    while kills < times or half < times / 10:
        how: How = ("copy", "move", "link")[rounds % 3]
        rounds += 1
        killed(moments, folder, shoot, None, False, how)
        kills += 1
        check(folder, contents)
        db = Database(folder / "winnow.db")
        moving.recover(db)
        assert held.unsettled(db) == {}
        jobs = Deliveries(db, Events())
        made = deliveries.of_shoot(db, shoot)
        if not made or made[0].state == "returned":
            continue  # killed before it was written down
        half += 0 < made[0].done + made[0].failed < made[0].files
        one = made[0].id
        jobs.resume(one)
        jobs.wait(one)
        check(folder, contents)
        state = deliveries.get(db, one)
        assert state, "it is in the journal"
        assert (state.state, state.failed) == ("done", 0), [
            i for i in deliveries.items(db, one) if i.notice
        ]
        for name, data in contents.items():
            (copy,) = out.glob(f"*/{name}")
            assert copy.read_bytes() == data
            assert (folder / "shoot" / name).exists() == (how != "move")
        db.close()
        for _ in range(2):
            killed(moments, folder, shoot, one, True, how)
            kills += 1
            check(folder, contents)
            half += part_back(folder, one)
        db = Database(folder / "winnow.db")
        moving.recover(db)
        jobs = Deliveries(db, Events())
        jobs.take_back(one)
        jobs.wait(one)
        check(folder, contents)
        for name in contents:
            assert (folder / "shoot" / name).exists(), f"{name} did not come back"
        left = [path for path in out.rglob("*") if path.is_file()]
        # What was copied just before a kill counts as there before: it stays.
        known = {i.name for i in deliveries.items(db, one, ("there",))}
        assert {path.relative_to(out).as_posix() for path in left} <= known, left
        for path in left:
            path.unlink()
        db.close()
    print(kills, half)


if __name__ == "__main__":
    main(Path(sys.argv[1]), int(sys.argv[2]))
