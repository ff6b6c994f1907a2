"""Colour spaces: from a picture's own to sRGB."""

from __future__ import annotations

import io
import struct
from collections.abc import Mapping
from functools import cache, lru_cache
from typing import Any, Final

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageCms

_D50: Final = np.array([0.9642, 1.0, 0.8249])
# Chromaticities of red, green, blue and white (D65), and the gamma, of the optional colour space of
# DCF 2.0 (CIPA DC-009), which cameras name in Exif without a profile.
_OPTIONAL: Final = ((0.64, 0.33), (0.21, 0.71), (0.15, 0.06), (0.3127, 0.3290))
_OPTIONAL_GAMMA: Final = 2.19921875
# Those of sRGB (IEC 61966-2-1), and what PNG writes as its gamma.
_SRGB: Final = ((0.64, 0.33), (0.30, 0.60), (0.15, 0.06), (0.3127, 0.3290))
_SRGB_GAMMA: Final = 2.2
_TYPES: Final = {"L": "gray", "RGB": "rgb", "CMYK": "cmyk"}
_ALIKE: Final = 2  # of 255, in any channel: as near as sRGB's own profiles are to each other


def to_srgb(image: Image.Image, profile: bytes | None) -> Image.Image:
    """Bring an RGB, L, CMYK or LAB picture with this ICC profile to sRGB.

    Without a profile, or with one that can't be used, the values are taken for sRGB.
    """
    if profile and image.mode in ("RGB", "L", "CMYK", "LAB"):
        transformed = transform(profile, image.mode)
        if transformed is not None:
            return ImageCms.applyTransform(image, transformed) or image
    return image if image.mode == "RGB" else image.convert("RGB")


def deep_to_srgb(values: NDArray[Any], mode: str, profile: bytes | None) -> NDArray[np.uint8]:
    """Bring values (h, w, channels) of 8 or 16 bits, or floating in 0…1, to 8-bit sRGB (h, w, 3).

    ``mode``: L, RGB or CMYK. Without a profile, or with one that can't be used, they are taken for
    sRGB.
    """
    if profile and transform(profile, mode) is not None:
        # Loaded where it is needed: few pictures have more than 8 bits.
        import imagecodecs

        converted: NDArray[np.uint8] = imagecodecs.cms_transform(
            values if mode != "L" else values[..., 0],
            profile,
            imagecodecs.cms_profile("srgb"),
            colorspace=_TYPES[mode],
            outcolorspace="rgb",
            outdtype="uint8",
            intent=int(ImageCms.Intent.RELATIVE_COLORIMETRIC),
            flags=int(ImageCms.Flags.BLACKPOINTCOMPENSATION),
        )
        return converted
    if np.issubdtype(values.dtype, np.floating):
        plain = (values * 255 + 0.5).astype(np.uint8)
    elif values.dtype == np.uint16:
        plain = ((values.astype(np.uint32) + 128) // 257).astype(np.uint8)
    else:
        plain = values.astype(np.uint8)
    if mode == "RGB":
        return plain
    flat = plain[..., 0] if mode == "L" else plain
    return np.asarray(Image.fromarray(flat, mode).convert("RGB"))


@lru_cache(maxsize=32)
def transform(profile: bytes, mode: str) -> ImageCms.ImageCmsTransform | None:
    """The transform from a profile to sRGB; None where it changes nothing, or can't be used."""
    try:
        source = ImageCms.ImageCmsProfile(io.BytesIO(profile))
        built = ImageCms.buildTransform(
            source, ImageCms.createProfile("sRGB"), mode, "RGB",
            ImageCms.Intent.RELATIVE_COLORIMETRIC, ImageCms.Flags.BLACKPOINTCOMPENSATION,
        )  # fmt: skip
    except (ImageCms.PyCMSError, OSError, ValueError):
        return None
    return None if mode == "RGB" and _changes_nothing(built) else built


def _changes_nothing(built: ImageCms.ImageCmsTransform) -> bool:
    """Whether RGB comes out as it goes in: a profile is sRGB by what it does, whatever it is
    called."""
    steps = np.linspace(0, 255, 9).round().astype(np.uint8)
    cube = np.stack(np.meshgrid(steps, steps, steps), -1).reshape(27, 27, 3)
    image = Image.fromarray(cube)
    after = np.asarray(ImageCms.applyTransform(image, built) or image)
    return int(np.abs(after.astype(int) - cube).max()) <= _ALIKE


@cache
def optional_profile() -> bytes:
    """An ICC profile of the optional colour space of DCF 2.0."""
    return _profile_of(_OPTIONAL, _OPTIONAL_GAMMA, b"DCF optional colour space")


def png_profile(info: Mapping[Any, Any]) -> bytes | None:
    """An ICC profile for what a PNG says of its colours without one; None where that is sRGB, or
    nothing.

    ``info`` is Pillow's. The order of the chunks' words is that of PNG (third edition, section
    4.3).
    """
    gamma = info.get("gamma")
    if "srgb" in info or not gamma or not 0.1 <= gamma <= 2.5:
        return None
    corners = info.get("chromaticity")
    space = _SRGB
    if corners and len(corners) == 8 and all(0 < value < 1 for value in corners):
        white, *primaries = zip(corners[::2], corners[1::2], strict=True)
        space = (*primaries, white)  # type: ignore[assignment]
    near = np.allclose(space, _SRGB, atol=0.002)
    if near and abs(gamma * _SRGB_GAMMA - 1) < 0.01:
        return None
    return _profile_of(space, 1 / gamma, b"PNG")


def _profile_of(space: tuple[tuple[float, float], ...], gamma: float, name: bytes) -> bytes:
    """An ICC profile (version 2, ICC.1:2001-04) by the chromaticities of red, green, blue and
    white."""
    columns = _to_pcs(space)
    curve = b"curv" + struct.pack(">IIH", 0, 1, round(gamma * 256)) + bytes(2)
    title = name + b"\0"
    description = b"desc" + struct.pack(">II", 0, len(title)) + title + bytes(4 + 4 + 2 + 1 + 67)
    parts = [
        (b"desc", description),
        (b"cprt", b"text" + bytes(4) + b"Public domain\0"),
        (b"wtpt", _xyz(_D50)),
        (b"rXYZ", _xyz(columns[:, 0])),
        (b"gXYZ", _xyz(columns[:, 1])),
        (b"bXYZ", _xyz(columns[:, 2])),
        (b"rTRC", curve),
        (b"gTRC", curve),
        (b"bTRC", curve),
    ]
    table, body = struct.pack(">I", len(parts)), b""
    start = 128 + 4 + 12 * len(parts)
    for name, data in parts:
        table += name + struct.pack(">II", start + len(body), len(data))
        body += data + bytes(-len(data) % 4)
    size = start + len(body)
    head = struct.pack(">I4sI4s4s4s12s4s", size, bytes(4), 0x02400000, b"mntr", b"RGB ", b"XYZ ",
                       struct.pack(">6H", 2026, 1, 1, 0, 0, 0), b"acsp")  # fmt: skip
    head += bytes(68 - len(head)) + struct.pack(">iii", *(round(v * 65536) for v in _D50))
    return head + bytes(128 - len(head)) + table + body


def _to_pcs(space: tuple[tuple[float, float], ...]) -> NDArray[np.float64]:
    """Columns XYZ under D50 of red, green and blue, adapted by the Bradford method."""
    xyz = np.array([[x / y, 1, (1 - x - y) / y] for x, y in space]).T
    white = xyz[:, 3]
    primaries = xyz[:, :3] * np.linalg.solve(xyz[:, :3], white)
    cone = np.array(
        [[0.8951, 0.2664, -0.1614], [-0.7502, 1.7135, 0.0367], [0.0389, -0.0685, 1.0296]]
    )
    adapt = np.linalg.inv(cone) @ np.diag((cone @ _D50) / (cone @ white)) @ cone
    adapted: NDArray[np.float64] = adapt @ primaries
    return adapted


def _xyz(value: NDArray[np.float64]) -> bytes:
    return b"XYZ " + struct.pack(">Iiii", 0, *(round(float(v) * 65536) for v in value))
