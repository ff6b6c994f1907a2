"""Small real picture files for the tests."""

import io
import struct
import zlib
from collections.abc import Iterable, Sequence
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import skimage.data
import tifffile
from PIL import Image, ImageFilter

from winnow.core.facts import Facts
from winnow.photos import jpeg_segments
from winnow.photos.exif_writer import with_facts

# 12:00:00 on a day in June 2026, as a camera's clock says it
NOON = 1781524800.0


def scene(seed: int, width: int = 480, height: int = 320) -> Image.Image:
    """A smooth made-up picture; another seed shows something else."""
    rng = np.random.default_rng(seed)
    small = rng.integers(0, 255, (5, 7, 3)).astype(np.uint8)
    return Image.fromarray(small).resize((width, height), Image.Resampling.BICUBIC)


def natural(dx: int, dy: int, blur: float = 0, size: tuple[int, int] = (1200, 800)) -> Image.Image:
    """A natural picture (scikit-image's astronaut, public domain) seen a little to the side."""
    whole = Image.fromarray(skimage.data.astronaut()).resize((1800, 1800), Image.Resampling.LANCZOS)
    seen = whole.crop((250 + dx, 100 + dy, 250 + dx + size[0], 100 + dy + size[1]))
    return seen.filter(ImageFilter.GaussianBlur(blur)) if blur else seen


def write_natural(folder: Path, looks: Sequence[tuple[int, int, float]]) -> list[Path]:
    """Frames QH_0001.jpg …, one a second, of one subject; each (dx, dy, blur in px)."""
    folder.mkdir(parents=True, exist_ok=True)
    paths = []
    for n, look in enumerate(looks, 1):
        out = io.BytesIO()
        natural(*look).save(out, "JPEG", quality=93)
        path = folder / f"QH_{n:04d}.jpg"
        path.write_bytes(with_facts(out.getvalue(), replace(Facts(), taken_at=NOON + n)))
        paths.append(path)
    return paths


def jpeg(seed: int = 1, width: int = 480, height: int = 320, **facts: Any) -> bytes:
    """A JPEG of a scene; with Exif when facts are given."""
    out = io.BytesIO()
    scene(seed, width, height).save(out, "JPEG", quality=90)
    return with_facts(out.getvalue(), replace(Facts(), **facts)) if facts else out.getvalue()


def write_jpeg(path: Path, seed: int = 1, taken_at: float = NOON, **facts: Any) -> Path:
    path.parent.mkdir(parents=True, exist_ok=True)
    path.write_bytes(jpeg(seed, taken_at=taken_at, **facts))
    return path


def write_shoot(folder: Path, seeds: Iterable[int], pause_s: float = 1.0) -> list[Path]:
    """A folder of frames QH_0001.jpg …, one a second; the same seed again is the same scene."""
    return [
        write_jpeg(folder / f"QH_{n:04d}.jpg", seed, NOON + n * pause_s, camera="Quillon H2")
        for n, seed in enumerate(seeds, 1)
    ]


def dng(preview: bytes, width: int = 64, height: int = 48, orientation: int = 1) -> bytes:
    """A raw file that libraw decodes, with this JPEG as its embedded preview."""
    y, x = np.mgrid[0:height, 0:width]
    mosaic = (512 + (x * 97 + y * 53) % 8000).astype(np.uint16)
    matrix = [v for n in np.eye(3).ravel() for v in (int(n * 10000), 10000)]
    container = [
        (50706, "B", 4, bytes([1, 4, 0, 0]), True),
        (50707, "B", 4, bytes([1, 1, 0, 0]), True),
        (50708, "s", 0, "Quillon H2", True),
        (271, "s", 0, "Quillon", True),
        (272, "s", 0, "H2", True),
        (274, "H", 1, orientation, True),
        (50721, "2i", 9, matrix, True),
        (50778, "H", 1, 21, True),
        (50728, "2I", 3, [1, 2, 1, 1, 2, 3], True),
    ]
    sensor = [
        (33421, "H", 2, (2, 2), True),
        (33422, "B", 4, bytes([0, 1, 1, 2]), True),
        (50710, "B", 3, bytes([0, 1, 2]), True),
        (50711, "H", 1, 1, True),
        (50714, "H", 1, 512, True),
        (50717, "I", 1, 15871, True),
    ]
    with Image.open(io.BytesIO(preview)) as image:
        shape = (image.height, image.width, 3)
    out = io.BytesIO()
    with tifffile.TiffWriter(out, byteorder="<") as writer:
        writer.write(
            iter([preview]), shape=shape, dtype=np.uint8, photometric="ycbcr", compression="jpeg",
            subsampling=(2, 2), rowsperstrip=shape[0], subfiletype=1, subifds=1,
            extratags=container, metadata=None,
        )  # fmt: skip
        writer.write(
            mosaic, photometric=32803, subfiletype=0, rowsperstrip=height, extratags=sensor,
            metadata=None,
        )  # fmt: skip
    return out.getvalue()


def huge_png(side: int) -> bytes:
    """A PNG that says it is side × side px; a few bytes that would unpack to gigabytes."""
    import struct

    def chunk(kind: bytes, data: bytes) -> bytes:
        body = kind + data
        return struct.pack(">I", len(data)) + body + struct.pack(">I", zlib.crc32(body))

    header = struct.pack(">IIBBBBB", side, side, 8, 2, 0, 0, 0)
    pixels = zlib.compress(bytes(10_000_000))
    return (
        b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", header) + chunk(b"IDAT", pixels) + chunk(b"IEND", b"")
    )


def write_portraits(folder: Path, first: str = "QH2_9983") -> list[dict[str, object]]:
    """The demo's group of portraits that begins with a frame; returns what is true of its
    frames."""
    from winnow.demo import evening, shoot, truth

    folder.mkdir(parents=True, exist_ok=True)
    group = next(frame.group for frame in evening.frames() if frame.name == first)
    mine = [frame for frame in evening.frames() if frame.group == group]
    for frame in mine:
        shoot.make_frame(frame, folder)
    return [truth.of_frame(frame) for frame in mine]


def in_two_parts(jpeg: bytes, title: str, history: str) -> bytes:
    """A JPEG whose XMP is in two parts (ISO 16684-3): its title and a long history are in the
    second one."""

    def packet(inside: str) -> bytes:
        return (
            '<x:xmpmeta xmlns:x="adobe:ns:meta/">'
            '<rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">'
            '<rdf:Description rdf:about="" xmlns:dc="http://purl.org/dc/elements/1.1/" '
            'xmlns:n="http://ns.adobe.com/xmp/note/" xmlns:o="urn:odd">'
            f"{inside}</rdf:Description></rdf:RDF></x:xmpmeta>"
        ).encode()

    second = packet(f"<dc:title>{title}</dc:title><o:History>{history}</o:History>")
    name = jpeg_segments.name_of_extension(second)
    first = packet(f"<n:HasExtendedXMP>{name}</n:HasExtendedXMP>")
    return jpeg_segments.with_packet(jpeg, first, second)


def with_chunk(png: bytes, name: bytes, content: bytes) -> bytes:
    """A PNG with another chunk behind its first one (PNG, third edition, section 5.3)."""
    chunk = struct.pack(">I", len(content)) + name + content
    chunk += struct.pack(">I", zlib.crc32(name + content))
    return png[:33] + chunk + png[33:]
