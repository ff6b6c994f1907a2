"""Small files that say they are huge: what they may take, and that large sound pictures are
shown."""

import io
from pathlib import Path

import numpy as np
import pytest
import tifffile
from PIL import Image

from tests import soak
from tests.photos import bombs
from tests.pictures import scene
from winnow.core.frames import Kind
from winnow.photos import bounds, planes
from winnow.photos.bounds import PictureError
from winnow.photos.decode import decode
from winnow.photos.jpegs import browser_can_show, cut
from winnow.photos.picture import Picture
from winnow.photos.pictures import look

EVERY = 1 if soak.TIMES >= 50 else 12
MOST_MB, MOST_S = 2_000, 30


@pytest.mark.soak
def test_no_picture_takes_all_of_the_memory_or_the_time(tmp_path: Path) -> None:
    """Each in a process of its own; see bombs.py."""
    read, shown, memory, tenths = soak.run(Path(bombs.__file__), tmp_path, EVERY)
    assert read == len(range(0, len(bombs.BOMBS), EVERY)) + len(range(0, len(bombs.SOUND), EVERY))
    assert shown >= 1
    assert memory < MOST_MB
    # Time says something where nothing else runs.
    assert tenths < 10 * MOST_S or EVERY > 1


@pytest.mark.parametrize(
    "name",
    [
        "a size only, 16 bits.tif",
        "sixty thousand samples.tif",
        "a size only.heic",
        "a size only.png",
    ],
)
def test_what_would_take_too_much_is_refused_by_what_it_says(name: str) -> None:
    kind = {"tif": Kind.TIFF, "heic": Kind.HEIC, "png": Kind.PNG}[name.rpartition(".")[2]]
    with pytest.raises(PictureError, match="more memory than one picture may"):
        decode(bombs.BOMBS[name](), kind, 1, 512)


def test_scans_without_end_are_counted_before_they_are_made() -> None:
    data = bombs.scans(4_000, 4_000, 700)
    with pytest.raises(PictureError, match="goes over its picture 709 times"):
        decode(data, Kind.JPEG, 1, 512)
    with pytest.raises(PictureError, match="goes over"):
        planes.read(data)
    # A sound progressive picture has ten of them (libjpeg's standard script for YCbCr).
    sound = bombs.saved(scene(1, 640, 480), "JPEG", progressive=True)
    assert sound.count(b"\xff\xda") == 10
    assert planes.read(sound) is not None


@pytest.mark.parametrize("mode", ["RGB", "RGBA", "L", "P", "CMYK", "I;16"])
def test_a_large_picture_is_the_same_smaller(mode: str, monkeypatch: pytest.MonkeyPatch) -> None:
    picture = scene(5, 640, 480)
    if mode == "I;16":
        image = Image.fromarray(np.asarray(picture.convert("L")).astype(np.uint16) * 257)
    else:
        image = picture.convert(mode)
        if mode == "RGBA":
            image.putalpha(Image.linear_gradient("L").resize(image.size))
    data = bombs.saved(image, "TIFF") if mode in ("CMYK", "I;16") else bombs.saved(image, "PNG")
    kind = Kind.TIFF if mode in ("CMYK", "I;16") else Kind.PNG
    # TIFFs are turned by their reader.
    orientation = 1 if kind is Kind.TIFF else 6
    usual = decode(data, kind, orientation, 160)
    monkeypatch.setattr(bounds, "LARGE_PIXELS", 1000)
    monkeypatch.setattr("winnow.photos.decode._STRIP_PX", 640 * 50)
    large = decode(data, kind, orientation, 160)
    assert large.pixels.shape == usual.pixels.shape
    assert (large.width, large.height) == (usual.width, usual.height)
    assert np.abs(large.pixels.astype(int) - usual.pixels).mean() < 3


@pytest.mark.parametrize("kind", [Kind.PNG, Kind.JPEG, Kind.TIFF])
def test_what_can_not_be_held_at_its_own_size_is_said_to_be_less(
    kind: Kind, monkeypatch: pytest.MonkeyPatch
) -> None:
    if kind is Kind.TIFF:
        deep = io.BytesIO()
        values = np.asarray(scene(5, 640, 480)).astype(np.uint16) * 257
        tifffile.imwrite(deep, values, photometric="rgb")
        data = deep.getvalue()
    else:
        data = bombs.saved(scene(5, 640, 480), kind.name)
    assert look(data, kind, 1).close_from == "file"
    monkeypatch.setattr(bounds, "LARGE_PIXELS", 70_000)
    monkeypatch.setattr(bounds, "_HELD_PIXELS", 100_000)
    held = decode(data, kind, 1, None)
    assert held.pixels.shape == (240, 320, 3)
    assert (held.width, held.height) == (640, 480)
    seen = look(data, kind, 1)
    assert seen.close_from == "reduced"
    assert (seen.width, seen.height) == (640, 480)
    assert not browser_can_show(data)


def test_a_part_of_a_very_wide_picture_is_cut() -> None:
    """OpenCV warps no picture of more than 32,767 px."""
    pixels = np.zeros((8, 40_000, 3), np.uint8)
    pixels[:, :, 0] = np.arange(40_000) // 200
    picture = Picture(pixels, 80_000, 16)
    for scale in (1, 2):
        part = cut(picture, 60_000, 0, 400, 16, scale)
        assert part is not None
        assert part.shape == (16 * scale, 400 * scale, 3)
        assert abs(int(part[4, 10 * scale, 0]) - 30_005 // 200) <= 1
        assert abs(int(part[4, 390 * scale, 0]) - 30_195 // 200) <= 1
    inside = cut(picture, 79_900, 0, 400, 16, 1)
    assert inside is not None
    assert inside.shape == (16, 100, 3)
