"""Decoding: every kind of file upright and in sRGB, damaged and hostile ones with a reason."""

import base64
import io

import numpy as np
import pillow_heif
import pytest
import tifffile
from PIL import Image

from tests.pictures import dng, huge_png, jpeg, scene
from winnow.core.frames import Kind
from winnow.photos import pictures
from winnow.photos.bounds import PictureError
from winnow.photos.decode import decode
from winnow.photos.jpegs import browser_can_show, encode_jpeg, upright_thumbnail
from winnow.photos.picture import shrink
from winnow.photos.sniff import sniff

ARITHMETIC = (
    "/9j/4AAQSkZJRgABAQAAAQABAAD/2wBDAA0JCgsKCA0LCgsODg0PEyAVExISEyccHhcgLikxMC4pLSwzOko+MzZG"
    "NywtQFdBRkxOUlNSMj5aYVpQYEpRUk//2wBDAQ4ODhMREyYVFSZPNS01T09PT09PT09PT09PT09PT09PT09PT09P"
    "T09PT09PT09PT09PT09PT09PT09PT09PT0//yQARCAAYACADASIAAhEBAxEB/8wACgAQEAUBEBEF/9oADAMBAAIR"
    "AxEAPwDSUsvIY5PN+MHMegRC7dq8m5t1OINIHaBUMCXFA7hvmLqXsMpvgE88Sxa5p8mmkzq6g5NeTFCNAyYn2ZwV"
    "YL2cd8VyrB+8OPLfriXR+KTdtsperrmE/wCXgNnm1CBd7cPV+IQBdU4d9V3yqzu83MT2uqphonrI378TRyqHSWGc"
    "fQVYVHA6zRkuuZaam/0wXWjm7hEfYTDubWoyG5HmEwGJLSSMqhN6LyvDNi81xjcd1SXFDD1AjvwckBod9QU2LCZJ"
    "oQv717a3l+WPl1NDSnKLXsNNJv058tULlvd+ENuuIP/Z"
)


def saved(image: Image.Image, kind: str, **options: object) -> bytes:
    out = io.BytesIO()
    image.save(out, kind, **options)
    return out.getvalue()


def quadrants(width: int = 64, height: int = 48) -> Image.Image:
    """Red, green, blue and white corners, to see which way is up."""
    pixels = np.zeros((height, width, 3), np.uint8)
    pixels[: height // 2, : width // 2] = (255, 0, 0)
    pixels[: height // 2, width // 2 :] = (0, 255, 0)
    pixels[height // 2 :, : width // 2] = (0, 0, 255)
    pixels[height // 2 :, width // 2 :] = 255
    return Image.fromarray(pixels)


# Which corner of the stored picture is at the upper left when shown (Exif 2.32, tag Orientation).
UPPER_LEFT = {
    1: "red",
    2: "green",
    3: "white",
    4: "blue",
    5: "red",
    6: "blue",
    7: "white",
    8: "green",
}
COLOURS = {"red": (255, 0, 0), "green": (0, 255, 0), "blue": (0, 0, 255), "white": (255, 255, 255)}


@pytest.mark.parametrize("orientation", range(1, 9))
def test_every_orientation_is_shown_upright(orientation: int) -> None:
    data = saved(quadrants(), "PNG")
    picture = decode(data, Kind.PNG, orientation, None)
    assert (picture.width, picture.height) == ((48, 64) if orientation >= 5 else (64, 48))
    assert picture.pixels.shape == (picture.height, picture.width, 3)
    assert tuple(picture.pixels[2, 2]) == COLOURS[UPPER_LEFT[orientation]]


@pytest.mark.parametrize("kind", ["JPEG", "PNG", "TIFF", "HEIC"])
def test_kinds(kind: str) -> None:
    original = scene(3, 640, 400)
    if kind == "HEIC":
        data = heic(original)
        assert sniff(data) is Kind.HEIC
    else:
        data = saved(original, kind)
    picture = decode(data, Kind(kind), 1, 320)
    assert picture.pixels.shape == (200, 320, 3)
    assert (picture.width, picture.height) == (640, 400)
    expected = np.asarray(original.resize((320, 200), Image.Resampling.BOX), np.int16)
    assert np.abs(picture.pixels.astype(np.int16) - expected).mean() < 4


def heic(image: Image.Image) -> bytes:
    out = io.BytesIO()
    pillow_heif.from_pillow(image).save(out, quality=90)
    return out.getvalue()


def test_a_heic_is_turned_once_only() -> None:
    # Its decoder turns it; the value in the metadata must not turn it again.
    picture = decode(heic(quadrants()), Kind.HEIC, 6, None)
    assert (picture.width, picture.height) == (64, 48)


def test_a_broken_heic_says_so() -> None:
    with pytest.raises(PictureError, match="HEIC"):
        decode(heic(quadrants())[:60], Kind.HEIC, 1, None)


@pytest.mark.parametrize("mode", ["L", "P", "1", "RGBA", "LA", "CMYK", "I;16"])
def test_modes_become_srgb(mode: str) -> None:
    grey = np.full((20, 30), 200, np.uint8)
    if mode == "I;16":
        image = Image.fromarray((grey.astype(np.uint16) << 8) + 200)
    else:
        image = Image.fromarray(grey).convert("RGB").convert(mode)
    kind = "JPEG" if mode == "CMYK" else "TIFF" if mode == "I;16" else "PNG"
    pixels = decode(saved(image, kind), Kind(kind), 1, None).pixels
    assert pixels.shape == (20, 30, 3)
    allowed = 56 if mode == "1" else 4
    assert np.abs(pixels.astype(int).mean() - 200) < allowed


def test_transparency_is_shown_on_white() -> None:
    clear = Image.new("RGBA", (4, 4), (0, 0, 0, 0))
    assert (decode(saved(clear, "PNG"), Kind.PNG, 1, None).pixels == 255).all()


def test_a_cut_off_jpeg_shows_what_there_is() -> None:
    data = jpeg(1)
    picture = decode(data[: len(data) * 2 // 3], Kind.JPEG, 1, 320)
    assert "damaged" in picture.notices[0]
    assert picture.pixels[:20].std() > 0


def test_the_content_has_the_last_word_on_the_kind() -> None:
    picture = decode(saved(scene(1), "PNG"), Kind.JPEG, 1, None)
    assert picture.notices == ("The name says JPEG, but the file is PNG.",)


@pytest.mark.parametrize(
    ("data", "kind", "words"),
    [
        (b"", Kind.JPEG, "empty"),
        (b"these are words", Kind.JPEG, "not a readable JPEG"),
        (b"\xff\xd8\xff\xe0rubbish", Kind.JPEG, "not a readable JPEG"),
        (b"II*\0" + bytes(40), Kind.RAW, "raw file can’t be read"),
        (jpeg(1)[:400], Kind.JPEG, "readable JPEG"),
    ],
)
def test_what_cannot_be_read_says_why(data: bytes, kind: Kind, words: str) -> None:
    with pytest.raises(PictureError, match=words):
        decode(data, kind, 1, None)


def test_a_picture_bomb_is_refused_before_it_is_unpacked() -> None:
    with pytest.raises(PictureError, match=r"40,000 × 40,000 px. Winnow shows up to 400"):
        decode(huge_png(40_000), Kind.PNG, 1, 2048)


def test_a_picture_that_is_a_line_is_refused_in_words() -> None:
    with pytest.raises(PictureError, match=r"3,990,000 px"):
        decode(saved(Image.new("L", (1, 3_990_000)), "PNG"), Kind.PNG, 1, 2048)


def test_raw_shows_its_own_preview_turned_as_the_container_says() -> None:
    data = dng(saved(quadrants(1600, 1200), "JPEG", quality=95, subsampling=2), orientation=6)
    picture = decode(data, Kind.RAW, 6, 512)
    assert picture.pixels.shape == (512, 384, 3)
    assert (picture.width, picture.height) == (1200, 1600)
    assert np.abs(picture.pixels[20, 20].astype(int) - (0, 0, 255)).max() < 30
    assert picture.notices == ()


def test_raw_without_a_useful_preview_is_developed() -> None:
    picture = decode(dng(saved(quadrants(24, 18), "JPEG")), Kind.RAW, 1, None)
    assert picture.source == "developed"
    assert picture.pixels.shape == (24, 32, 3)
    assert (picture.width, picture.height) == (64, 48)


def test_a_raw_file_whose_own_data_is_bad_shows_its_largest_preview() -> None:
    small, large = (saved(quadrants(w, w * 3 // 4), "JPEG", quality=95) for w in (160, 1200))
    lossless = b"\xff\xd8\xff\xc3\0\x0b\x08\x10\0\x10\0\1\1\x11\0\xff\xda\0\0"
    data = b"II*\0" + bytes(60) + small + lossless + large + bytes(1000)
    picture = decode(data, Kind.RAW, 6, None)
    assert (picture.width, picture.height) == (900, 1200)
    assert picture.source == "embedded"
    assert "preview that the file holds" in picture.notices[0]
    seen = pictures.look(data, Kind.RAW, 6)
    assert (seen.width, seen.height, seen.shown_from) == (900, 1200, "embedded")
    assert seen.notices == picture.notices


def test_embedded_thumbnails_lose_their_bars_and_are_turned() -> None:
    boxed = Image.new("RGB", (160, 120))
    boxed.paste(quadrants(160, 107), (0, 6))
    made = upright_thumbnail(saved(boxed, "JPEG", quality=95), 6, 1.5)
    assert made is not None
    with Image.open(io.BytesIO(made)) as image:
        assert image.size == (106, 160)
        assert np.asarray(image)[3, 3, 2] > 200
    assert upright_thumbnail(b"rubbish", 1, 1.5) is None


def test_which_files_a_page_can_show_as_they_are() -> None:
    assert browser_can_show(jpeg(1))
    assert not browser_can_show(saved(scene(1).convert("CMYK"), "JPEG"))
    assert not browser_can_show(saved(scene(1), "PNG"))
    # In arithmetic code, which browsers don't read (made with jpegtran of libjpeg-turbo): shown as
    # Winnow decodes it.
    coded = base64.b64decode(ARITHMETIC)
    assert not browser_can_show(coded)
    assert decode(coded, Kind.JPEG, 1, None).pixels.mean() > 50


def test_shrinking_bounds_the_long_edge_and_never_enlarges() -> None:
    small = shrink(np.asarray(scene(1)), 100)
    with Image.open(io.BytesIO(encode_jpeg(small, 80))) as image:
        assert image.size == (100, 67)
    assert shrink(small, 200).shape == small.shape


def test_grey_that_was_multiplied_by_its_see_through_is_shown_on_white() -> None:
    """TIFF 6.0, section 18: associated alpha."""
    pixels = np.zeros((8, 8, 2), np.uint8)
    pixels[..., 0], pixels[..., 1] = 64, 128
    out = io.BytesIO()
    tifffile.imwrite(out, pixels, photometric="minisblack", extrasamples=["assocalpha"])
    picture = decode(out.getvalue(), Kind.TIFF, 1, None)
    # Half of a grey of 128, and half of white.
    assert picture.pixels[4, 4] == pytest.approx(191, abs=2)
