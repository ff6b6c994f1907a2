"""Pixels of every kind of file, depth and profile, against the values that were stored, brought to
sRGB by the formulas of IEC 61966-2-1 and ISO 15076-1 in floating point. The difference is ΔE00 (CIE
142-2001, by scikit-image)."""

import io
import tempfile
import zipfile
from collections.abc import Callable
from functools import cache
from typing import Any

import imagecodecs
import numpy as np
import pillow_heif
import pillow_jxl  # noqa: F401
import pytest
import skimage.color
import skimage.data
import tifffile
from numpy.typing import NDArray
from PIL import Image, PngImagePlugin
from psd_tools import PSDImage
from psd_tools.constants import Resource
from psd_tools.psd.image_resources import ImageResource

from tests.pictures import with_chunk
from winnow.core.frames import Kind
from winnow.photos import decode, jpegs, pictures, sniff

Real = NDArray[np.float64]
WHITE = (0.3127, 0.3290)
# Chromaticities of red, green and blue, and the exponent; None is sRGB's own curve.
SPACES: dict[str, tuple[tuple[tuple[float, float], ...], float | None]] = {
    "srgb": (((0.64, 0.33), (0.30, 0.60), (0.15, 0.06)), None),
    "linear": (((0.64, 0.33), (0.30, 0.60), (0.15, 0.06)), 1.0),
    "wide": (((0.64, 0.33), (0.21, 0.71), (0.15, 0.06)), 2.19921875),
}


@cache
def natural() -> Real:
    """A free photograph that comes with scikit-image, sRGB in 0…1."""
    return skimage.data.astronaut()[:192, 96:352] / 255


def linear(values: Real) -> Real:
    return np.where(values <= 0.04045, values / 12.92, ((values + 0.055) / 1.055) ** 2.4)


def curved(values: Real) -> Real:
    values = np.clip(values, 0, 1)
    return np.where(values <= 0.0031308, values * 12.92, 1.055 * values ** (1 / 2.4) - 0.055)


def to_xyz(primaries: tuple[tuple[float, float], ...]) -> Real:
    xyz = np.array([[x / y, 1, (1 - x - y) / y] for x, y in (*primaries, WHITE)]).T
    matrix: Real = xyz[:, :3] * np.linalg.solve(xyz[:, :3], xyz[:, 3])
    return matrix


def stored_in(space: str) -> Real:
    """The photograph as values of a colour space, 0…1."""
    primaries, gamma = SPACES[space]
    if gamma is None:
        return natural()
    turn = np.linalg.inv(to_xyz(primaries)) @ to_xyz(SPACES["srgb"][0])
    return np.clip(linear(natural()) @ turn.T, 0, 1) ** (1 / gamma)


def in_srgb(values: Real, space: str) -> Real:
    """Values of a colour space as sRGB, in floating point."""
    primaries, gamma = SPACES[space]
    if gamma is None:
        return values
    turn = np.linalg.inv(to_xyz(SPACES["srgb"][0])) @ to_xyz(primaries)
    return curved(values**gamma @ turn.T)


def profile_of(space: str) -> bytes | None:
    if space == "srgb":
        return None
    primaries, gamma = SPACES[space]
    found: bytes = imagecodecs.cms_profile(
        "rgb",
        whitepoint=[*WHITE, 1.0],
        primaries=[part for primary in primaries for part in (*primary, 1.0)],
        gamma=gamma,
    )
    return found


def quantised(values: Real, depth: str) -> tuple[NDArray[Any], Real]:
    """Values as they are stored, and what these stand for."""
    if depth == "float":
        return values.astype(np.float32), values
    most = 255 if depth == "8" else 65535
    held = np.round(values * most)
    return held.astype(np.uint8 if depth == "8" else np.uint16), held / most


def difference(found: NDArray[np.uint8], wanted: Real) -> float:
    """The mean ΔE00 of two sRGB pictures."""
    labs = (skimage.color.rgb2lab(found / 255), skimage.color.rgb2lab(np.clip(wanted, 0, 1)))
    return float(np.mean(skimage.color.deltaE_ciede2000(*labs)))


def shown(data: bytes, kind: Kind) -> list[NDArray[np.uint8]]:
    """What is seen of a file: at full size, and its preview."""
    preview = pictures.look(data, kind, 1).preview
    return [decode.decode(data, kind, 1, None).pixels, jpegs.rgb_of_jpeg(preview)]


def holds(data: bytes, kind: Kind, wanted: Real) -> None:
    whole, preview = shown(data, kind)
    assert whole.shape == preview.shape == wanted.shape
    assert difference(whole, wanted) <= 2
    # On a picture as small and busy as this one, the preview's own compression costs 1.9.
    assert difference(preview, wanted) <= 2.4


@pytest.mark.parametrize("space", SPACES)
@pytest.mark.parametrize("depth", ["8", "16", "float"])
@pytest.mark.parametrize("planar", ["contig", "separate"])
@pytest.mark.parametrize("compression", [None, "lzw", "deflate"])
def test_tiff(space: str, depth: str, planar: str, compression: str | None) -> None:
    values, meant = quantised(stored_in(space), depth)
    out = io.BytesIO()
    tifffile.imwrite(
        out,
        values if planar == "contig" else np.moveaxis(values, -1, 0),
        photometric="rgb",
        planarconfig=planar,
        compression=compression,
        iccprofile=profile_of(space),
    )
    holds(out.getvalue(), Kind.TIFF, in_srgb(meant, space))


@pytest.mark.parametrize("depth", ["8", "16"])
@pytest.mark.parametrize("photometric", ["minisblack", "miniswhite"])
def test_gray_tiff(depth: str, photometric: str) -> None:
    gray = natural().mean(-1)
    values, meant = quantised(gray if photometric == "minisblack" else 1 - gray, depth)
    meant = meant if photometric == "minisblack" else 1 - meant
    out = io.BytesIO()
    tifffile.imwrite(out, values, photometric=photometric)
    holds(out.getvalue(), Kind.TIFF, np.repeat(meant[..., np.newaxis], 3, -1))


def test_a_tiff_whose_strips_are_webp() -> None:
    values, meant = quantised(natural(), "8")
    out = io.BytesIO()
    tifffile.imwrite(
        out, values, photometric="rgb", compression="webp", compressionargs={"lossless": True}
    )
    holds(out.getvalue(), Kind.TIFF, meant)


def test_a_tiff_of_12_bits() -> None:
    held = np.round(natural() * 4095).astype(np.uint16)
    out = io.BytesIO()
    tifffile.imwrite(out, held, photometric="rgb", bitspersample=12)
    holds(out.getvalue(), Kind.TIFF, held / 4095)


@pytest.mark.parametrize("kind", ["unassalpha", "assocalpha"])
def test_a_tiff_that_lets_see_through_stands_on_white(kind: str) -> None:
    """TIFF 6.0, section 18: with associated alpha, colours are multiplied by it already."""
    values, meant = quantised(natural(), "16")
    if kind == "assocalpha":
        values = values // 2
    out = io.BytesIO()
    stack = np.dstack([values, np.full(values.shape[:2], 0x8000, np.uint16)])
    tifffile.imwrite(out, stack, photometric="rgb", extrasamples=[kind])
    holds(out.getvalue(), Kind.TIFF, meant / 2 + 0.5)


def with_pillow(format_: str, **options: Any) -> Callable[[NDArray[np.uint8], bytes | None], bytes]:
    def write(values: NDArray[np.uint8], profile: bytes | None) -> bytes:
        out = io.BytesIO()
        Image.fromarray(values).save(out, format_, icc_profile=profile or b"", **options)
        return out.getvalue()

    return write


def jxl(values: NDArray[np.uint8], profile: bytes | None) -> bytes:
    """JPEG XL without loss; with a profile, as a JPEG that is packed anew, whose profile it
    keeps."""
    if profile is None:
        return with_pillow("JXL", lossless=True)(values, None)
    out = io.BytesIO()
    with tempfile.NamedTemporaryFile(suffix=".jpg") as file:
        file.write(WRITERS[Kind.JPEG](values, profile))
        file.flush()
        with Image.open(file.name) as image:
            image.save(out, "JXL", lossless_jpeg=True)
    return out.getvalue()


WRITERS = {
    Kind.JPEG: with_pillow("JPEG", quality=97, subsampling=0),
    Kind.PNG: with_pillow("PNG"),
    Kind.HEIC: with_pillow("HEIF", quality=95),
    Kind.WEBP: with_pillow("WEBP", lossless=True),
    Kind.AVIF: with_pillow("AVIF", quality=95, subsampling="4:4:4"),
    Kind.JXL: jxl,
}


@pytest.mark.parametrize("space", SPACES)
@pytest.mark.parametrize("kind", WRITERS)
def test_files_of_8_bits(kind: Kind, space: str) -> None:
    if kind is Kind.HEIC:
        pillow_heif.register_heif_opener()
    # What loses detail is not stored in linear light, whose dark tones 8 bits hold badly.
    lossy = kind in (Kind.JPEG, Kind.HEIC, Kind.AVIF, Kind.JXL)
    if lossy and space == "linear":
        pytest.skip("nobody stores linear light in this")
    values, meant = quantised(stored_in(space), "8")
    holds(WRITERS[kind](values, profile_of(space)), kind, in_srgb(meant, space))


@pytest.mark.parametrize("space", SPACES)
def test_png_of_16_bits(space: str) -> None:
    values, meant = quantised(stored_in(space), "16")
    data = bytes(imagecodecs.png_encode(values))
    profile = profile_of(space)
    if profile:
        data = with_chunk(data, b"iCCP", b"x\0\0" + imagecodecs.zlib_encode(profile))
    holds(data, Kind.PNG, in_srgb(meant, space))


@pytest.mark.parametrize("depth", ["8", "16"])
def test_a_png_that_states_its_gamma_alone(depth: str) -> None:
    values, meant = quantised(natural() ** 1.5, depth)
    data = with_chunk(bytes(imagecodecs.png_encode(values)), b"gAMA", (66_667).to_bytes(4, "big"))
    # An exponent of 1.5 for sRGB's primaries: the values are light to the power of 0.667.
    holds(data, Kind.PNG, curved(meant**1.5))


def test_a_png_that_states_srgbs_gamma_is_srgb() -> None:
    values, _ = quantised(natural(), "8")
    data = with_chunk(bytes(imagecodecs.png_encode(values)), b"gAMA", (45_455).to_bytes(4, "big"))
    np.testing.assert_array_equal(decode.decode(data, Kind.PNG, 1, None).pixels, values)


def test_a_png_with_very_long_texts() -> None:
    values, meant = quantised(natural(), "8")
    info = PngImagePlugin.PngInfo()
    for n in range(8):
        info.add_text(f"settings {n}", "a long note " * 400_000, zip=True)
    out = io.BytesIO()
    Image.fromarray(values).save(out, "PNG", pnginfo=info)
    holds(out.getvalue(), Kind.PNG, meant)


def test_a_gray_jpeg_with_a_profile() -> None:
    gray = natural().mean(-1)
    values, meant = quantised(linear(gray) ** (1 / 1.8), "8")
    profile: bytes = imagecodecs.cms_profile("gray", whitepoint=[0.3457, 0.3585, 1.0], gamma=1.8)
    data = with_pillow("JPEG", quality=97)(values, profile)
    holds(data, Kind.JPEG, np.repeat(curved(meant**1.8)[..., np.newaxis], 3, -1))


def test_the_flat_picture_of_layered_files() -> None:
    values, meant = quantised(natural(), "8")
    out = io.BytesIO()
    PSDImage.frompil(Image.fromarray(values)).save(out)
    holds(out.getvalue(), Kind.PSD, meant)
    deep, deep_meant = quantised(stored_in("wide"), "16")
    for version in (1, 2):
        layered = PSDImage.new("RGB", deep.shape[1::-1], depth=16)
        record = layered._record
        record.header.version = version
        planes = [np.ascontiguousarray(deep[..., n]).astype(">u2").tobytes() for n in range(3)]
        record.image_data.set_data(planes, record.header)
        profile = profile_of("wide") or b""
        layered.image_resources[Resource.ICC_PROFILE] = ImageResource(
            key=Resource.ICC_PROFILE, data=profile
        )
        out = io.BytesIO()
        layered.save(out)
        assert out.getvalue()[5] == version
        holds(out.getvalue(), Kind.PSD, in_srgb(deep_meant, "wide"))
    png = WRITERS[Kind.PNG](values, None)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr("mimetype", "image/openraster")
        archive.writestr("mergedimage.png", png)
    assert sniff.sniff(out.getvalue()[:64]) is Kind.ORA
    holds(out.getvalue(), Kind.ORA, meant)
