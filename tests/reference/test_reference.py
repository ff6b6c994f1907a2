"""Winnow's figures against sources and programs outside the project."""

import io
import json
import shutil
import subprocess
from pathlib import Path

import imagehash
import numpy as np
import pytest
import skimage.data
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from winnow.core.frames import Kind
from winnow.core.likeness import difference_hash, to_lab
from winnow.core.sync import FileMark
from winnow.photos.decode import decode
from winnow.photos.metadata import read_mark, with_mark

PROFILES = Path("/usr/share/color/argyll/ref")


@pytest.mark.parametrize("name", ["astronaut", "chelsea", "coffee", "rocket"])
def test_difference_hash_against_imagehash(name: str) -> None:
    """Bit for bit as the package ImageHash, on free photographs in scikit-image."""
    picture = getattr(skimage.data, name)()
    theirs = imagehash.dhash(Image.fromarray(picture)).hash
    assert (np.unpackbits(difference_hash(picture)).reshape(8, 8) == theirs).all()


def test_cielab_against_scikit_image() -> None:
    """CIE 15:2004 through scikit-image's rgb2lab (D65, 2° observer)."""
    picture = skimage.data.coffee()[::7, ::7]
    assert np.abs(to_lab(picture) - skimage.color.rgb2lab(picture)).max() < 0.1


# (200, 100, 50) in each colour space, in sRGB: littlecms and colour-science agree within 1.
@pytest.mark.skipif(not PROFILES.exists(), reason="argyll-ref is not installed")
@pytest.mark.parametrize(
    ("profile", "expected"),
    [
        ("DisplayP3.icm", (215, 93, 31)),
        ("ClayRGB1998.icm", (227, 100, 42)),
        ("sRGB.icm", (200, 100, 50)),
    ],
)
@pytest.mark.parametrize("kind", ["PNG", "TIFF"])
def test_colour_profiles_are_honoured(
    profile: str, expected: tuple[int, int, int], kind: str
) -> None:
    """ICC profiles of Debian's argyll-ref, public domain."""
    out = io.BytesIO()
    Image.new("RGB", (16, 16), (200, 100, 50)).save(
        out, kind, icc_profile=(PROFILES / profile).read_bytes()
    )
    shown = decode(out.getvalue(), Kind(kind), 1, None).pixels[8, 8]
    assert np.abs(shown.astype(int) - expected).max() <= 1


def by_exiftool(path: Path) -> dict[str, object]:
    out = subprocess.run(
        ["exiftool", "-json", "-XMP:all", "-struct", str(path)], capture_output=True, check=True
    )
    found: dict[str, object] = json.loads(out.stdout)[0]
    return found


def by_exiv2(path: Path) -> str:
    return subprocess.run(
        ["exiv2", "-PXkv", str(path)], capture_output=True, text=True, check=True
    ).stdout


needs_readers = pytest.mark.skipif(
    not (shutil.which("exiftool") and shutil.which("exiv2")), reason="the readers are not installed"
)


@needs_readers
@pytest.mark.parametrize(
    "mark",
    [FileMark(-1, "Retouch", None), FileMark(5, "Grün & <灯>", True), FileMark(0, None, False)],
)
def test_independent_programs_read_our_sidecars(tmp_path: Path, mark: FileMark) -> None:
    """exiftool 12.57 and exiv2 0.27.6, both from Debian."""
    path = tmp_path / "QH_1.xmp"
    path.write_bytes(with_mark(None, mark))
    found = by_exiftool(path)
    assert found["Rating"] == mark.rating
    assert found.get("Label") == mark.label
    assert found.get("Good") == mark.good
    listed = by_exiv2(path)
    assert f"Xmp.xmp.Rating {mark.rating}" in " ".join(listed.split())
    if mark.label:
        assert mark.label in listed


@needs_readers
@pytest.mark.parametrize("options", [[], ["-api", "Compact=Shorthand"]])
def test_we_read_sidecars_of_others(tmp_path: Path, options: list[str]) -> None:
    """The same properties written by exiftool as elements and as attributes."""
    path = tmp_path / "QH_1.xmp"
    subprocess.run(
        ["exiftool", "-q", *options, "-XMP-xmp:Rating=-1", "-XMP-xmp:Label=Ünï 灯",
         "-XMP-xmpDM:Good=true", "-XMP-dc:Subject=quay", str(path)],
        check=True,
    )  # fmt: skip
    assert read_mark(path.read_bytes()) == FileMark(-1, "Ünï 灯", True)
    path.write_bytes(with_mark(path.read_bytes(), FileMark(3)))
    found = by_exiftool(path)
    assert (found["Rating"], found["Subject"]) == (3, ["quay"])
    assert "Label" not in found


# XML 1.0 can't hold control characters; everything else must pass.
words = st.text(st.characters(exclude_categories=["Cc", "Cs", "Cn", "Co"]), min_size=1, max_size=30)


@settings(max_examples=60, deadline=None)
@given(st.none() | st.integers(-1, 5), words.map(str.strip).filter(bool), st.none() | st.booleans())
def test_generated_marks_survive_our_own_round_trip(
    rating: int | None, label: str, good: bool | None
) -> None:
    mark = FileMark(rating, label, good)
    assert read_mark(with_mark(None, mark)) == mark
