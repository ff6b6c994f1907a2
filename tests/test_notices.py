"""NOTICES.md names all that ships with Winnow or is installed with it, in the versions that are
pinned."""

import json
from pathlib import Path

from cyclonedx.schema import SchemaVersion
from cyclonedx.validation.json import JsonStrictValidator
from scripts import notices, sbom

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


def test_the_list_of_parts_is_the_one_of_the_lock_files() -> None:
    """Made anew it is the same to the byte; `make notices` writes it."""
    assert sbom.FILE.read_text() == sbom.listed()
    named = {
        (part["name"], part.get("version")) for part in json.loads(sbom.listed())["components"]
    }
    assert {(name, version) for name, version, _ in notices.page_packages()} <= named
    assert set(notices.python_packages()) <= named
    assert {"face_landmark.tflite", "DejaVuSansCondensed.ttf"} <= {name for name, _ in named}


def test_the_list_of_parts_keeps_to_the_published_schema() -> None:
    """CycloneDX 1.6 (ECMA-424), by the schema that its own library ships."""
    errors = JsonStrictValidator(SchemaVersion.V1_6).validate_str(sbom.FILE.read_text())
    assert errors is None
