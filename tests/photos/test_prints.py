"""What libraries print about a file."""

import os
from collections.abc import Iterator
from pathlib import Path

import pytest

from winnow.photos.prints import Prints


@pytest.fixture
def prints() -> Iterator[Prints]:
    made = Prints()
    yield made
    made.close()


def test_what_is_printed_about_a_file_is_logged_with_its_name(
    prints: Prints, capfd: pytest.CaptureFixture[str]
) -> None:
    with prints.about(Path("a.tif")):
        os.write(2, b"as it is\n")
    prints.keep()
    with prints.about(Path("/shoot/odd.tif")):
        os.write(2, b"odd \xe9 \x1b[31m\n" * 40 + b"two\nthree\nfour\nfive\n")
    with prints.about(Path("/shoot/sound.jpg")):
        pass
    os.write(2, b"after\n")
    lines = capfd.readouterr().err.splitlines()
    assert [lines[0], lines[-1]] == ["as it is", "after"]
    assert [line.split(" ", 2)[2] for line in lines[1:-1]] == [
        "/shoot/odd.tif: odd \ufffd [31m",
        "/shoot/odd.tif: two",
        "/shoot/odd.tif: three",
        "/shoot/odd.tif: (2 more)",
    ]


def test_what_was_printed_before_an_error_is_logged_too(
    prints: Prints, capfd: pytest.CaptureFixture[str]
) -> None:
    prints.keep()

    def read() -> None:
        with prints.about(Path("bad.png")):
            os.write(2, b"half of it\n")
            raise ValueError("bad")

    with pytest.raises(ValueError, match="bad"):
        read()
    assert "bad.png: half of it" in capfd.readouterr().err
