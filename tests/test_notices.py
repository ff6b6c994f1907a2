"""NOTICES.md names all that ships with Winnow or is installed with it, in the versions that are
pinned."""

from pathlib import Path

from scripts import notices

ROOT = Path(__file__).parent.parent

FILE = (ROOT / "NOTICES.md").read_text()


def test_every_package_in_the_pages_is_named_with_its_version_and_licence() -> None:
    packages = notices.page_packages()
    assert len(packages) > 50
    assert [package for package in packages if "{} {} ({})".format(*package) not in FILE] == []
    assert all(licence for _, _, licence in packages)


def test_every_python_package_is_named_with_its_version() -> None:
    packages = notices.python_packages()
    assert len(packages) > 20
    assert [package for package in packages if "- {} {}: ".format(*package) not in FILE] == []


def test_fonts_models_and_pictures_are_named() -> None:
    for text in (
        "SIL OPEN FONT LICENSE",
        "Bitstream Vera",
        "face_landmark.tflite",
        "Apache License",
        "CC0 1.0",
    ):
        assert text in FILE
