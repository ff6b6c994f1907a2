"""Folder templates: lawful folders from any values, errors that point at the place."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from winnow.core.files import templates
from winnow.core.files.templates import FIELDS, TemplateError, folder, safe_name

VALUES = {"date": "2026-10-03", "year": "2026", "shoot": "Lantern evening", "camera": "Quillon H2"}


@pytest.mark.parametrize(
    ("template", "expected"),
    [
        (templates.DEFAULT, "2026-10-03 Lantern evening"),
        ("{year}/{date} {shoot}", "2026/2026-10-03 Lantern evening"),
        ("{camera}", "Quillon H2"),
        ("plain words", "plain words"),
        ("//{year}//", "2026"),
        ("{date} {folder}", "2026-10-03"),
        ("../{year}", "_/2026"),
    ],
)
def test_folders(template: str, expected: str) -> None:
    assert folder(template, VALUES) == expected


@pytest.mark.parametrize(
    ("template", "words", "at"),
    [
        ("{year}/{place}", r"no field \{place\}", 7),
        ("{year", "brace stands alone", 0),
        ("a}b", "brace stands alone", 1),
        ("", "empty", 0),
        (" / ".replace(" ", ""), "empty", 0),
    ],
)
def test_errors_point_at_the_place(template: str, words: str, at: int) -> None:
    with pytest.raises(TemplateError, match=words) as caught:
        folder(template, VALUES)
    assert caught.value.at == at


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ("a/b\\c:d", "a-b-c-d"),
        ("..", "_"),
        (" x. ", "x"),
        ("con", "_con"),
        ("COM1.txt", "_COM1.txt"),
        ("console", "console"),
        ("two\n lines", "two- lines"),
        ("e\u0301", "é"),
        ("", "_"),
    ],
)
def test_names_are_lawful_everywhere(text: str, expected: str) -> None:
    assert safe_name(text) == expected


@given(st.dictionaries(st.sampled_from(sorted(FIELDS)), st.text(max_size=300)))
def test_no_value_leads_out_of_the_folder(values: dict[str, str]) -> None:
    made = folder("{shoot}/{camera} {folder}/{date}", values)
    parts = made.split("/")
    assert len(parts) == 3
    for part in parts:
        assert part not in ("", ".", "..")
        assert not set(part) & set('\\:*?"<>|\0')
        assert len(part.encode("utf-8", "replace")) <= 255
