"""Colour spaces: from a picture's own to sRGB."""

from __future__ import annotations

import io
import struct
from functools import cache, lru_cache
from typing import Final

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageCms

_D50: Final = np.array([0.9642, 1.0, 0.8249])
# Chromaticities of red, green, blue and white (D65), and the gamma, of the optional colour space of
# DCF 2.0 (CIPA DC-009), which cameras name in Exif without a profile.
_OPTIONAL: Final = ((0.64, 0.33), (0.21, 0.71), (0.15, 0.06), (0.3127, 0.3290))
_OPTIONAL_GAMMA: Final = 2.19921875


def to_srgb(image: Image.Image, profile: bytes | None) -> Image.Image:
    """Bring an RGB, L, CMYK or LAB picture with this ICC profile to sRGB.

    Without a profile, or with one that can't be used, the values are taken for sRGB.
    """
    if profile and image.mode in ("RGB", "L", "CMYK", "LAB"):
        found = transform(profile, image.mode)
        if found is not None:
            return ImageCms.applyTransform(image, found) or image
    return image if image.mode == "RGB" else image.convert("RGB")


@lru_cache(maxsize=32)
def transform(profile: bytes, mode: str) -> ImageCms.ImageCmsTransform | None:
    """The transform from a profile to sRGB; None where it is sRGB already or can't be used."""
    try:
        source = ImageCms.ImageCmsProfile(io.BytesIO(profile))
        if mode == "RGB" and "sRGB" in (source.profile.profile_description or ""):
            return None
        target = ImageCms.createProfile("sRGB")
        return ImageCms.buildTransform(
            source, target, mode, "RGB", ImageCms.Intent.RELATIVE_COLORIMETRIC,
            ImageCms.Flags.BLACKPOINTCOMPENSATION,
        )  # fmt: skip
    except (ImageCms.PyCMSError, OSError, ValueError):
        return None


@cache
def optional_profile() -> bytes:
    """An ICC profile (version 2, ICC.1:2001-04) of the optional colour space of DCF 2.0."""
    columns = _to_pcs(_OPTIONAL)
    curve = b"curv" + struct.pack(">IIH", 0, 1, round(_OPTIONAL_GAMMA * 256)) + bytes(2)
    title = b"DCF optional colour space\0"
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
