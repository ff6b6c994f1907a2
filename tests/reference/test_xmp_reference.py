"""Sidecars and embedded texts against independent programs: exiftool 12.57 and exiv2 0.27.6 of
Debian.

Properties and forms: ISO 16684-1 (XMP), IPTC Photo Metadata Standard 2023.2 (IPTC Core).
"""

import json
import shutil
import subprocess
from dataclasses import replace
from pathlib import Path

import pytest

from tests.pictures import jpeg
from winnow.core.files.merge import Stated
from winnow.core.files.profiles import FileMark
from winnow.core.files.texts import Texts
from winnow.photos.xmp import embedded, read_sidecar, with_embedded, with_stated

pytestmark = pytest.mark.skipif(
    not (shutil.which("exiftool") and shutil.which("exiv2")), reason="the readers are not installed"
)
TEXTS = Texts(
    "Títle",
    "Two\nlines, 灯",
    ("quay", "a, b", "灯"),
    ("Ann", "Bo"),
    "© Ann",
    "Pier 3",
    "Holm",
    "Vik",
    "Nord",
)


def by_exiftool(path: Path) -> dict[str, object]:
    out = subprocess.run(
        ["exiftool", "-json", "-XMP:all", "-struct", str(path)], capture_output=True, check=True
    )
    found: dict[str, object] = json.loads(out.stdout)[0]
    return found


def by_exiv2(path: Path) -> dict[str, str]:
    out = subprocess.run(
        ["exiv2", "-PXkv", str(path)], capture_output=True, text=True, check=True
    ).stdout
    found: dict[str, str] = {}
    key = ""
    for line in out.splitlines():
        if line.startswith("Xmp."):
            key, _, value = line.partition(" ")
            found[key] = value.strip()
        else:
            found[key] += f"\n{line}"  # a text of several lines
    return found


def assert_says(path: Path, stated: Stated) -> None:
    mark, texts = stated.mark, stated.texts
    found = by_exiftool(path)
    assert (found.get("Rating"), found.get("Label")) == (mark.rating, mark.label)
    assert found.get("Good") == mark.good
    assert found["Title"] == texts.title
    assert found["Description"] == texts.caption.replace("\n", "\n")
    assert found["Subject"] == list(texts.keywords)
    assert found["Creator"] == list(texts.creators)
    assert found["Rights"] == texts.rights
    place = (found["Location"], found["City"], found["State"], found["Country"])
    assert place == (texts.location, texts.city, texts.state, texts.country)
    listed = by_exiv2(path)
    assert listed.get("Xmp.xmp.Rating") == (None if mark.rating is None else str(mark.rating))
    assert listed.get("Xmp.xmp.Label") == mark.label
    assert listed["Xmp.dc.title"] == f'lang="x-default" {texts.title}'
    assert listed["Xmp.dc.description"] == f'lang="x-default" {texts.caption}'
    assert listed["Xmp.dc.subject"] == ", ".join(texts.keywords)
    assert listed["Xmp.dc.creator"] == ", ".join(texts.creators)
    assert listed["Xmp.dc.rights"] == f'lang="x-default" {texts.rights}'
    assert listed["Xmp.iptc.Location"] == texts.location
    assert listed["Xmp.photoshop.City"] == texts.city
    assert listed["Xmp.photoshop.State"] == texts.state
    assert listed["Xmp.photoshop.Country"] == texts.country


MARKS = [FileMark(-1, "Retouch", None), FileMark(5, "Grün & <灯>", True), FileMark(0, None, False)]


@pytest.mark.parametrize("mark", MARKS)
def test_independent_programs_read_our_sidecars(tmp_path: Path, mark: FileMark) -> None:
    path = tmp_path / "QH_1.xmp"
    stated = Stated(mark, TEXTS)
    path.write_bytes(with_stated(None, stated))
    assert_says(path, stated)


@pytest.mark.parametrize("mark", MARKS)
def test_independent_programs_read_what_we_embed(tmp_path: Path, mark: FileMark) -> None:
    path = tmp_path / "QH_1.jpg"
    stated = Stated(mark, TEXTS)
    path.write_bytes(with_embedded(jpeg(1), stated))
    assert_says(path, stated)
    warned = subprocess.run(
        ["exiftool", "-validate", "-warning", "-a", "-s3", str(path)],
        capture_output=True,
        text=True,
    ).stdout
    assert "XMP" not in warned


ARGUMENTS = [
    "-XMP-xmp:Rating=-1", "-XMP-xmp:Label=Ünï 灯", "-XMP-xmpDM:Good=true", "-XMP-dc:Title=Títle",
    "-XMP-dc:Title-de=Titel", "-XMP-dc:Description=At the quay", "-XMP-dc:Subject=quay",
    "-XMP-dc:Subject=a, b", "-XMP-dc:Creator=Ann", "-XMP-dc:Creator=Bo", "-XMP-dc:Rights=© Ann",
    "-XMP-iptcCore:Location=Pier 3", "-XMP-photoshop:City=Holm", "-XMP-photoshop:State=Vik",
    "-XMP-photoshop:Country=Nord", "-XMP-xmpMM:DocumentID=kept",
]  # fmt: skip
THEIRS = Stated(
    FileMark(-1, "Ünï 灯", True),
    Texts(
        "Títle",
        "At the quay",
        ("quay", "a, b"),
        ("Ann", "Bo"),
        "© Ann",
        "Pier 3",
        "Holm",
        "Vik",
        "Nord",
    ),
)


@pytest.mark.parametrize("options", [[], ["-api", "Compact=Shorthand"]])
@pytest.mark.parametrize("name", ["QH_1.xmp", "QH_1.jpg"])
def test_we_read_what_others_wrote(tmp_path: Path, options: list[str], name: str) -> None:
    """The same properties written by exiftool as elements and as attributes."""
    path = tmp_path / name
    if name.endswith("jpg"):
        path.write_bytes(jpeg(1))
    subprocess.run(
        ["exiftool", "-q", "-overwrite_original", *options, *ARGUMENTS, str(path)], check=True
    )
    read = embedded if name.endswith("jpg") else read_sidecar
    assert read(path.read_bytes()) == THEIRS
    write = with_embedded if name.endswith("jpg") else with_stated
    path.write_bytes(write(path.read_bytes(), Stated(FileMark(3), THEIRS.texts)))
    found = by_exiftool(path)
    assert (found["Rating"], found["Subject"]) == (3, ["quay", "a, b"])
    assert found["DocumentID"] == "kept"
    assert found["Title-de" if "Title-de" in found else "Title"] in ("Titel", "Títle")
    assert "Label" not in found
    languages = subprocess.run(
        ["exiftool", "-json", "-XMP-dc:Title-de", str(path)], capture_output=True, check=True
    )
    assert json.loads(languages.stdout)[0]["Title-de"] == "Titel"


@pytest.mark.parametrize("name", ["QH_1.xmp", "QH_1.jpg"])
def test_we_read_what_exiv2_wrote(tmp_path: Path, name: str) -> None:
    """Lists as bag and sequence, texts by language; and a property that nobody here knows stays."""
    path = tmp_path / name
    path.write_bytes(jpeg(1) if name.endswith("jpg") else with_stated(None, Stated(FileMark(1))))
    commands = [
        "reg odd http://example.org/odd/", "set Xmp.odd.Thing kept", "set Xmp.xmp.Rating -1",
        "set Xmp.xmp.Label Ünï 灯", "set Xmp.xmpDM.good True", 'set Xmp.dc.title lang="x-default" '
                                                              'Títle',
        'set Xmp.dc.title lang="de" Titel', 'set Xmp.dc.description lang="x-default" At the quay',
        "set Xmp.dc.subject XmpBag quay", "set Xmp.dc.subject XmpBag a, b",
        "set Xmp.dc.creator XmpSeq Ann",
        "set Xmp.dc.creator XmpSeq Bo", 'set Xmp.dc.rights lang="x-default" © Ann',
        "set Xmp.iptc.Location Pier 3", "set Xmp.photoshop.City Holm", "set Xmp.photoshop.State "
                                                                       "Vik",
        "set Xmp.photoshop.Country Nord",
    ]  # fmt: skip
    subprocess.run(["exiv2", *(f"-M{command}" for command in commands), str(path)], check=True)
    read = embedded if name.endswith("jpg") else read_sidecar
    found = read(path.read_bytes())
    assert found.mark == THEIRS.mark
    # That program splits a bag's text at commas.
    assert found.texts == replace(THEIRS.texts, keywords=found.texts.keywords)
    assert {"quay"} < set(found.texts.keywords)
    write = with_embedded if name.endswith("jpg") else with_stated
    path.write_bytes(write(path.read_bytes(), Stated(FileMark(5), THEIRS.texts)))
    listed = by_exiv2(path)
    assert listed["Xmp.odd.Thing"] == "kept"
    assert 'lang="de" Titel' in listed["Xmp.dc.title"]
    assert listed["Xmp.xmp.Rating"] == "5"


RDF = """<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF
 xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#" xmlns:dc="http://purl.org/dc/elements/1.1/"
 xmlns:xmp="http://ns.adobe.com/xap/1.0/">{}</rdf:RDF></x:xmpmeta>"""


@pytest.mark.parametrize(
    "body",
    [
        '<rdf:Description rdf:about="" xmp:Rating="4" dc:title="Dusk"/>',
        '<rdf:Description rdf:about=""><xmp:Rating>4</xmp:Rating>'
        "<dc:title>Dusk</dc:title></rdf:Description>",
        '<rdf:Description rdf:about="" xmp:Rating="4"><dc:title><rdf:Alt><rdf:li '
        'xml:lang="de">Abend'
        '</rdf:li><rdf:li xml:lang="x-default">Dusk</rdf:li></rdf:Alt></dc:title>'
        "</rdf:Description>",
        '<rdf:Description rdf:about="" xmp:Rating="4"/><rdf:Description '
        'rdf:about=""><dc:title><rdf:Alt>'
        '<rdf:li xml:lang="en">Dusk</rdf:li></rdf:Alt></dc:title></rdf:Description>',
    ],
    ids=["attributes", "elements", "alternatives", "two descriptions"],
)
@pytest.mark.parametrize("mark", ["", "\ufeff", '<?xml version="1.0" encoding="UTF-8"?>'])
def test_each_way_to_write_rdf(tmp_path: Path, body: str, mark: str) -> None:
    """ISO 16684-1, 7.4 to 7.9: simple properties as attributes or elements, alternatives by
    language."""
    data = (mark + RDF.format(body)).encode()
    found = read_sidecar(data)
    assert (found.mark.rating, found.texts.title) == (4, "Dusk")
    path = tmp_path / "QH_1.xmp"
    path.write_bytes(with_stated(data, Stated(FileMark(-1), Texts(title="Night"))))
    assert by_exiftool(path)["Rating"] == -1
    assert by_exiftool(path)["Title"] == "Night"


def test_older_texts_by_exiftool(tmp_path: Path) -> None:
    """IPTC-IIM 4.2 written by exiftool, read where there is no XMP, in UTF-8 and in Latin-1."""
    for charset, title in (("-codedcharacterset=utf8", "Größe 灯"), ("", "Größe, old")):
        path = tmp_path / f"{len(title)}.jpg"
        path.write_bytes(jpeg(1))
        subprocess.run(
            ["exiftool", "-q", "-overwrite_original", *([charset] if charset else []),
             f"-IPTC:ObjectName={title}", "-IPTC:Keywords=a", "-IPTC:Keywords=b", "-IPTC:City=Holm",
             "-IPTC:Sub-location=Pier", "-IPTC:Country-PrimaryLocationName=Nord", str(path)],
            check=True,
        )  # fmt: skip
        assert embedded(path.read_bytes()).texts == Texts(
            title, keywords=("a", "b"), location="Pier", city="Holm", country="Nord"
        )
