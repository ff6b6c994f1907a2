"""Pictures that hold more than 8 bits a sample, or are stored in ways of their own: TIFF, PNG and
layered files."""

from __future__ import annotations

import io
import logging
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Final

import cv2
import numpy as np
from numpy.typing import NDArray
from PIL import Image

from winnow.core.frames import Kind
from winnow.photos import colour

log = logging.getLogger(__name__)

Values = NDArray[Any]
# Of TIFF 6.0, section 8 (PhotometricInterpretation).
_MODES: Final = {0: "L", 1: "L", 2: "RGB", 5: "CMYK"}
_MIN_IS_WHITE: Final = 0
_FLOAT_SAMPLES: Final = 3
_ASSOCIATED: Final = 1  # of section 18 (ExtraSamples)
# The kinds of compression that Pillow's own library undoes.
_USUAL_COMPRESSION: Final = (1, 2, 3, 4, 5, 6, 7, 8, 32773, 32946, 34925, 50000)
_FEW_STRIPS: Final = 4
_CHANNELS: Final = {"L": 1, "RGB": 3, "CMYK": 4}


@dataclass(frozen=True, slots=True)
class Deep:
    """A picture before its values are read.

    ``values`` gives them: (h, w, channels), and then an opacity if there is one; unsigned, or
    floating in 0…1. ``mode``: L, RGB or CMYK. ``profile``: ICC. ``pixel_bytes``: what reading a
    pixel takes, with the copies that are made for it. ``multiplied``: the values are multiplied by
    the opacity already.
    """

    width: int
    height: int
    mode: str
    profile: bytes | None
    values: Callable[[], Values]
    pixel_bytes: int
    multiplied: bool = False


def opened(data: bytes, kind: Kind, image: Image.Image | None) -> Deep | None:
    """Open a picture of this kind that Pillow opened as ``image``, or could not open; None where
    that does."""
    try:
        if kind is Kind.TIFF and (image is None or _is_odd_tiff(image)):
            return _tiff(data)
        if kind is Kind.PNG and image is not None and _is_deep_png(data, image):
            return _png(data, image)
        if kind is Kind.PSD and image is None:
            return _layered(data)
    except Exception as error:
        # Whatever a reader raises on strange data: Pillow, or the person, has the last word.
        log.info("read in another way, since: %s", error)
    return None


def to_srgb(deep: Deep, longest: int | None, assumed: bytes | None) -> NDArray[np.uint8]:
    """Read the values and bring them to 8-bit sRGB (h, w, 3), on white where they let see through.

    ``assumed``: the profile of RGB values that have none. Raises what the reader raises.
    """
    values = _plain(deep.values())
    if values.shape[:2] != (deep.height, deep.width) or values.ndim != 3:
        raise ValueError("its size is not what it says")
    if longest and max(values.shape[:2]) > longest:
        scale = longest / max(values.shape[:2])
        size = (max(1, round(values.shape[1] * scale)), max(1, round(values.shape[0] * scale)))
        values = cv2.resize(values, size, interpolation=cv2.INTER_AREA)
        values = values if values.ndim == 3 else values[..., np.newaxis]
    channels = _CHANNELS[deep.mode]
    opacity = values[..., channels : channels + 1]
    if deep.multiplied and opacity.shape[-1]:
        values = _divided(values, opacity)
    profile = deep.profile or (assumed if deep.mode == "RGB" else None)
    pixels = colour.deep_to_srgb(np.ascontiguousarray(values[..., :channels]), deep.mode, profile)
    if not opacity.shape[-1]:
        return pixels
    share = opacity.astype(np.float32) / _most(values)
    return np.asarray(pixels * share + 255 * (1 - share) + 0.5, np.uint8)


def _plain(values: Values) -> NDArray[Any]:
    """Values in the machine's byte order, 8 or 16 bits or floating in 0…1, shape (h, w,
    channels)."""
    if values.ndim == 2:
        values = values[..., np.newaxis]
    if values.dtype == bool:
        return values.astype(np.uint8) * np.uint8(255)
    if np.issubdtype(values.dtype, np.floating):
        real = np.nan_to_num(values.astype(np.float32), posinf=0, neginf=0)
        largest = float(real.max(initial=0))
        # Most say 0…1. What is far above counts something: the largest is white then.
        return np.clip(real / largest if largest > 2 else real, 0, 1)
    if values.dtype.itemsize > 2:
        # 32-bit integers that hold 16 bits, or all of their range.
        largest = int(values.max(initial=0))
        return np.clip(values.astype(np.float64) / (65535 if largest < 65536 else largest), 0, 1)
    if np.issubdtype(values.dtype, np.signedinteger):
        values = np.clip(values, 0, None).astype(np.uint16)
    return values.astype(values.dtype.newbyteorder("="), copy=False)


def _divided(values: NDArray[Any], opacity: NDArray[Any]) -> NDArray[Any]:
    """Values without the opacity that they were multiplied by; of what lets all through, nothing is
    left to know."""
    most = _most(values)
    share = np.maximum(opacity.astype(np.float32) / most, 1e-6)
    return np.asarray(np.clip(values / share, 0, most), values.dtype)


def _most(values: NDArray[Any]) -> float:
    """What the largest value stands for."""
    return float(np.iinfo(values.dtype).max) if np.issubdtype(values.dtype, np.integer) else 1.0


def _is_odd_tiff(image: Image.Image) -> bool:
    tags: dict[int, Any] = dict(getattr(image, "tag_v2", {}))
    bits = tags.get(258, (1,))
    formats = tags.get(339, (1,))
    deep = any(depth not in (1, 8) for depth in (bits if isinstance(bits, tuple) else (bits,)))
    real = _FLOAT_SAMPLES in (formats if isinstance(formats, tuple) else (formats,))
    packed = tags.get(259, 1) not in _USUAL_COMPRESSION
    # What has a palette, CIELAB or YCbCr is Pillow's.
    return tags.get(262) in _MODES and (deep or real or packed)


def _tiff(data: bytes) -> Deep | None:
    # It takes a third of a second to load, and few files need it.
    import tifffile

    page = tifffile.TiffFile(io.BytesIO(data)).pages.first
    mode = _MODES.get(int(page.photometric))
    sizes = (page.imagewidth, page.imagelength, page.imagedepth)
    if (
        mode is None
        or not all(isinstance(size, int) and size > 0 for size in sizes)
        or sizes[2] > 1
    ):
        return None
    white_first = int(page.photometric) == _MIN_IS_WHITE
    separate = int(page.planarconfig) == 2 and page.samplesperpixel > 1
    tag = page.tags.get(34675)
    bits = int(page.bitspersample)

    def values() -> Values:
        samples: Values = page.asarray()
        if separate:
            samples = np.moveaxis(samples, 0, -1)
        if (
            samples.dtype != bool
            and np.issubdtype(samples.dtype, np.integer)
            and bits < 8 * samples.dtype.itemsize
        ):
            # 10, 12 or 14 bits in the lower part of two bytes.
            samples = _widened(samples, bits)
        if white_first:
            samples = ~samples if not np.issubdtype(samples.dtype, np.floating) else 1 - samples
        return samples

    profile = bytes(tag.value) if tag is not None and isinstance(tag.value, bytes) else None
    # What is not two whole bytes each is copied for it; so is what is packed in one piece.
    copies = 1 if bits == 16 and int(page.sampleformat) != _FLOAT_SAMPLES else 2
    copies += len(page.dataoffsets) < _FEW_STRIPS and int(page.compression) != 1
    multiplied = _ASSOCIATED in page.extrasamples
    # Divided by the opacity, they are floating for a moment.
    copies += 4 * multiplied
    each = page.samplesperpixel * max(1, page.dtype.itemsize if page.dtype else 8)
    return Deep(page.imagewidth, page.imagelength, mode, profile, values, each * copies, multiplied)


def _widened(values: Values, bits: int) -> Values:
    """Values of a few bits over the whole range of their type."""
    whole = np.iinfo(values.dtype).max
    scaled: Values = values.astype(np.float64) * (whole / (2**bits - 1)) + 0.5
    return scaled.astype(values.dtype)


def _is_deep_png(data: bytes, image: Image.Image) -> bool:
    """Whether a PNG holds 16 bits that are to be read by a profile: 8 of them would be too few in
    the dark."""
    return data[24:25] == b"\x10" and (
        "icc_profile" in image.info or colour.png_profile(image.info) is not None
    )


def _png(data: bytes, image: Image.Image) -> Deep:
    import imagecodecs

    mode = "L" if data[25:26] in (b"\0", b"\4") else "RGB"
    profile = image.info.get("icc_profile") or colour.png_profile(image.info)
    return Deep(image.width, image.height, mode, profile, lambda: imagecodecs.png_decode(data), 16)


def _layered(data: bytes) -> Deep | None:
    """The flat picture of a layered file of 16 or 32 bits, or of the large kind."""
    from psd_tools import PSDImage
    from psd_tools.constants import ColorMode, Resource

    layered = PSDImage.open(io.BytesIO(data))
    modes = {ColorMode.GRAYSCALE: "L", ColorMode.RGB: "RGB", ColorMode.CMYK: "CMYK"}
    mode = modes.get(layered.color_mode)
    if mode is None or not layered.has_preview():
        return None
    profile = layered.image_resources.get_data(Resource.ICC_PROFILE)

    def values() -> Values:
        whole: Values = layered.numpy()
        return whole[..., : _CHANNELS[mode]]

    # It makes floating numbers of them.
    return Deep(layered.width, layered.height, mode, profile, values, 12 * layered.channels)


def holds_no_flat_picture(image: Image.Image) -> bool:
    """Whether a layered file says that its flat picture is empty (resource 1057: version, and
    whether it is real)."""
    for number, _, data in getattr(image, "resources", ()):
        if number == 1057 and len(data) >= 5:
            return bool(data[4] == 0)
    return False
