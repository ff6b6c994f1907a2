"""Kills bringings-in at random moments: kill_bringing.py FOLDER TIMES.

After each kill every file in the two places must be whole and equal to the card's. Prints how many
kills there were and how many bringings-in came through in spite of them.
"""

import os
import random
import shutil
import sys
from pathlib import Path

from tests.work.moments import Moments
from winnow.photos.originals import PART_PREFIX, WRITE_PREFIX
from winnow.store import bringings
from winnow.store.db import Database
from winnow.work.bring_in import BringIns, Wish
from winnow.work.events import Events

FILES, SIZE = 40, 250_000


class NoIndexer:
    """In place of the indexer: nothing is indexed here."""

    def start(self, shoot_id: int) -> None: ...


def round_of(folder: Path, ready: int) -> None:
    """In the child: go on with what was begun, or begin."""
    db = Database(folder / "winnow.db")
    bring_ins = BringIns(db, Events(), NoIndexer())  # type: ignore[arg-type]
    begun = bringings.latest(db, 1)
    os.write(ready, b"x")
    if begun:
        id = begun[0].id
        bring_ins.resume(id)
    else:
        wish = Wish(
            str(folder / "card"), str(folder / "disk"), "{folder}", "Quay", str(folder / "second")
        )
        id = bring_ins.start(wish)
    bring_ins.wait(id)
    os._exit(0)


def check(folder: Path, on_card: dict[str, bytes]) -> None:
    for place in (folder / "disk", folder / "second"):
        for path in place.rglob("*"):
            if path.is_file() and not path.name.startswith(
                (PART_PREFIX, WRITE_PREFIX, "checksums")
            ):
                assert path.read_bytes() == on_card[path.name], f"{path} is not whole"


def main(folder: Path, times: int) -> None:
    rng = random.Random(7)
    moments = Moments(rng, 0.12)
    dcim = folder / "card" / "DCIM" / "100QUILL"
    dcim.mkdir(parents=True)
    on_card = {f"QH2_{n:04d}.JPG": rng.randbytes(SIZE) for n in range(FILES)}
    for name, data in on_card.items():
        (dcim / name).write_bytes(data)
    kills = through = 0
    while kills < times or not through:
        reader, writer = os.pipe()
        child = os.fork()
        if child == 0:
            round_of(folder, writer)
        os.close(writer)
        os.read(reader, 1)
        os.close(reader)
        status = moments.kill(child)
        check(folder, on_card)
        if os.WIFSIGNALED(status):
            kills += 1
            continue
        # It was through before the kill: all must be there; then once more from the start.
        assert os.WEXITSTATUS(status) == 0
        for place in (folder / "disk", folder / "second"):
            found = {p.name for p in place.rglob("*.JPG")}
            assert found == set(on_card), f"{place} holds {sorted(found)}"
            shutil.rmtree(place)
        through += 1
        for path in folder.glob("winnow.db*"):
            path.unlink()
    print(kills, through)


if __name__ == "__main__":
    main(Path(sys.argv[1]), int(sys.argv[2]))
