"""One look at a file: preview, thumbnail, size and figures, whatever the kind and the colours."""

import io
from pathlib import Path

import numpy as np
import pytest
import tifffile
from PIL import Image, ImageCms

from tests.photos.test_decode import heic, quadrants, saved
from tests.pictures import dng, jpeg, scene
from winnow.core.frames import Kind
from winnow.core.measure import focus_map
from winnow.core.measure.likeness import to_lab
from winnow.photos import colour, pictures, planes
from winnow.photos.bounds import PictureError

PROFILES = Path("/usr/share/color/argyll/ref")
needs_profiles = pytest.mark.skipif(not PROFILES.exists(), reason="argyll-ref is not installed")


def shown(data: bytes) -> np.ndarray:
    with Image.open(io.BytesIO(data)) as image:
        return np.asarray(image.convert("RGB"))


@pytest.mark.parametrize("orientation", range(1, 9))
@pytest.mark.parametrize("sampling", [0, 1, 2])
def test_planes_are_turned_like_everything_else(orientation: int, sampling: int) -> None:
    data = saved(quadrants(640, 480), "JPEG", quality=95, subsampling=sampling)
    seen = pictures.look(data, Kind.JPEG, orientation)
    assert (seen.width, seen.height) == ((480, 640) if orientation >= 5 else (640, 480))
    wanted = planes.upright(np.asarray(quadrants(640, 480)), orientation)
    for made in (seen.preview, seen.thumbnail):
        found = shown(made)
        h, w = found.shape[:2]
        for y, x in ((0.25, 0.25), (0.25, 0.75), (0.75, 0.25), (0.75, 0.75)):
            expected = wanted[int(y * wanted.shape[0]), int(x * wanted.shape[1])].astype(int)
            assert np.abs(found[int(y * h), int(x * w)] - expected).max() < 12


@pytest.mark.parametrize(
    ("size", "preview", "thumbnail"),
    [
        ((5000, 3333), (2048, 1364), (512, 340)),
        ((3001, 2001), (2048, 1364), (512, 340)),
        ((1919, 1281), (1916, 1280), (512, 342)),
        ((300, 200), (300, 200), (300, 200)),
        ((9, 7), (8, 4), (8, 4)),
    ],
)
def test_sizes(size: tuple[int, int], preview: tuple[int, int], thumbnail: tuple[int, int]) -> None:
    seen = pictures.look(saved(scene(1, *size), "JPEG"), Kind.JPEG, 1)
    assert (seen.width, seen.height) == size
    assert shown(seen.preview).shape[1::-1] == preview
    assert shown(seen.thumbnail).shape[1::-1] == thumbnail


def test_a_preview_is_the_picture() -> None:
    original = scene(4, 4400, 2900)
    found = shown(pictures.look(saved(original, "JPEG", quality=95), Kind.JPEG, 1).preview)
    wanted = np.asarray(original.resize(found.shape[1::-1], Image.Resampling.BOX), int)
    assert np.abs(found - wanted).mean() < 2


@pytest.mark.parametrize("orientation", [1, 6])
def test_brightness_alone_is_that_of_the_whole(
    orientation: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    data = jpeg(3, 640, 400)
    whole = planes.read(data)
    assert whole is not None
    wanted = planes.upright(whole.luma, orientation)
    found = pictures.full_size_luma(data, Kind.JPEG, orientation)
    assert found is not None
    assert np.array_equal(found, wanted)
    raw = pictures.full_size_luma(dng(data), Kind.RAW, orientation)
    assert raw is not None
    assert raw.shape == wanted.shape
    monkeypatch.setattr(planes, "_turbo", lambda: None)
    slowly = pictures.full_size_luma(data, Kind.JPEG, orientation)
    assert slowly is not None
    assert np.abs(slowly.astype(int) - wanted).max() <= 2


def test_brightness_of_what_decodes_slowly_or_not_at_all_is_not_had() -> None:
    png = saved(scene(1, 300, 200), "PNG")
    assert pictures.full_size_luma(png, Kind.PNG, 1) is None
    assert pictures.full_size_luma(png, Kind.JPEG, 1) is None
    assert pictures.full_size_luma(b"\xff\xd8 not a picture", Kind.JPEG, 1) is None
    with pytest.raises(PictureError):
        pictures.full_size_luma(b"not a picture", Kind.RAW, 1)


def test_without_the_library_it_is_the_same_picture(monkeypatch: pytest.MonkeyPatch) -> None:
    data = jpeg(3, 1600, 1000)
    quick = pictures.look(data, Kind.JPEG, 6)
    monkeypatch.setattr(planes, "_turbo", lambda: None)
    slow = pictures.look(data, Kind.JPEG, 6)
    apart = np.abs(shown(quick.preview).astype(int) - shown(slow.preview))
    assert apart.mean() < 1
    assert slow.figures.likeness[:8] == quick.figures.likeness[:8]


def delta_e(one: np.ndarray, other: np.ndarray) -> float:
    """Mean CIE 1976 colour difference."""
    return float(np.linalg.norm(to_lab(one) - to_lab(other), axis=-1).mean())


@needs_profiles
@pytest.mark.parametrize("profile", ["DisplayP3.icm", "ClayRGB1998.icm", "Rec2020.icm", "sRGB.icm"])
@pytest.mark.parametrize("kind", ["JPEG", "TIFF", "PNG"])
def test_wide_colours_within_delta_e_2_of_littlecms(profile: str, kind: str) -> None:
    """ICC profiles of Debian's argyll-ref (public domain); littlecms through Pillow."""
    icc = (PROFILES / profile).read_bytes()
    original = scene(5, 800, 600)
    options = {"quality": 97, "subsampling": 0} if kind == "JPEG" else {}
    data = saved(original, kind, icc_profile=icc, **options)
    wanted = ImageCms.profileToProfile(
        original, ImageCms.ImageCmsProfile(io.BytesIO(icc)), ImageCms.createProfile("sRGB"),
        ImageCms.Intent.RELATIVE_COLORIMETRIC, flags=ImageCms.Flags.BLACKPOINTCOMPENSATION,
    )  # fmt: skip
    found = shown(pictures.look(data, Kind(kind), 1).preview)
    assert delta_e(found, np.asarray(wanted)) < 2


@needs_profiles
def test_the_optional_space_is_the_published_one() -> None:
    """DCF 2.0's chromaticities against the equal profile of argyll-ref."""
    theirs = (PROFILES / "ClayRGB1998.icm").read_bytes()
    picture = scene(6, 200, 150)
    ours = np.asarray(colour.to_srgb(picture, colour.optional_profile()))
    assert delta_e(ours, np.asarray(colour.to_srgb(picture, theirs))) < 0.3
    data = saved(Image.new("RGB", (64, 64), (200, 100, 50)), "JPEG", quality=97)
    plain = shown(pictures.look(data, Kind.JPEG, 1).preview)[30, 30].astype(int)
    wide = shown(pictures.look(data, Kind.JPEG, 1, True).preview)[30, 30].astype(int)
    assert np.abs(plain - (200, 100, 50)).max() <= 3
    assert np.abs(wide - (227, 100, 42)).max() <= 4


def ramp() -> np.ndarray:
    return np.tile(np.linspace(0, 255, 256).astype(np.uint8), (200, 1))


@pytest.mark.parametrize("mode", ["L", "P", "CMYK", "RGBA", "I;16", "rgb16"])
def test_every_mode_becomes_the_same_ramp(mode: str) -> None:
    grey = Image.fromarray(ramp())
    if mode == "I;16":
        data, kind = saved(Image.fromarray(ramp().astype(np.uint16) * 257), "TIFF"), Kind.TIFF
    elif mode == "rgb16":
        out = io.BytesIO()
        tifffile.imwrite(out, np.repeat(ramp()[..., None].astype(np.uint16) * 257, 3, 2))
        data, kind = out.getvalue(), Kind.TIFF
    elif mode in ("L", "CMYK"):
        data, kind = saved(grey.convert(mode), "JPEG", quality=95), Kind.JPEG
    else:
        other = grey.quantize(256) if mode == "P" else grey.convert("RGB").convert(mode)
        data, kind = saved(other, "PNG"), Kind.PNG
    found = shown(pictures.look(data, kind, 1).preview).astype(int)
    assert np.abs(found - ramp()[..., None]).mean() < 3


def test_heic_and_png_are_measured_like_a_jpeg() -> None:
    sharp = Image.fromarray(np.asarray(scene(2, 800, 600).convert("RGB"))).copy()
    sharp.paste((250, 250, 250), (200, 150, 500, 450))
    figures = []
    for data, kind in (
        (saved(sharp, "JPEG", quality=95), Kind.JPEG),
        (saved(sharp, "PNG"), Kind.PNG),
        (heic(sharp), Kind.HEIC),
    ):
        found = focus_map.figure_at(pictures.look(data, kind, 1).focus, 350, 300, 300)
        assert found
        figures.append(found.blur)
    assert max(figures) < 1.0


def test_a_damaged_file_is_shown_as_far_as_it_goes() -> None:
    data = jpeg(1, 1200, 800)
    seen = pictures.look(data[: len(data) // 2], Kind.JPEG, 1)
    assert "damaged" in seen.notices[0]
    assert shown(seen.preview)[:100].std() > 1
    with pytest.raises(PictureError, match="not a readable"):
        pictures.look(b"\xff\xd8\xff\xe0rubbish", Kind.JPEG, 1)


def test_a_raw_file_says_where_its_pixels_come_from() -> None:
    large = saved(quadrants(1600, 1200), "JPEG", quality=95, subsampling=2)
    seen = pictures.look(dng(large, orientation=6), Kind.RAW, 6)
    assert (seen.shown_from, seen.close_from) == ("embedded", "embedded")
    assert (seen.width, seen.height) == (1200, 1600)
    tiny = pictures.look(dng(saved(quadrants(24, 18), "JPEG")), Kind.RAW, 1)
    assert (tiny.shown_from, tiny.close_from) == ("developed", "developed")
    # A preview fit for the sheet, but less than half of the sensor: 100 % needs a development.
    middling = saved(quadrants(1200, 900), "JPEG", quality=95, subsampling=2)
    small = pictures.look(dng(middling, 2600, 1950), Kind.RAW, 1)
    assert (small.shown_from, small.close_from) == ("embedded", "developed")
    assert (small.width, small.height) == (2600, 1950)
    assert small.focus.cell == pytest.approx(16 * 2600 / 1200)


def test_figures_again_from_the_preview() -> None:
    seen = pictures.look(jpeg(2, 3000, 2000), Kind.JPEG, 1)
    again = pictures.figures_of_preview(seen.preview)
    assert again.exposure.brightness_ev == pytest.approx(
        seen.figures.exposure.brightness_ev, abs=0.02
    )
    assert again.likeness[:8] == seen.figures.likeness[:8]


@pytest.mark.parametrize("ending", ["jpg", "png"])
@pytest.mark.parametrize("size", [(1, 1), (3, 160), (160, 2), (4, 4), (5, 7), (9, 300)])
def test_the_smallest_pictures_are_shown(size: tuple[int, int], ending: str) -> None:
    out = io.BytesIO()
    Image.new("RGB", size, (200, 10, 10)).save(out, "JPEG" if ending == "jpg" else "PNG")
    kind = Kind.JPEG if ending == "jpg" else Kind.PNG
    seen = pictures.look(out.getvalue(), kind, 6)
    assert (seen.width, seen.height) == size[::-1]
    assert np.isnan(seen.focus.blur).all()
    assert focus_map.blur_of(seen.focus) == focus_map.MOST
    assert focus_map.unpack(focus_map.pack(seen.focus)).blur.shape == seen.focus.blur.shape
