"""Command lines of the person's own: words, never a shell."""

import shlex

import pytest
from hypothesis import given
from hypothesis import strategies as st

from winnow.core.deliver.command_lines import CommandError, with_files, words_of


def test_files_stand_where_they_are_wanted_or_at_the_end() -> None:
    assert with_files("edit --new", ["/a b.jpg", "/c.jpg"]) == [
        "edit",
        "--new",
        "/a b.jpg",
        "/c.jpg",
    ]
    assert with_files("edit {files} --last", ["/a.jpg"]) == ["edit", "/a.jpg", "--last"]
    assert with_files("'/opt/my editor/run' \"x y\"", []) == ["/opt/my editor/run", "x y"]


@pytest.mark.parametrize(
    "command", ["", "  ", "edit 'x", "{files}", "e {files} {files}", "e -f={files}"]
)
def test_lines_that_can_not_be_used(command: str) -> None:
    with pytest.raises(CommandError):
        words_of(command)


@pytest.mark.parametrize("word", ["$HOME", "*.jpg", ";", "&&", "`id`", "$(id)", ">x", "|"])
def test_nothing_of_a_shell_has_a_meaning(word: str) -> None:
    assert with_files(f"edit {word}", ["/a.jpg"]) == ["edit", word, "/a.jpg"]


@given(st.lists(st.text(st.characters(exclude_characters="\0", codec="utf-8")), max_size=5))
def test_every_file_stays_one_word(files: list[str]) -> None:
    assert with_files("edit {files}", files)[1:] == files
    assert words_of(shlex.join(["edit", "a b"])) == ["edit", "a b"]
