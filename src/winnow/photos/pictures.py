"""One look at a picture file: its preview and thumbnail, and what the analysis measures on it."""

from __future__ import annotations

import io
from dataclasses import dataclass, replace
from typing import Final

import cv2
import numpy as np
import simplejpeg
from numpy.typing import NDArray
from PIL import Image, ImageCms

from winnow.core.frames import Kind
from winnow.core.measure import exposure, focus, focus_map, likeness
from winnow.core.measure.exposure import Exposure
from winnow.core.measure.focus_map import FocusMap
from winnow.photos import bounds, colour, decode, jpegs, planes, raw, sniff
from winnow.photos.bounds import PictureError
from winnow.photos.picture import Picture, Source, shrink
from winnow.photos.planes import Plane, Planes
from winnow.photos.raw import RawError

THUMBNAIL_PX: Final = 512
PREVIEW_PX: Final = 2048
# Chosen by measurement, see docs/benchmarks.md.
PREVIEW_QUALITY: Final = 85
THUMBNAIL_QUALITY: Final = 82

# Which code made what is stored: a newer one makes anew only what it changed.
PICTURE_VERSION: Final = f"p{decode.VERSION} f{focus.VERSION}"
FIGURE_VERSION: Final = f"l{likeness.VERSION} e{exposure.VERSION}"


@dataclass(frozen=True, slots=True)
class Figures:
    """What is measured on the preview."""

    likeness: bytes
    exposure: Exposure


@dataclass(frozen=True, slots=True)
class Rendered:
    """What one look at a file gives. Sizes in px, upright; ``preview`` and ``thumbnail`` are JPEGs.

    ``shown_from`` and ``close_from`` say where the pixels come from, in the sheet and at 100 %.
    """

    preview: bytes
    thumbnail: bytes
    width: int
    height: int
    figures: Figures
    focus: FocusMap
    notices: tuple[str, ...] = ()
    shown_from: Source = "file"
    close_from: Source = "file"


def look(data: bytes, promised: Kind, orientation: int, optional_space: bool = False) -> Rendered:
    """Decode a picture file once. ``orientation`` is the container's, 1 to 8.

    ``optional_space``: the Exif says DCF's optional colour space. Raises PictureError.
    """
    if sniff.is_raw(data, promised):
        return _look_at_raw(data, orientation)
    if sniff.sniff(data[:64]) is Kind.JPEG and promised is Kind.JPEG:
        stored = planes.read(data)
        if stored is not None:
            return _from_planes(stored, _profile(data, optional_space), orientation)
    picture = decode.decode(
        data, promised, orientation, None, optional_space, bounds.longest_measured
    )
    seen = _from_picture(picture)
    if bounds.longest_held(seen.width, seen.height):
        return replace(seen, close_from="reduced")
    return seen


# Of files of other kinds brightness at full size takes longer than that of a usual JPEG.
QUICK_LUMA: Final = (Kind.JPEG, Kind.RAW)


def full_size_luma(data: bytes, promised: Kind, orientation: int) -> Plane | None:
    """The brightness (h, w) of a file at full size, upright: of a raw frame that of its embedded
    preview. None for other kinds than ``QUICK_LUMA``, and where there is none. Raises
    PictureError."""
    if sniff.is_raw(data, promised):
        try:
            opened = raw.read(data)
        except RawError as error:
            raise PictureError(str(error)) from None
        size = decode.preview_size(opened)
        if size is None or not isinstance(opened.preview, bytes):
            return None
        data = opened.preview
    elif sniff.sniff(data[:64]) is not Kind.JPEG or promised is not Kind.JPEG:
        return None
    found = planes.luma(data)
    return None if found is None else planes.upright(found, orientation)


def _look_at_raw(data: bytes, orientation: int) -> Rendered:
    try:
        opened = raw.read(data)
    except RawError as error:
        raise PictureError(str(error)) from None
    size = decode.preview_size(opened)
    if size is None or not raw.is_useful(opened, size):
        return _from_picture(decode.decode(data, Kind.RAW, orientation, PREVIEW_PX))
    close: Source = "embedded" if raw.is_enough_close(opened, size) else "developed"
    stored = planes.read(opened.preview) if isinstance(opened.preview, bytes) else None
    if stored is None or not isinstance(opened.preview, bytes):
        # Stored as plain pixels, or in another way than most.
        picture = decode.decode(data, Kind.RAW, orientation, PREVIEW_PX)
        return replace(_from_picture(picture), close_from=close)
    made = _from_planes(stored, _profile(opened.preview, False), orientation)
    width, height = decode.full_size_of(opened, size, orientation)
    return replace(
        made,
        width=width,
        height=height,
        focus=_scaled(made.focus, width / made.width),
        shown_from="embedded",
        close_from=close,
        notices=(opened.notice,) if opened.notice else (),
    )


def _scaled(map_: FocusMap, times: float) -> FocusMap:
    """The map of a picture, for one that is larger by a factor."""
    if times == 1:
        return map_
    return FocusMap(map_.blur * np.float32(times), map_.direction, map_.cell * times, map_.noise)


def _profile(data: bytes, optional_space: bool) -> bytes | None:
    """The ICC profile that a JPEG is to be read by; None for sRGB."""
    with Image.open(io.BytesIO(data)) as image:
        profile: bytes | None = image.info.get("icc_profile")
    if profile is None and optional_space:
        return colour.optional_profile()
    return profile


def _even_size(size: tuple[int, int], longest: int) -> tuple[int, int]:
    """The size with its long edge at most ``longest`` px, both sides even."""
    scale = min(1.0, longest / max(size))
    return tuple(max(2, round(side * scale) // 2 * 2) for side in size)  # type: ignore[return-value]


def _from_planes(stored: Planes, profile: bytes | None, orientation: int) -> Rendered:
    full, half, quarter = focus.levels(stored.luma)
    height, width = stored.luma.shape
    if min(quarter.shape) < 1:  # narrower than 4 px
        return _from_picture(_whole(stored, profile, orientation))
    size = _even_size((full.shape[1], full.shape[0]), PREVIEW_PX)
    large = max(full.shape) >= 2 * PREVIEW_PX
    luma = planes.upright(planes.shrunk(half if large else full, size), orientation)
    blue, red = (
        None if plane is None else planes.upright(_fitted(plane, stored, full, size), orientation)
        for plane in (stored.blue, stored.red)
    )
    mode = "RGB" if stored.blue is not None else "L"
    transform = colour.transform(profile, mode) if profile else None
    if transform is None:
        preview: bytes = simplejpeg.encode_jpeg_yuv_planes(luma, blue, red, PREVIEW_QUALITY)
        sample = _sample(luma, blue, red)
    else:
        image = Image.fromarray(_rgb(luma, blue, red) if mode == "RGB" else luma)
        shown = np.asarray(ImageCms.applyTransform(image, transform) or image)
        preview = jpegs.encode_jpeg(shown, PREVIEW_QUALITY)
        sample = _halved(shown)
    thumbnail, figures = _small(sample)
    measured = focus_map.turned(focus.measure_levels(full, half, quarter), orientation)
    if orientation >= 5:
        width, height = height, width
    return Rendered(preview, thumbnail, width, height, figures, measured)


def _fitted(plane: Plane, stored: Planes, full: Plane, size: tuple[int, int]) -> Plane:
    """A colour plane at half the preview's size, cut as the brightness was cut."""
    rows = max(1, round(plane.shape[0] * full.shape[0] / stored.luma.shape[0]))
    columns = max(1, round(plane.shape[1] * full.shape[1] / stored.luma.shape[1]))
    return planes.shrunk(plane[:rows, :columns], (size[0] // 2, size[1] // 2))


def _sample(luma: Plane, blue: Plane | None, red: Plane | None) -> NDArray[np.uint8]:
    """RGB of a preview's planes at half its size, as the colour has it; a small one as it is."""
    if max(luma.shape) < 2 * THUMBNAIL_PX:
        return _rgb(luma, blue, red)
    half = (luma.shape[1] // 2, luma.shape[0] // 2)
    return _rgb(cv2.resize(luma, half, interpolation=cv2.INTER_AREA), blue, red)


def _halved(pixels: NDArray[np.uint8]) -> NDArray[np.uint8]:
    """Every other pixel of a preview: enough for its figures; of a small one all."""
    return pixels if max(pixels.shape) < 2 * THUMBNAIL_PX else pixels[::2, ::2]


def _rgb(luma: Plane, blue: Plane | None, red: Plane | None) -> NDArray[np.uint8]:
    """RGB of planes whose colour may be missing or smaller."""
    size = (luma.shape[1], luma.shape[0])
    grey = np.full(luma.shape, 128, np.uint8)
    large = (
        grey if plane is None else cv2.resize(plane, size, interpolation=cv2.INTER_LINEAR)
        for plane in (blue, red)
    )
    return planes.rgb(luma, *large)


def _whole(decoded: Planes, profile: bytes | None, orientation: int) -> Picture:
    """A tiny picture, without any shrinking."""
    stored = decoded.luma if decoded.blue is None else _rgb(decoded.luma, decoded.blue, decoded.red)
    image = colour.to_srgb(Image.fromarray(stored), profile)
    pixels = planes.upright(np.asarray(image), orientation)
    return Picture(pixels, pixels.shape[1], pixels.shape[0])


def _from_picture(picture: Picture) -> Rendered:
    """From any decoded picture, of full size or less."""
    pixels = np.ascontiguousarray(picture.pixels)
    luma = cv2.cvtColor(pixels, cv2.COLOR_RGB2GRAY)
    shown = shrink(pixels, PREVIEW_PX)
    thumbnail, figures = _small(_halved(shown))
    measured = focus.measure(luma)
    return Rendered(
        jpegs.encode_jpeg(shown, PREVIEW_QUALITY), thumbnail, picture.width, picture.height,
        figures, _scaled(measured, max(1.0, picture.width / pixels.shape[1])), picture.notices,
        picture.source, picture.source,
    )  # fmt: skip


def _small(sample: NDArray[np.uint8]) -> tuple[bytes, Figures]:
    """The thumbnail and the figures, from an upright sRGB picture of about half the preview."""
    small = _thumbnail(sample)
    return jpegs.encode_jpeg(small, THUMBNAIL_QUALITY), _figures(sample, small)


def _thumbnail(sample: NDArray[np.uint8]) -> NDArray[np.uint8]:
    size = _even_size((sample.shape[1], sample.shape[0]), THUMBNAIL_PX)
    return planes.shrunk(np.ascontiguousarray(sample), size)


def _figures(sample: NDArray[np.uint8], small: NDArray[np.uint8]) -> Figures:
    return Figures(likeness.signature(small), exposure.measure(sample))


def figures_of_preview(preview: bytes) -> Figures:
    """The figures alone, from a preview that is in the cache."""
    pixels = simplejpeg.decode_jpeg(preview, "RGB")
    return _figures(_halved(pixels), _thumbnail(pixels))


def gray_of_preview(preview: bytes) -> NDArray[np.uint8]:
    """A preview at half its size, in grey, shape (h, w): enough to find a part of it again."""
    height, width, _, _ = simplejpeg.decode_jpeg_header(preview)
    half = simplejpeg.decode_jpeg(
        preview, "GRAY", min_height=height // 2, min_width=width // 2, min_factor=2
    )
    return np.ascontiguousarray(half[..., 0])
