"""The columns in memory say what SQL says, whatever was written, undone, moved, added or taken
away."""

import random
import sqlite3
from collections.abc import Callable
from dataclasses import replace
from functools import partial
from pathlib import Path

import pytest

from winnow.core.files.texts import Texts, TextStep
from winnow.core.filters.filter import Filter
from winnow.core.filters.parser import parse
from winnow.core.frames import pair
from winnow.core.marks import Change, Decision, Edit, plan_edit
from winnow.photos import scan
from winnow.store import frame_order, frames, history, marks, reconcile, shoots, texts
from winnow.store.db import Database
from winnow.work import filtering

LABELS = (None, "A", "B")
WHERE: dict[str, Callable[[frames.Row, Texts, set[int]], bool]] = {
    "name~1": lambda row, _, __: "1" in row.name,
    "not stars>2": lambda row, _, __: row.mark.stars <= 2,
    "unpicked or label a": lambda row, _, picked: row.group not in picked or row.mark.label == "A",
    "keyword=quay": lambda _, said, __: "Quay" in said.keywords,
    "not qh and (caption~dusk or stars>2)": lambda row, said, _: (
        "QH" not in row.name and ("dusk" in said.caption or row.mark.stars > 2)
    ),
}


@pytest.fixture
def db(tmp_path: Path) -> Database:
    return Database(tmp_path / "winnow.db")


def shoot_of(db: Database, folder: Path, count: int) -> int:
    folder.mkdir(exist_ok=True)
    for n in range(count):
        (folder / f"QH_{n:04d}.jpg").touch()
    shoot = shoots.make(db, folder.name, [str(folder)])
    look_at(db, shoot, folder)
    return shoot


def look_at(db: Database, shoot: int, folder: Path) -> None:
    source = shoots.folders_of(db, shoot)[0].id
    reconcile.reconcile(db, shoot, source, pair(scan.scan(folder).files), [])
    frame_order.put_in_order(db, shoot)


def set_marks(db: Database, shoot: int, wanted: list[int], edit: Edit) -> None:
    def plan() -> Change | None:
        held = marks.marks_of(db, shoot, wanted)
        return plan_edit(edit, held, partial(frames.name_of, db), {"A": "Album", "B": "Web"})

    marks.apply(db, shoot, plan)


def any_filter(rng: random.Random) -> Filter:
    where = rng.choice([None, None, *WHERE])
    return Filter(
        tuple(rng.sample(list(Decision), rng.randrange(3))),
        rng.choice(["at_least", "exactly", "at_most"]),
        rng.choice([None, 0, 2, 3]),
        tuple(rng.sample(["", "A", "B"], rng.randrange(3))),
        written=where or "",
        where=parse(where, {"A": "Album", "B": "Web"}) if where else None,
    )


def plainly(db: Database, shoot: int, wanted: Filter) -> list[int]:
    """The frames that pass, asked one by one of what is stored."""
    rows = frames.rows(db, shoot)
    picked = {row.group for row in rows if row.mark.decision is Decision.PICK}
    said = texts.texts_of(db, shoot, [row.id for row in rows])
    return [
        row.id
        for row in rows
        if wanted.passes(row.mark)
        and (not wanted.written or WHERE[wanted.written](row, said[row.id], picked))
    ]


def check(db: Database, shoot: int, wanted: Filter) -> None:
    found = filtering.find(db, shoot, wanted)
    assert found.ids == plainly(db, shoot, wanted)
    assert found.ids == filtering.matching(db, shoot, wanted)
    assert found.counts.shown == len(found.ids)
    assert found.counts.total == len(frames.rows(db, shoot))
    for decision, number in found.counts.decisions.items():
        alone = replace(wanted, decisions=(decision,))
        assert number == len(plainly(db, shoot, alone))
    columns = db.columns.of(db.read, shoot)
    assert columns.tally() == marks.tally(db, shoot)
    some = [*found.ids[::-3], 10**9, *found.ids[1:2]]
    assert list(columns.marks_of(some).items()) == list(marks.marks_of(db, shoot, some).items())


def write(db: Database, rng: random.Random, ids: list[int]) -> None:
    """Write texts of some frames, or take them out, and give one another name."""
    after = rng.choice([Texts(), Texts(keywords=("Quay",)), Texts("Pier", "dusk", ("Quay", "x"))])
    with db.write() as conn:
        texts.put(conn, [TextStep(frame, Texts(), after) for frame in ids])
        conn.execute("UPDATE frame SET name = ? WHERE id = ?", (f"DK_{ids[0]}", ids[0]))


def test_they_follow_everything_that_happens_to_two_shoots(db: Database, tmp_path: Path) -> None:
    rng = random.Random(4)
    folders = [tmp_path / "one", tmp_path / "two"]
    both = [shoot_of(db, folder, 40) for folder in folders]
    for n in range(150):
        which = rng.randrange(2)
        shoot, folder = both[which], folders[which]
        ids = [row.id for row in frames.rows(db, shoot)]
        what = rng.random()
        if what < 0.5:
            edit = Edit(rng.choice([None, *Decision]), rng.randrange(6), rng.choice(["", "A", "B"]))
            set_marks(db, shoot, rng.sample(ids, rng.randrange(1, 20)), edit)
        elif what < 0.65:
            (history.undo if rng.random() < 0.7 else history.redo)(db, shoot)
        elif what < 0.75:
            with db.write() as conn:
                conn.execute(
                    "UPDATE frame SET group_no = ? WHERE id = ?",
                    (rng.randrange(5), rng.choice(ids)),
                )
        elif what < 0.85:
            (folder / f"NEW_{n:04d}.jpg").touch()
            look_at(db, shoot, folder)
        elif what < 0.9:
            with db.write() as conn:
                conn.execute("DELETE FROM frame WHERE id = ?", (rng.choice(ids),))
        else:
            write(db, rng, rng.sample(ids, rng.randrange(1, 9)))
        for columns in both:
            check(db, columns, any_filter(rng))


def pick_and_fail(db: Database) -> None:
    with db.write() as conn:
        conn.execute("UPDATE mark SET decision = 'pick'")
        conn.execute("UPDATE frame SET name = 'other'")
        conn.execute("UPDATE mark SET stars = 17")


def test_a_transaction_that_is_taken_back_changes_nothing(db: Database, tmp_path: Path) -> None:
    shoot = shoot_of(db, tmp_path / "one", 5)
    before, written = db.columns.of(db.read, shoot), db.texts.of(db.read, shoot, ["name"])
    with pytest.raises(sqlite3.IntegrityError):
        pick_and_fail(db)
    assert db.columns.of(db.read, shoot) is before
    assert db.texts.of(db.read, shoot, ["name"]) is written
    assert filtering.find(db, shoot, Filter((Decision.PICK,))).ids == []
    with db.write() as conn:
        conn.execute("UPDATE mark SET stars = 3")
    assert len(filtering.find(db, shoot, Filter(stars=3)).ids) == 5


def test_an_empty_shoot_and_one_that_is_gone(db: Database, tmp_path: Path) -> None:
    (tmp_path / "one").mkdir()
    shoot = shoots.make(db, "Empty", [str(tmp_path / "one")])
    assert filtering.find(db, shoot, Filter(stars=2, where=parse("name~1", {}))).ids == []
    full = shoot_of(db, tmp_path / "two", 3)
    assert len(filtering.find(db, full, Filter()).ids) == 3
    shoots.forget(db, full)
    assert filtering.find(db, full, Filter()).ids == []
