"""From the bytes of a picture file to an upright sRGB picture."""

from __future__ import annotations

import contextlib
import io
import logging
import zipfile
from collections.abc import Callable
from dataclasses import replace
from typing import Final

import numpy as np
import pi_heif
from numpy.typing import NDArray
from PIL import Image, ImageFile, PngImagePlugin, UnidentifiedImageError

from winnow.core.frames import Kind
from winnow.photos import bounds, colour, deep, planes, raw
from winnow.photos.bounds import NoMemoryError, PictureError
from winnow.photos.picture import Picture, shrunk, size_within
from winnow.photos.raw import RawError
from winnow.photos.sniff import is_raw, sniff
from winnow.say import say

pi_heif.register_heif_opener(thumbnails=False)
# Winnow checks the size itself, before any pixel is decoded, and says so in its own words.
Image.MAX_IMAGE_PIXELS = None
# Notes and settings of programs may be long; they are no reason to refuse a picture.
PngImagePlugin.MAX_TEXT_CHUNK = 64 << 20
PngImagePlugin.MAX_TEXT_MEMORY = 256 << 20

VERSION: Final = 4
_MOST_MERGED: Final = 400 << 20
log = logging.getLogger(__name__)
# The long edge of a picture, in px, by its width and height; None where that is its own.
Bounded = Callable[[int, int], int | None]


def decode(
    data: bytes,
    promised: Kind,
    orientation: int,
    longest: int | None,
    optional_space: bool = False,
    bounded: Bounded = bounds.longest_held,
) -> Picture:
    """Decode a picture file.

    ``promised`` is the kind that the name says; the content has the last word. ``orientation`` is
    the container's (1 to 8). ``longest`` bounds the long edge of the result in px; None for full
    size. ``bounded`` gives the same by a picture's width and height, for a large one.
    ``optional_space``: without a profile, the colours are in DCF's optional colour space. Raises
    PictureError.
    """
    if not data:
        raise PictureError(say("The file is empty (0 bytes)."))
    actual = sniff(data[:64])
    notices: tuple[str, ...] = ()
    if is_raw(data, promised):
        return _decode_raw(data, orientation, longest)
    if actual is not None and actual is not promised:
        notices = (
            say(
                "The name says {promised}, but the file is {found}.",
                promised=promised,
                found=actual,
            ),
        )
    assumed = colour.optional_profile() if optional_space else None
    kind = actual or promised
    picture = _decode_plain(data, kind, orientation, longest, assumed, bounded)
    return replace(picture, notices=notices + picture.notices)


def _least(*edges: int | None) -> int | None:
    return min((edge for edge in edges if edge is not None), default=None)


def _decode_plain(
    data: bytes,
    kind: Kind,
    orientation: int,
    longest: int | None,
    assumed: bytes | None = None,
    bounded: Bounded = bounds.longest_held,
) -> Picture:
    if kind is Kind.ORA:
        data, kind = _merged(data), Kind.PNG
    image: Image.Image | None = None
    # Each kind's reader raises what it likes.
    with contextlib.suppress(Exception):
        image = _opened(data, kind)
    odd = deep.opened(data, kind, image)
    if odd is not None and (
        picture := _read_deep(odd, len(data), orientation, longest, assumed, bounded)
    ):
        return picture
    if image is None:
        raise PictureError(say("This is not a readable {kind} file.", kind=kind))
    width, height = image.size
    scaled = kind is Kind.JPEG and image.mode in ("L", "RGB")
    bounds.check_size(width, height, 1 if scaled else _pixel_bytes(image, kind), len(data))
    if kind is Kind.JPEG:
        bounds.check_scans(data, width, height)
    longest = _least(longest, bounded(width, height))
    if kind is Kind.PSD and deep.holds_no_flat_picture(image):
        raise PictureError(
            say("This layered file holds no flat picture. Save it with one, to see it here.")
        )
    if kind is Kind.AVIF:
        # Pillow puts there what the file's own boxes say, which count.
        orientation = int(image.getexif().get(0x0112, 1))
    # These are turned upright by their decoders, which leave the old value in the metadata.
    if kind in (Kind.HEIC, Kind.JXL) or image.format == "TIFF":
        orientation = 1
    if longest and kind is Kind.JPEG:
        # Decoding at a half or a quarter is much cheaper. Both sides must be given as they will be:
        # Pillow takes no step that makes one of them smaller than asked for.
        image.draft(None, size_within(image.size, longest))
    image, notices = _load(image, data)
    srgb = _to_srgb(image, longest, assumed)
    return _upright(srgb, orientation, width, height, notices)


def _read_deep(
    odd: deep.Deep,
    file_bytes: int,
    orientation: int,
    longest: int | None,
    assumed: bytes | None,
    bounded: Bounded,
) -> Picture | None:
    """A picture of many bits; None where it can't be read so. Raises PictureError."""
    bounds.check_size(odd.width, odd.height, odd.pixel_bytes, file_bytes)
    try:
        longest = _least(longest, bounded(odd.width, odd.height))
        pixels = deep.to_srgb(odd, longest, assumed)
        return _upright(Image.fromarray(pixels), orientation, odd.width, odd.height, ())
    except MemoryError:
        raise NoMemoryError from None
    except Exception as error:
        # Damaged, perhaps: Pillow shows what is left.
        log.info("a deep picture could not be read: %s", error)
    return None


# These libraries make a picture of their own first; the last one in floating numbers.
_DECODED_TWICE: Final = {Kind.WEBP: 8, Kind.HEIC: 8, Kind.AVIF: 8, Kind.JXL: 16}


def _pixel_bytes(image: Image.Image, kind: Kind) -> int:
    """What a pixel takes as Pillow decodes it: three channels lie in four bytes."""
    if kind in _DECODED_TWICE:
        return _DECODED_TWICE[kind]
    if image.mode in ("L", "P", "1"):
        return 1
    return 2 if image.mode.startswith("I;16") else 4


def _opened(data: bytes, kind: Kind) -> Image.Image:
    if kind is Kind.JXL:
        # It makes itself known to Pillow; no other kind waits for it.
        import pillow_jxl  # noqa: F401
    return Image.open(io.BytesIO(data))


def _merged(data: bytes) -> bytes:
    """The flat picture of an OpenRaster file (its specification 0.0.6: mergedimage.png).

    Raises PictureError.
    """
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            listed = archive.getinfo("mergedimage.png")
            if listed.file_size > _MOST_MERGED:
                raise PictureError(say("The flat picture of this file is too large to show."))
            return archive.read(listed)
    except PictureError:
        raise
    except Exception:
        # An archive can be damaged in many ways.
        raise PictureError(
            say("This layered file holds no flat picture. Save it with one, to see it here.")
        ) from None


def _load(image: Image.Image, data: bytes) -> tuple[Image.Image, tuple[str, ...]]:
    """Decode the pixels; of a damaged file, what there is."""
    draft = image.size
    try:
        image.load()
        return image, ()
    except MemoryError:
        raise NoMemoryError from None
    except Exception:
        # Whatever a decoder raises on damaged data, the person wants to see what is left of it.
        pass
    ImageFile.LOAD_TRUNCATED_IMAGES = True
    try:
        again = Image.open(io.BytesIO(data))
        again.draft(None, draft)
        again.load()
    except MemoryError:
        raise NoMemoryError from None
    except Exception:
        raise PictureError(say("The file is damaged: no picture can be read from it.")) from None
    finally:
        ImageFile.LOAD_TRUNCATED_IMAGES = False
    return again, (say("The file is damaged: a part of the picture is missing."),)


def _to_srgb(image: Image.Image, longest: int | None, assumed: bytes | None) -> Image.Image:
    """Bring any mode and colour space to 8-bit sRGB, shrinking first where that is allowed."""
    profile = image.info.get("icc_profile") or (assumed if image.mode == "RGB" else None)
    if image.format == "PNG":
        profile = profile or colour.png_profile(image.info)
    if longest and bounds.is_large(*image.size):
        image = _reduced(image, longest)
    try:
        return colour.to_srgb(shrunk(_plain(image), longest), profile)
    except MemoryError:
        raise NoMemoryError from None


_STRIP_PX: Final = 16_000_000


def _reduced(image: Image.Image, longest: int) -> Image.Image:
    """A large picture in a plain mode, averaged over squares so that it is not much larger than
    ``longest``; strip by strip, as one more copy of all of it is too much."""
    factor = max(1, max(image.size) // longest)
    rows = max(1, _STRIP_PX // image.width // factor) * factor
    made: Image.Image | None = None
    for top in range(0, image.height, rows):
        strip = image.crop((0, top, image.width, min(top + rows, image.height)))
        strip.info = image.info
        small = _plain(strip).reduce(factor)
        if made is None:
            made = Image.new(small.mode, (small.width, -(-image.height // factor)))
        made.paste(small, (0, top // factor))
    assert made is not None
    return made


def _plain(image: Image.Image) -> Image.Image:
    """A picture in a mode that colours are managed in, on white where it lets see through."""
    if image.mode in ("I;16", "I;16L", "I;16B", "I;16N"):
        deep = np.asarray(image).astype(np.uint16)
        image = Image.fromarray((deep >> 8).astype(np.uint8))
    elif image.mode in ("I", "F"):
        image = Image.fromarray(_stretched(np.asarray(image)))
    elif image.mode in ("RGBA", "LA", "PA", "La", "RGBa") or "transparency" in image.info:
        # Pillow divides grey by its see-through into grey only.
        plain = image.convert("LA") if image.mode == "La" else image
        see_through = plain.convert("RGBA")
        image = Image.new("RGB", image.size, "white")
        image.paste(see_through, mask=see_through.getchannel("A"))
    elif image.mode in ("P", "1") or image.mode not in ("RGB", "L", "CMYK", "LAB"):
        image = image.convert("RGB")
    return image


def _stretched(values: NDArray[np.generic]) -> NDArray[np.uint8]:
    """32-bit integer pictures hold 16 bits in practice; floating ones hold 0…1."""
    plain = np.nan_to_num(values.astype(np.float64))
    scale = 255.0 if np.issubdtype(values.dtype, np.floating) else 255 / 65535
    return np.clip(plain * scale + 0.5, 0, 255).astype(np.uint8)


def _upright(
    image: Image.Image, orientation: int, width: int, height: int, notices: tuple[str, ...]
) -> Picture:
    if orientation >= 5:
        width, height = height, width
    return Picture(planes.upright(np.asarray(image), orientation), width, height, notices)


def _decode_raw(data: bytes, orientation: int, longest: int | None) -> Picture:
    """The embedded preview, or a development: at full size, where that shows more."""
    try:
        opened = raw.read(data)
    except RawError as error:
        raise PictureError(str(error)) from None
    size = preview_size(opened)
    wanted = raw.is_useful if longest else raw.is_enough_close
    notice = opened.notice
    if size is None or not wanted(opened, size):
        try:
            return _developed(data, opened, orientation, longest)
        except RawError as error:
            if size is None:
                raise PictureError(str(error)) from None
            notice = raw.preview_only()
    # The preview may say it is upright while its container says it is not: trust the container.
    if isinstance(opened.preview, bytes):
        picture = _decode_plain(opened.preview, Kind.JPEG, orientation, longest)
    else:
        assert opened.preview is not None
        image = shrunk(Image.fromarray(opened.preview), longest)
        picture = _upright(image, orientation, *size, ())
    width, height = full_size_of(opened, size, orientation)
    notices = (*picture.notices, notice) if notice else picture.notices
    return replace(picture, width=width, height=height, source="embedded", notices=notices)


def _developed(data: bytes, opened: raw.Raw, orientation: int, longest: int | None) -> Picture:
    image = shrunk(Image.fromarray(raw.develop(data)), longest)
    made = _upright(image, orientation, opened.width, opened.height, ())
    return replace(made, source="developed")


def preview_size(opened: raw.Raw) -> tuple[int, int] | None:
    """Width and height of a raw file's embedded preview, as stored; None without a readable one."""
    if opened.preview is None:
        return None
    if not isinstance(opened.preview, bytes):
        return opened.preview.shape[1], opened.preview.shape[0]
    try:
        with Image.open(io.BytesIO(opened.preview)) as image:
            return image.size
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError):
        return None


def full_size_of(opened: raw.Raw, size: tuple[int, int], orientation: int) -> tuple[int, int]:
    """The upright width and height of a raw frame: the sensor's, in the ratio of its preview.

    A camera that crops its previews (to 16:9, say) would have it looked at like that.
    """
    scale = max(1.0, max(opened.width, opened.height) / max(size))
    width, height = round(size[0] * scale), round(size[1] * scale)
    return (height, width) if orientation >= 5 else (width, height)
