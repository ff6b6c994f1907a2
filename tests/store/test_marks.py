"""Marks and history in the database."""

from functools import partial
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests import soak
from tests.core.holding import holds
from tests.core.test_filters import filters
from tests.core.test_marks import edits
from winnow.core.files.texts import Texts, TextStep
from winnow.core.filters.conditions import FLAGS, All, Any_, Between, Compare, Condition, Flag, Not
from winnow.core.filters.filter import Filter
from winnow.core.filters.parser import parse
from winnow.core.filters.parts import toggled
from winnow.core.frames import FoundFile, FoundFrame
from winnow.core.groups.edits import HandEdit
from winnow.core.marks import Change, Decision, Edit, GroupStep, Mark, plan_edit
from winnow.core.verdict.hints import KINDS, Noticed
from winnow.store import (
    choices,
    frame_order,
    frames,
    groups,
    hints,
    history,
    marks,
    moved_files,
    reconcile,
    shoots,
)
from winnow.store import texts as text_store
from winnow.store.db import Database
from winnow.store.deliveries import Item, keep_item
from winnow.store.deliveries import make as make_delivery
from winnow.work import filtering


@pytest.fixture
def shoot(db: Database) -> int:
    shoot_id = shoots.make(db, "Test", ["/pictures"])
    add(db, shoot_id, 6)
    return shoot_id


def add(db: Database, shoot_id: int, number: int) -> None:
    (folder,) = shoots.folders_of(db, shoot_id)
    found = [FoundFrame((FoundFile(f"QH_{n}.jpg", 1, 1),)) for n in range(number)]
    reconcile.reconcile(db, shoot_id, folder.id, found, [])
    frame_order.put_in_order(db, shoot_id)


def edit(db: Database, shoot_id: int, wanted: Edit, ids: list[int]) -> Change | None:
    def plan() -> Change | None:
        return plan_edit(wanted, marks.marks_of(db, shoot_id, ids), partial(frames.name_of, db), {})

    return marks.apply(db, shoot_id, plan)


def all_marks(db: Database, shoot_id: int) -> dict[int, Mark]:
    return {row.id: row.mark for row in frames.rows(db, shoot_id)}


def test_a_bulk_change_is_one_step(db: Database, shoot: int) -> None:
    ids = list(all_marks(db, shoot))
    edit(db, shoot, Edit(Decision.PICK), ids)
    assert history.of(db, shoot).undo == "picked 6 frames"
    history.undo(db, shoot)
    assert set(all_marks(db, shoot).values()) == {Mark()}
    assert history.of(db, shoot) == history.History(None, "picked 6 frames")
    history.redo(db, shoot)
    assert {m.decision for m in all_marks(db, shoot).values()} == {Decision.PICK}


def test_a_new_change_ends_what_could_be_redone(db: Database, shoot: int) -> None:
    first, second, *_ = all_marks(db, shoot)
    edit(db, shoot, Edit(stars=1), [first])
    history.undo(db, shoot)
    edit(db, shoot, Edit(stars=2), [second])
    assert history.redo(db, shoot) is None
    assert history.of(db, shoot).undo == "2 stars on QH_1"


def test_only_decisions_that_stand_count_for_the_pace(db: Database, shoot: int) -> None:
    first, second, *_ = all_marks(db, shoot)
    edit(db, shoot, Edit(Decision.PICK), [first])
    edit(db, shoot, Edit(stars=3), [first])
    edit(db, shoot, Edit(Decision.REJECT), [second])
    assert len(history.decided_at(db, shoot)) == 2
    history.undo(db, shoot)
    assert len(history.decided_at(db, shoot)) == 1


def test_a_step_that_is_gone_cannot_be_gone_to(db: Database, shoot: int) -> None:
    with pytest.raises(KeyError):
        history.go_to(db, shoot, 77)
    assert history.go_to(db, shoot, None) is None


def test_histories_of_shoots_are_apart(db: Database, shoot: int) -> None:
    other = shoots.make(db, "Other", ["/others"])
    edit(db, shoot, Edit(stars=1), list(all_marks(db, shoot)))
    assert history.undo(db, other) is None
    assert edit(db, other, Edit(stars=1), list(all_marks(db, shoot))) is None


@settings(
    max_examples=soak.rounds(40),
    deadline=None,
    suppress_health_check=[HealthCheck.function_scoped_fixture],
)
@given(
    st.lists(
        st.tuples(edits, st.sets(st.integers(0, 5), min_size=1))
        | st.sampled_from(["undo", "redo"])
        | st.integers(0, 20)
    )
)
def test_undo_walks_exactly_back(
    db: Database, shoot: int, moves: list[tuple[Edit, set[int]] | str | int]
) -> None:
    """Against a plain list of snapshots: the slow, obvious history."""
    shoots.forget(db, shoot)
    shoot = shoots.make(db, "Test", ["/pictures"])
    add(db, shoot, 6)
    ids = list(all_marks(db, shoot))
    snapshots, at = [all_marks(db, shoot)], 0
    for move in moves:
        if move == "undo":
            assert (history.undo(db, shoot) is not None) == (at > 0)
            at = max(0, at - 1)
        elif move == "redo":
            assert (history.redo(db, shoot) is not None) == (at < len(snapshots) - 1)
            at = min(len(snapshots) - 1, at + 1)
        elif isinstance(move, int):
            # What was left for another branch is not on the way.
            steps = [change for change in history.past_changes(db, shoot)[::-1] if not change.left]
            wanted = min(move, len(steps))
            before = all_marks(db, shoot)
            done = history.go_to(db, shoot, steps[wanted - 1].id if wanted else None)
            if done:
                assert {s.frame: s.before for s in done.steps}.items() <= before.items()
            assert (done is not None) == (wanted != at)
            at = wanted
            undone = [
                change.undone for change in history.past_changes(db, shoot)[::-1] if not change.left
            ]
            assert undone == [n >= at for n in range(len(steps))]
        elif isinstance(move, tuple) and edit(db, shoot, move[0], [ids[n] for n in move[1]]):
            snapshots = [*snapshots[: at + 1], all_marks(db, shoot)]
            at += 1
        assert all_marks(db, shoot) == snapshots[at]


@settings(
    max_examples=60, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture]
)
@given(filters, st.lists(st.tuples(edits, st.integers(0, 5)), max_size=8))
def test_the_filter_in_sql_agrees_with_the_plain_one(
    db: Database, shoot: int, wanted: Filter, made: list[tuple[Edit, int]]
) -> None:
    ids = list(all_marks(db, shoot))
    for step, n in made:
        edit(db, shoot, step, [ids[n]])
    slow = [frame for frame, mark in all_marks(db, shoot).items() if wanted.passes(mark)]
    assert filtering.matching(db, shoot, wanted) == slow


def named_now(db: Database, shoot: int) -> dict[str, set[int]]:
    """The frames that each kind of hint names, in plain Python."""
    thresholds = hints.thresholds(db, shoot)
    return {
        name: {frame for frame, figure in found if KINDS[name].names(figure, thresholds[name])}
        for name, found in hints.figures(db, shoot).items()
    }


numbers = st.none() | st.sampled_from([0.0, 0.004, 0.8, 2.8, 50.0, 800.0, 3200.0])
facts = st.fixed_dictionaries(
    {
        "iso": st.none() | st.sampled_from([100, 800, 3200]),
        "aperture": numbers,
        "focal_mm": numbers,
        "shutter_s": numbers,
        "blur_px": numbers,
        "matters_px": numbers,
        "standing": st.sampled_from([None, "", "tied", "no edge"]),
        "faces": st.none() | st.sampled_from([0, 1, 50]),
        "smiles": st.sampled_from([0, 1, 2]),
        "gazes": st.sampled_from([0, 1]),
        "flash": st.none() | st.booleans(),
        "camera": st.none() | st.sampled_from(["Quillon H2", "ÄRMEL"]),
        "lens": st.none() | st.just("85 mm"),
        "width": st.none() | st.sampled_from([2, 3]),
        "height": st.none() | st.sampled_from([2, 3]),
        "shot_at": st.none() | st.floats(0, 200_000),
    }
)
values = st.sampled_from([0.0, 0.004, 0.8, 2.8, 50.0, 800.0, 3200.0, 70_000.0])
numeric = st.sampled_from(["stars", "iso", "f", "mm", "shutter", "blur", "time", "group", "faces"])
texts = st.sampled_from(
    ["", "qh_", "1", "quillon", "ärmel", "%", "85 mm", "jpeg", "quay", 'a "b"', "灯"]
)
words = st.sampled_from(["", "Quay", "QUAY at dusk", 'a "b"', "Ärmel 灯", "x"])
entries = st.lists(words.filter(bool), max_size=3, unique=True).map(tuple)
said = st.builds(
    Texts, title=words, caption=words, keywords=entries, creators=entries, rights=words, city=words
)
conditions = st.recursive(
    st.sampled_from(list(FLAGS)).map(Flag)
    | st.builds(Compare, numeric, st.sampled_from(["=", "<", "<=", ">", ">="]), values)
    | st.builds(
        Compare,
        st.sampled_from(
            [
                "name",
                "camera",
                "lens",
                "type",
                "text",
                "title",
                "caption",
                "keyword",
                "creator",
                "copyright",
                "place",
                "instructions",
            ]
        ),
        st.sampled_from(["=", "~"]),
        texts,
    )
    | st.builds(Compare, st.just("label"), st.just("="), st.sampled_from(["", "R", "A"]))
    | st.builds(Compare, st.just("hint"), st.just("="), st.sampled_from(["", *KINDS]))
    | st.builds(Between, numeric, values, values),
    lambda inner: (
        inner.map(Not)
        | st.lists(inner, min_size=2, max_size=3).map(lambda parts: All(tuple(parts)))
        | st.lists(inner, min_size=2, max_size=3).map(lambda parts: Any_(tuple(parts)))
    ),
    max_leaves=6,
)


def test_a_frame_with_other_texts_alone_has_no_place(db: Database, shoot: int) -> None:
    first, second, *others = all_marks(db, shoot)
    with db.write() as conn:
        steps = [
            TextStep(first, Texts(), Texts(rights="Quay")),
            TextStep(second, Texts(), Texts(city="Holm", country="Norrland")),
        ]
        text_store.put(conn, steps)
    nowhere = Filter(where=Compare("place", "=", ""))
    assert filtering.matching(db, shoot, nowhere) == [first, *others]
    for place in ("holm", "norrland"):
        wanted = Filter(where=Compare("place", "=", place))
        assert filtering.matching(db, shoot, wanted) == [second]


@settings(
    max_examples=150, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture]
)
@given(
    conditions,
    st.lists(facts, min_size=3, max_size=3),
    st.lists(edits, max_size=3),
    st.lists(st.dictionaries(st.sampled_from(list(KINDS)), st.floats(0, 60)), max_size=3),
    st.dictionaries(st.sampled_from(list(KINDS)), st.floats(0, 60), max_size=2),
    st.lists(said, min_size=3, max_size=3),
    st.booleans(),
    st.booleans(),
    st.booleans(),
)
def test_conditions_agree_with_the_plain_ones(  # noqa: C901
    db: Database,
    shoot: int,
    wanted: Condition,
    known: list[dict[str, object]],
    made: list[Edit],
    figures: list[dict[str, float]],
    moved: dict[str, float],
    said: list[Texts],
    delivered: bool,
    aside: bool,
    in_one_picture: bool,
) -> None:
    ids = list(all_marks(db, shoot))[:3]
    for frame, facts in zip(ids, known, strict=True):
        columns = ", ".join(f"{name} = :{name}" for name in facts)
        with db.write() as conn:
            conn.execute(f"UPDATE frame SET {columns} WHERE id = :id", {**facts, "id": frame})
    for frame, one_edit in zip(ids, made, strict=False):
        edit(db, shoot, one_edit, [frame])
    written = dict(zip(ids, said, strict=True))
    with db.write() as conn:
        text_store.put(conn, [TextStep(frame, Texts(), own) for frame, own in written.items()])
        conn.execute("DELETE FROM delivery_item")
        conn.execute("DELETE FROM held_file")
        links = GroupStep(frozenset({HandEdit("link", ids[0], ids[2])}), frozenset())
        groups.put(conn, shoot, links if in_one_picture else GroupStep(links.out, links.new))
    if aside:
        moved_files.begin(db, [moved_files.HeldFile(ids[1], Path("/a"), Path("/b"), 1)])
    if delivered:
        item = Item(ids[0], "copy", Path("/a"), "a", 1)
        keep_item(db, make_delivery(db, shoot, "/b", [item]), 0, "done", None, "")
    noticed: dict[str, list[Noticed]] = {name: [] for name in KINDS}
    for frame, own in zip(ids, figures, strict=False):
        for kind, figure in own.items():
            noticed[kind].append(Noticed(frame, figure, ""))
    hints.keep(db, hints.changes(db, shoot, noticed, []))
    for kind in KINDS:
        hints.set_threshold(db, shoot, kind, moved.get(kind))
    by_kind = named_now(db, shoot)
    slow = []
    picks = [mark.decision == "pick" for mark in all_marks(db, shoot).values()]
    for frame, mark in all_marks(db, shoot).items():
        row = dict(db.read.execute("SELECT * FROM frame WHERE id = ?", (frame,)).fetchone())
        at = row["shot_at"] if row["shot_at"] is not None else row["taken_at"]
        row |= {"time_s": None if at is None else int(at) % 86400}
        row |= {"group_size": len(picks), "group_picks": sum(picks)}
        row["blur_px"] = row["blur_px"] if row["standing"] is None else row["matters_px"]
        wrote = written.get(frame, Texts())
        place = "\n".join(filter(None, (wrote.location, wrote.city, wrote.state, wrote.country)))
        row |= {
            name: getattr(wrote, name) for name in ("title", "caption", "rights", "instructions")
        }
        row |= {"keywords": "\n".join(wrote.keywords), "creators": "\n".join(wrote.creators)}
        row |= {"place": place, "delivered": delivered and frame == ids[0]}
        row["held"] = aside and frame == ids[1]
        row["linked"] = in_one_picture and frame in (ids[0], ids[2])
        row["hints"] = {kind for kind, found in by_kind.items() if frame in found}
        row |= {"stars": mark.stars, "decision": mark.decision, "label": mark.label}
        if holds(wanted, row):
            slow.append(frame)
    assert filtering.matching(db, shoot, Filter(where=wanted)) == slow
    for fact in (
        "camera", "iso", "flash", "orientation", "decision", "label", "unpicked", "faces", "hint",
        "keyword", "caption", "delivered", "aside", "linked", "smiling", "facing",
    ):  # fmt: skip
        meant = Filter(where=filtering.for_database(db, shoot, wanted))
        counted, _ = choices.counted_values(db, shoot, meant, fact)
        for value, number in counted.items():
            alone = toggled(None, fact, value)
            assert alone is not None
            assert len(filtering.matching(db, shoot, Filter(where=All((wanted, alone))))) == number


def test_any_text_is_equal_to_one_keyword_or_one_part_of_the_place(
    db: Database, shoot: int
) -> None:
    first, second, *_ = all_marks(db, shoot)
    said = {first: Texts(keywords=("Quay", "dusk")), second: Texts(city="Quay", country="x")}
    with db.write() as conn:
        text_store.put(conn, [TextStep(frame, Texts(), own) for frame, own in said.items()])
    for value, found in (("quay", [first, second]), ("dusk", [first]), ("X", [second]), ("us", [])):
        assert filtering.matching(db, shoot, Filter(where=Compare("text", "=", value))) == found


def test_a_written_filter_is_kept_as_it_was_typed(db: Database, shoot: int) -> None:
    text = "iso>800 label album"
    where = parse(text, {"A": "Album"})
    shoots.keep_filter(db, shoot, Filter(written=text, where=where))
    kept = shoots.get(db, shoot)
    assert kept is not None
    assert (kept.filter.written, kept.filter.where) == (text, where)
    # A label that is gone leaves a filter that lets all pass, not an error.
    with db.write() as conn:
        conn.execute("UPDATE shoot SET filter = replace(filter, 'album', 'nothing')")
    kept = shoots.get(db, shoot)
    assert kept is not None
    assert kept.filter == Filter()


def test_forgetting_a_shoot_leaves_nothing(db: Database, shoot: int) -> None:
    edit(db, shoot, Edit(stars=1), list(all_marks(db, shoot)))
    shoots.forget(db, shoot)
    for table in (
        "folder",
        "frame",
        "mark",
        "change",
        "change_step",
        "frame_file",
        "hint",
        "text",
    ):
        assert db.read.execute(f"SELECT count(*) FROM {table}").fetchone()[0] == 0


def test_the_number_of_a_forgotten_shoot_is_not_given_again(db: Database, shoot: int) -> None:
    shoots.forget(db, shoot)
    assert shoots.make(db, "another", ["/another"]) == shoot + 1
