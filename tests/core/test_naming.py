"""Names of delivered files."""

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from winnow.core.deliver.naming import FIELDS, ToName, chosen, manifest, named, number_in
from winnow.core.files.templates import TemplateError


def frame(*files: str, group: int = 0, sidecar: bool = False, **values: str) -> ToName:
    return ToName(files, {"name": files[0].rpartition(".")[0], **values}, group, sidecar)


def test_names_as_they_are_keep_what_the_disk_has() -> None:
    odd = frame("a: b.JPG", "a: b.dng", sidecar=True)
    assert named([odd], "{name}") == [("a: b.JPG", "a: b.dng", "a: b.xmp")]


def test_files_of_a_frame_keep_a_common_name() -> None:
    frames = [
        frame("QH_7.JPG", "QH_7.dng", group=3, year="2026"),
        frame("QH_8.JPG", group=3, year="2026", sidecar=True),
        frame("QH_9.JPG", group=4, year="2026"),
    ]
    assert named(frames, "{year}/{seq:3} {name}-{in_group}") == [
        ("2026/001 QH_7-1.JPG", "2026/001 QH_7-1.dng"),
        ("2026/002 QH_8-2.JPG", "2026/002 QH_8-2.xmp"),
        ("2026/003 QH_9-1.JPG",),
    ]


@pytest.mark.parametrize(
    ("template", "words"),
    [
        ("{nmae}", "no field"),
        ("{name", "stands alone"),
        ("", "empty"),
        ("{seq:0}", "stands alone|no field"),
    ],
)
def test_templates_that_can_not_be_used(template: str, words: str) -> None:
    with pytest.raises(TemplateError, match=words):
        named([frame("a.jpg")], template)


@given(st.sampled_from(sorted(FIELDS)), st.text(max_size=200), st.text(max_size=20))
def test_no_value_leads_out_of_the_target(field: str, value: str, around: str) -> None:
    text = around.replace("{", "").replace("}", "")
    texts: dict[str, Any] = {field: value}
    told = frame("a.jpg", **texts)
    ((name,),) = named([told], f"x{text}{{{field}}}/{{{field}}}")
    parts = name.split("/")
    assert not {"", ".", ".."} & set(parts)
    assert "\0" not in name


@pytest.mark.parametrize(
    ("files", "which", "wanted"),
    [
        (["a.jpg", "a.dng"], "all", [0, 1]),
        (["a.jpg", "a.dng"], "raw", [1]),
        (["a.jpg", "a.dng"], "ready", [0]),
        (["a.dng"], "ready", [0]),
        (["a.tif"], "raw", [0]),
    ],
)
def test_which_files_are_wanted(files: list[str], which: str, wanted: list[int]) -> None:
    assert chosen(files, which) == wanted  # type: ignore[arg-type]


def test_a_manifest_is_one_line_a_file() -> None:
    listed = manifest([("ab", "a b.jpg"), ("cd", "two\nlines\\.jpg")])
    assert listed == "ab  a b.jpg\n\\cd  two\\nlines\\\\.jpg\n"


def test_the_number_in_a_name() -> None:
    assert [number_in(name) for name in ("QH2_0412", "0412_a", "x")] == ["0412", "", ""]
