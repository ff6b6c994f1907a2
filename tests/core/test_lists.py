"""Lists: out as CSV and JSON, in again however a spreadsheet saved them, matched by hash and
name."""

import csv
import io
import json
from dataclasses import replace
from itertools import islice

import pytest
from hypothesis import given
from hypothesis import strategies as st

from winnow.core.files import lists
from winnow.core.files.lists import Known, ListError, ListPlan
from winnow.core.files.merge import Said
from winnow.core.files.texts import Texts, cleaned
from winnow.core.marks import Decision, Mark

LABELS = {"R": "Retouch", "A": "Album"}
SAID = Said(Mark(Decision.PICK, 2, "A"), Texts("=1+1", keywords=("a b", "ü"), city="Holm"))
FRAMES = [
    Known(1, ("QH_1.jpg", "QH_1.dng"), "", "aa" * 32, SAID),
    Known(2, ("QH_2.jpg",), "day 1", "bb" * 32, Said()),
    Known(3, ("QH_2.jpg",), "day 2", "cc" * 32, Said()),
    Known(4, ("QH_4.jpg",), "", None, Said()),
]
COLUMNS = lists.columns_of(["marks", "texts"])


def row(known: Known) -> dict[str, lists.Value]:
    naming = {"file": known.files[0], "folder": known.folder, "hash": known.hash}
    return {**naming, **lists.values_of(known.said, LABELS)}


def planned(text: str | bytes) -> ListPlan:
    data = text.encode() if isinstance(text, str) else text
    return lists.plan(lists.read(data), FRAMES, LABELS)


def test_a_list_that_nobody_changed_changes_nothing() -> None:
    rows = [row(frame) for frame in FRAMES]
    for text in (lists.to_csv(COLUMNS, rows), lists.to_json("Quay", COLUMNS, rows)):
        plan = planned(text)
        assert (dict(plan.after), plan.same, plan.problems) == ({}, 4, ())


def test_no_cell_is_a_formula() -> None:
    text = lists.to_csv(COLUMNS, [row(FRAMES[0])])
    (cells,) = csv.DictReader(io.StringIO(text.lstrip("\ufeff")))
    assert cells["title"] == "'=1+1"
    assert cells["keywords"] == "a b; ü"


def test_no_formula_comes_to_light_where_columns_are_parted_otherwise() -> None:
    harmful = replace(
        FRAMES[0],
        said=Said(texts=Texts(title="x;=cmd|' /C calc'!A0\t=1+1", caption="a\n; +b\n- c")),
    )
    text = lists.to_csv(COLUMNS, [row(harmful)])
    for parted in ";\t":
        for cells in csv.reader(io.StringIO(text.lstrip("\ufeff")), delimiter=parted):
            assert not [cell for cell in cells if cell.startswith(("=", "+", "-", "@"))]


TEXT = st.text(st.sampled_from("=+-@\t'\";, a\nü"), max_size=8)


@given(
    st.builds(
        Texts,
        title=TEXT,
        caption=TEXT,
        keywords=st.lists(TEXT, max_size=3).map(tuple),
        creators=st.lists(TEXT, max_size=3).map(tuple),
    ).map(cleaned)
)
def test_any_text_comes_back_as_it_went(texts: Texts) -> None:
    said = Said(Mark(), texts)
    known = Known(9, ("QH_9.jpg",), "", None, said)
    out = lists.to_csv(COLUMNS, [row(known)])
    plan = lists.plan(lists.read(out.encode()), [known], LABELS)
    assert (dict(plan.after), plan.same, plan.problems) == ({}, 1, ())
    for cell in next(islice(csv.reader(io.StringIO(out.lstrip("\ufeff"))), 1, 2)):
        assert not cell.startswith(("=", "+", "-", "@", "\t"))


@pytest.mark.parametrize("first", ["sep=;", "SEP=;", "\ufeffsep=;"])
def test_a_first_line_may_say_what_parts_columns(first: str) -> None:
    found = lists.read(f"{first}\r\nFile;Title\r\nQH_4.jpg;a,b,c,d\r\n;;\r\nnone.jpg;x".encode())
    assert [(entry.at, entry.values.get("title")) for entry in found.entries] == [
        (3, "a,b,c,d"),
        (5, "x"),
    ]


def test_json_names_what_it_is() -> None:
    content = json.loads(lists.to_json("Quay", COLUMNS, [row(FRAMES[0])]))
    assert (content["kind"], content["shoot"]) == ("winnow list", "Quay")
    assert content["frames"][0]["keywords"] == ["a b", "ü"]


@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "utf-16", "cp1252"])
@pytest.mark.parametrize("delimiter", [",", ";", "\t"])
def test_csv_as_spreadsheets_save_it(encoding: str, delimiter: str) -> None:
    lines = ["File|Decision|Stars|Label|Caption", "QH_4.jpg|Reject|3|album|Grün"]
    text = "\r\n".join(line.replace("|", delimiter) for line in lines)
    assert planned(text.encode(encoding)).after == {
        4: Said(Mark(Decision.REJECT, 3, "A"), Texts(caption="Grün"))
    }


def test_empty_cells_say_nothing_and_none_takes_the_label_off() -> None:
    plan = planned("file,decision,stars,label,title\nqh_1,,,none,\n")
    assert plan.after == {1: Said(Mark(Decision.PICK, 2), SAID.texts)}


def test_a_hash_finds_a_renamed_frame_and_a_folder_tells_two_apart() -> None:
    assert set(planned(f"file,hash,stars\nother.jpg,{'BB' * 32},4\n").after) == {2}
    assert set(planned("file,folder,stars\nQH_2.jpg,day 2,4\n").after) == {3}


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("file,stars\nQH_9.jpg,1\n", "no “QH_9.jpg”"),
        ("file,stars\nQH_2.jpg,1\n", "name of 2 frames"),
        (f"file,hash,stars\nQH_1.jpg,{'99' * 32},1\n", "another content"),
        ("file,stars\nQH_4.jpg,6\n", "0 to 5"),
        ("file,decision\nQH_4.jpg,maybe\n", "no decision"),
        ("file,label\nQH_4.jpg,Blue\n", "no label “Blue”"),
        ("file,stars\n,3\n", "names no file"),
        ("file,stars\nQH_4.jpg,1\nQH_4.jpg,2\n", "same frame as row 2"),
    ],
)
def test_a_row_that_can_not_be_used_is_left_out_with_its_reason(text: str, words: str) -> None:
    ((_, why),) = planned(text).problems
    assert words in why


@pytest.mark.parametrize(
    "data",
    [
        b"{not json",
        b"[1, 2]",
        b'{"frames": 3}',
        b"a,b\n1,2\n",
        b"",
        b'{"version": 2, "frames": []}',
    ],
)
def test_what_is_no_list_is_refused(data: bytes) -> None:
    with pytest.raises(ListError):
        lists.read(data)


def test_columns_that_mean_nothing_are_named() -> None:
    assert lists.read(b"file,Mood,iso\nx,1,2\n").unknown == ("mood",)
