"""Small files that say they are huge, or work without end, each read in a process of its own:
bombs.py FOLDER EVERY.

Prints of each file: kind, what became of it, most memory in MB, time in s of the processor. Last:
how many files, how many were shown, most memory in MB, most time in tenths of a second. ``EVERY``:
only each so-many-th file.
"""

import io
import json
import struct
import subprocess
import sys
import zipfile
import zlib
from collections.abc import Callable
from pathlib import Path

import imagecodecs
import numpy as np
import pillow_heif
import pillow_jxl  # noqa: F401
import tifffile
from PIL import Image

from tests.pictures import dng, jpeg, scene

EDGE = 19_999  # px: 400 megapixels are just not refused by their number
WIDE = (20_000, 10_000)  # a sound panorama


def saved(image: Image.Image, kind: str, **options: object) -> bytes:
    out = io.BytesIO()
    image.save(out, kind, **options)
    return out.getvalue()


def zeros(size: int) -> bytes:
    """So many zeros, packed by zlib."""
    packer = zlib.compressobj(1)
    block = bytes(1 << 24)
    parts = [packer.compress(block) for _ in range(size >> 24)]
    return b"".join([*parts, packer.compress(bytes(size & 0xFFFFFF)), packer.flush()])


# JPEG
# ------------------------------------------------------------------------------------------------


def sized_jpeg(width: int, height: int, **options: object) -> bytes:
    """A small picture that says it is another size (ISO/IEC 10918-1, B.2.2)."""
    data = bytearray(saved(options.pop("image", scene(1, 64, 64)), "JPEG", **options))  # type: ignore[arg-type]
    at = 2
    while data[at + 1] not in (0xC0, 0xC1, 0xC2):
        at += 2 + int.from_bytes(data[at + 2 : at + 4], "big")
    data[at + 5 : at + 9] = struct.pack(">HH", height, width)
    return bytes(data)


def scans(width: int, height: int, times: int) -> bytes:
    """A progressive picture whose last scan is repeated."""
    data = sized_jpeg(width, height, progressive=True)
    last = data.rindex(b"\xff\xda")
    return data[:last] + data[last:-2] * times + b"\xff\xd9"


def with_segments(marker: int, body: bytes, times: int) -> bytes:
    data = jpeg(3, 240, 160)
    segment = bytes((0xFF, marker)) + struct.pack(">H", len(body) + 2) + body
    return data[:2] + segment * times + data[2:]


# TIFF
# ------------------------------------------------------------------------------------------------


def tiff(*entries: tuple[int, int, int, int], strip: bytes = b"") -> bytes:
    """One directory of (tag, type, count, value); the strip stands behind it (TIFF 6.0, section
    2)."""
    start = 8 + 2 + 12 * (len(entries) + 2) + 4
    listed = sorted([*entries, (273, 4, 1, start), (279, 4, 1, max(1, len(strip)))])
    body = b"".join(struct.pack("<HHII", *entry) for entry in listed)
    return b"II*\0" + struct.pack("<IH", 8, len(listed)) + body + bytes(4) + strip


def plain_tiff(
    width: int,
    height: int,
    samples: int = 3,
    bits: int = 8,
    compression: int = 1,
    strip: bytes = b"",
    form: int = 1,
) -> bytes:
    return tiff(
        (256, 4, 1, width), (257, 4, 1, height), (258, 3, 1, bits), (259, 3, 1, compression),
        (262, 3, 1, 2 if samples >= 3 else 1), (277, 3, 1, samples), (278, 4, 1, height), (339, 3,
        1, form),
        strip=strip,
    )  # fmt: skip


def looped_tiff() -> bytes:
    data = bytearray(plain_tiff(64, 64, strip=bytes(64 * 64 * 3)))
    at = 8 + 2 + 12 * struct.unpack_from("<H", data, 8)[0]
    data[at : at + 4] = struct.pack("<I", 8)
    return bytes(data)


# PNG
# ------------------------------------------------------------------------------------------------


def png(
    width: int,
    height: int,
    depth: int = 8,
    colour: int = 2,
    *,
    pixels: bytes | None = None,
    before: bytes = b"",
    interlaced: int = 0,
) -> bytes:
    channels = {0: 1, 2: 3, 3: 1, 4: 2, 6: 4}[colour]
    if pixels is None:
        pixels = zeros(height * (1 + (width * channels * depth + 7) // 8))
    header = struct.pack(">IIBBBBB", width, height, depth, colour, 0, 0, interlaced)
    return (
        b"\x89PNG\r\n\x1a\n"
        + chunk(b"IHDR", header)
        + before
        + chunk(b"IDAT", pixels)
        + chunk(b"IEND", b"")
    )


def chunk(kind: bytes, body: bytes) -> bytes:
    return struct.pack(">I", len(body)) + kind + body + struct.pack(">I", zlib.crc32(kind + body))


# Others
# ------------------------------------------------------------------------------------------------


def heif(edge: int, kind: str) -> bytes:
    """A small picture that says it is larger, in the property for that (ISO/IEC 23008-12,
    6.5.3)."""
    out = io.BytesIO()
    if kind == "heic":
        pillow_heif.from_pillow(scene(4, 128, 128)).save(out, quality=60)
    else:
        scene(4, 128, 128).save(out, "AVIF")
    data = bytearray(out.getvalue())
    at = data.index(b"ispe")
    data[at + 8 : at + 16] = struct.pack(">II", edge, edge)
    return bytes(data)


def psd(width: int, height: int, depth: int = 8, version: int = 1) -> bytes:
    """A flat layered file of rows packed by PackBits, all alike."""
    row = imagecodecs.packbits_encode(bytes(width * depth // 8))
    counts = struct.pack(">H" if version == 1 else ">I", len(row)) * (height * 3)
    head = b"8BPS" + struct.pack(">H6xHIIHH", version, 3, height, width, depth, 3)
    return head + bytes(12 if version == 1 else 16) + b"\0\1" + counts + row * (height * 3)


def ora(picture: bytes) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("mimetype", "image/openraster", zipfile.ZIP_STORED)
        archive.writestr("mergedimage.png", picture)
    return out.getvalue()


def sized_dng(width: int, height: int) -> bytes:
    data = bytearray(dng(jpeg(2, 240, 160)))
    for tag, value in ((256, width), (257, height)):
        for at in range(len(data) - 12):
            if struct.unpack_from("<HHI", data, at)[::2] == (tag, 1) and data[at + 2] in (3, 4):
                data[at + 2 : at + 12] = struct.pack("<HII", 4, 1, value)
    return bytes(data)


def flat(width: int, height: int) -> Image.Image:
    return Image.new("RGB", (width, height), (90, 120, 60))


BOMBS: dict[str, Callable[[], bytes]] = {
    "a size only.jpg": lambda: sized_jpeg(EDGE, EDGE),
    "a size only, progressive.jpg": lambda: sized_jpeg(EDGE, EDGE, progressive=True),
    "a size only, four inks.jpg": lambda: sized_jpeg(EDGE, EDGE, image=scene(1, 64,
    64).convert("CMYK")),
    "the largest size.jpg": lambda: sized_jpeg(65_500, 65_500),
    "as wide as it gets.jpg": lambda: sized_jpeg(65_500, 6_000, progressive=True),
    "a thousand scans.jpg": lambda: scans(4_000, 4_000, 1_000),
    "a hundred large scans.jpg": lambda: scans(EDGE, EDGE, 100),
    "ten thousand small scans.jpg": lambda: scans(800, 800, 10_000),
    "a profile without end.jpg": lambda: with_segments(0xE2,
    b"ICC_PROFILE\0\1\xff" + bytes(65_000), 255),
    "comments.jpg": lambda: with_segments(0xFE, bytes(65_000), 2_000),
    "a size only.tif": lambda: plain_tiff(EDGE, EDGE),
    "a size only, 16 bits.tif": lambda: plain_tiff(EDGE, EDGE, bits=16),
    "a size only, floating.tif": lambda: plain_tiff(EDGE, EDGE, bits=64, form=3),
    "sixty thousand samples.tif": lambda: plain_tiff(2_000, 2_000, samples=60_000),
    "packed zeros.tif": lambda: plain_tiff(EDGE, EDGE, 1, 8, 8, zeros(EDGE * EDGE)),
    "packed zeros, 16 bits.tif": lambda: plain_tiff(EDGE, EDGE, 1, 16, 8, zeros(EDGE * EDGE * 2)),
    "packed zeros, floating.tif": lambda: plain_tiff(14_000, 14_000, 1, 32, 8,
    zeros(14_000**2 * 4), 3),
    "packed colours.tif": lambda: plain_tiff(EDGE, EDGE, 3, 8, 8, zeros(EDGE * EDGE * 3)),
    "a directory after itself.tif": looped_tiff,
    "packed zeros.png": lambda: png(EDGE, EDGE),
    "packed zeros, gray.png": lambda: png(EDGE, EDGE, colour=0),
    "packed zeros, 16 bits and opacity.png": lambda: png(14_000, 14_000, 16, 6),
    "packed zeros, opacity.png": lambda: png(EDGE, EDGE, 8, 6),
    "interlaced.png": lambda: png(EDGE, EDGE, colour=2, pixels=zeros(EDGE * EDGE * 3 + 40_000),
    interlaced=1),
    "a size only.png": lambda: png(EDGE, EDGE, 16, 6, pixels=zeros(100)),
    "a palette.png": lambda: png(
        EDGE, EDGE, 8, 3, before=chunk(b"PLTE", bytes(768)) + chunk(b"tRNS", bytes(range(256)))
    ),
    "a text that swells.png": lambda: png(64, 64, before=chunk(b"zTXt", b"a\0\0" + zeros(1 << 30))),
    "a profile that swells.png": lambda: png(64, 64, before=chunk(b"iCCP",
    b"a\0\0" + zeros(1 << 30))),
    "a text in Unicode that swells.png": lambda: png(
        64, 64, before=chunk(b"iTXt", b"XML:com.adobe.xmp\0\1\0\0\0" + zeros(1 << 30))
    ),
    "flat.webp": lambda: saved(flat(16_383, 16_383), "WEBP", lossless=True, method=0),
    "a size only.heic": lambda: heif(EDGE, "heic"),
    "a size only.avif": lambda: heif(EDGE, "avif"),
    "flat.jxl": lambda: saved(flat(9_000, 9_000), "JXL", lossless=True, effort=1),
    "packed rows.psd": lambda: psd(EDGE, EDGE),
    "packed rows, 16 bits.psd": lambda: psd(14_000, 14_000, 16),
    "packed rows, large.psd": lambda: psd(EDGE, EDGE, version=2),
    "a picture that swells.ora": lambda: ora(png(EDGE, EDGE)),
    "nothing but size.ora": lambda: ora(bytes(1 << 30)),
    "a size only.dng": lambda: sized_dng(60_000, 60_000),
    "a size of a sensor.dng": lambda: sized_dng(EDGE, EDGE),
}  # fmt: skip
# These are no bombs, and must be shown.
SOUND: dict[str, Callable[[], bytes]] = {
    "panorama.jpg": lambda: saved(flat(*WIDE), "JPEG"),
    "panorama, progressive.jpg": lambda: saved(flat(*WIDE), "JPEG", progressive=True),
    "panorama.tif": lambda: saved(flat(*WIDE), "TIFF"),
    "panorama, 16 bits.tif": lambda: _tiff16(*WIDE),
    "panorama.png": lambda: saved(flat(*WIDE), "PNG", compress_level=1),
}


def _tiff16(width: int, height: int) -> bytes:
    out = io.BytesIO()
    tifffile.imwrite(
        out, np.full((height, width, 3), 30_000, np.uint16), photometric="rgb", compression="zlib"
    )
    return out.getvalue()


ALONE = """
import json, os, re, sys, time
from pathlib import Path
from winnow.work.workers import part_tasks, tasks
path = Path(sys.argv[1])
tasks.start_worker(0)
begun = time.process_time()
job = tasks.Job(1, path, path.parent, Path(sys.argv[2]))
facts = tasks.read([job])[0]
looked = tasks.look(job)
part = part_tasks.part(job, part_tasks.Part(0, 0, 64, 64, 1))
print(json.dumps([
    getattr(looked, "notice", ""), isinstance(looked, tasks.Failure), isinstance(part,
    tasks.Failure),
    int(re.search(r"VmHWM:\\s+(\\d+)", Path("/proc/self/status").read_text()).group(1)) // 1000,
    time.process_time() - begun,
]))
"""


def read_alone(path: Path, cache: Path) -> tuple[str, bool, int, float]:
    """What becomes of a file in a worker of its own: words, whether it is shown, most memory in MB,
    processor's s."""
    done = subprocess.run(
        [sys.executable, "-c", ALONE, str(path), str(cache)], capture_output=True, text=True
    )
    if done.returncode:
        return f"ended by {done.returncode}: {done.stderr[-200:]}", False, 0, 0.0
    notice, failed, _, memory, seconds = json.loads(done.stdout.splitlines()[-1])
    return notice, not failed, memory, seconds


def main(folder: Path, every: int) -> None:
    shown = most = 0
    longest = 0.0
    chosen = [*list(BOMBS.items())[::every], *list(SOUND.items())[::every]]
    for name, make in chosen:
        path = folder / name
        path.write_bytes(make())
        notice, is_shown, memory, seconds = read_alone(path, folder / "cache")
        print(
            f"{name}: {path.stat().st_size} bytes, {'shown' if is_shown else 'refused'}, {memory} "
            f"MB, {seconds:.1f} s. {notice}",
            flush=True,
        )
        assert is_shown or name not in SOUND, notice
        path.unlink()
        shown += is_shown
        most, longest = max(most, memory), max(longest, seconds)
    print(len(chosen), shown, most, round(10 * longest))


if __name__ == "__main__":
    main(Path(sys.argv[1]), int(sys.argv[2]))
