"""Bringing in: where files go, and when a card may be formatted."""

import pytest

from winnow.core.deliver.card_import import CardFile, Outcome, destinations, report

EVENING = 1791052682.0  # 2026-10-03 18:38:02 of the camera's clock


def file(path: str, taken_at: float = EVENING, camera: str = "Quillon H2") -> CardFile:
    return CardFile(path, 10, 0, taken_at, camera, path)


def test_files_of_one_exposure_stay_together() -> None:
    files = [
        file("DCIM/100QUILL/QH2_0001.JPG", EVENING),
        file("DCIM/100QUILL/QH2_0001.DNG", EVENING + 30_000),  # after midnight, by its own date
        file("DCIM/100QUILL/QH2_0002.JPG", EVENING + 86_400),
    ]
    assert destinations(files, "{date}", "Evening", {}) == [
        "2026-10-03/QH2_0001.JPG",
        "2026-10-03/QH2_0001.DNG",
        "2026-10-04/QH2_0002.JPG",
    ]


def test_equal_names_of_two_folders_get_a_number_together() -> None:
    files = [
        file("DCIM/100QUILL/QH2_0001.JPG"),
        file("DCIM/101QUILL/QH2_0001.JPG"),
        file("DCIM/101QUILL/QH2_0001.DNG"),
    ]
    assert destinations(files, "all", "", {}) == [
        "all/QH2_0001.JPG",
        "all/QH2_0001-2.JPG",
        "all/QH2_0001-2.DNG",
    ]
    assert destinations(files, "{folder}", "", {})[1] == "101QUILL/QH2_0001.JPG"


def test_names_that_are_taken_stay_whose_they_are() -> None:
    files = [file("DCIM/100QUILL/QH2_0001.JPG")]
    assert destinations(files, "all", "", {"all": ["qh2_0001.jpg"]}) == ["all/QH2_0001-2.JPG"]


DONE, THERE, FAILED = Outcome("done", ""), Outcome("there", ""), Outcome("failed", "")


@pytest.mark.parametrize(
    ("outcomes", "outside", "running", "safe", "words"),
    [
        ([DONE, THERE], 0, False, True, "Safe to format: all 2 files are on the disk, each read"),
        ([DONE], 3, False, True, "3 files outside of DCIM are no pictures, films or sounds"),
        ([DONE, Outcome("planned", "")], 0, False, False, "1 file of 2 is not copied."),
        ([DONE, FAILED], 0, False, False, "1 file of 2 is not copied, 1 of them failed"),
        ([DONE], 0, True, False, "Not yet"),
        ([], 0, False, False, "no pictures"),
        ([Outcome("done", "done")], 0, False, True, "on the disk and in the second place"),
        ([Outcome("done", "failed"), Outcome("there", "there")], 0, False, False,
         "all 2 files are on the disk, but 1 is not in the second place"),
    ],
)  # fmt: skip
def test_report(
    outcomes: list[Outcome], outside: int, running: bool, safe: bool, words: str
) -> None:
    found = report(outcomes, outside, running)
    assert found[0] is safe
    assert words in found[1]


def test_what_was_left_out_is_not_safe_to_format() -> None:
    safe, words = report([DONE, THERE], 0, running=False, left=3)
    assert not safe
    assert "3 files were left out and are only on the card" in words
