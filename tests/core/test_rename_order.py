"""The order of renamings: played on a make-believe disk, no file is ever lost or written over."""

from hypothesis import given
from hypothesis import strategies as st

from winnow.core.deliver.rename_order import BETWEEN, in_order
from winnow.core.files.names import clash_key

NAMES = st.sampled_from(["a", "A", "b", "B", "c", "d", "é", "e\u0301", "x/a", "x/b", "f"])


def play(pairs: list[tuple[str, str]]) -> dict[str, str]:
    """Rename on a disk that takes names for the same whatever their case: content by path."""
    disk = {clash_key(old): (old, f"content of {old}") for old, _ in pairs}
    for step in in_order(pairs):
        path, content = disk.pop(clash_key(step.old))
        assert path == step.old
        assert clash_key(step.new) not in disk, "that would write over another file"
        disk[clash_key(step.new)] = (step.new, content)
    return dict(disk.values())


def test_a_chain_is_begun_at_its_free_end() -> None:
    steps = in_order([("1", "2"), ("2", "3"), ("3", "4"), ("x", "y")])
    assert [(s.old, s.new) for s in steps if s.old != "x"] == [("3", "4"), ("2", "3"), ("1", "2")]
    assert [s.old for s in steps if s.alone] == ["x"]


def test_a_circle_goes_by_way_of_a_free_name() -> None:
    assert play([("a", "b"), ("b", "c"), ("c", "a")]) == {
        "b": "content of a", "c": "content of b", "a": "content of c",
    }  # fmt: skip


def test_a_change_of_case_only_does_not_meet_itself() -> None:
    steps = in_order([("folder/a.jpg", "folder/A.jpg")])
    assert [s.old.startswith(f"folder/{BETWEEN}") for s in steps] == [False, True]
    assert play([("folder/a.jpg", "folder/A.jpg")]) == {"folder/A.jpg": "content of folder/a.jpg"}


@given(
    st.lists(
        st.tuples(NAMES, NAMES), unique_by=(lambda p: clash_key(p[0]), lambda p: clash_key(p[1]))
    )
)
def test_everything_ends_where_it_was_wanted(pairs: list[tuple[str, str]]) -> None:
    assert play(pairs) == {new: f"content of {old}" for old, new in pairs}
