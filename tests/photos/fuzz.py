"""Feeds damaged files to the readers in worker processes, as indexing does: fuzz.py FOLDER COUNT
SEED.

Each result must be a picture, facts or a notice. A process that dies is started again; what it was
given is tried once more, file by file. Prints: files, pictures, notices, deaths, unforeseen errors,
most memory in MB.
"""

import contextlib
import io
import random
import resource
import sys
import zipfile
from collections import Counter
from concurrent.futures import BrokenExecutor
from pathlib import Path

import imagecodecs
import numpy as np
import pillow_jxl  # noqa: F401
import tifffile
from PIL import Image
from psd_tools import PSDImage

from tests.pictures import dng, jpeg, scene, with_chunk
from winnow.core.files.merge import Stated
from winnow.core.files.profiles import FileMark
from winnow.core.files.texts import Texts
from winnow.photos import xmp
from winnow.photos.xmp_check import SidecarError
from winnow.work.workers.pool import Workers
from winnow.work.workers.tasks import Failure, Job, look, read

BATCH = 50


def seeds(folder: Path) -> dict[str, bytes]:
    """A small sound file of each kind."""
    import pillow_heif

    made = {"a.jpg": jpeg(1, 240, 160), "a.dng": dng(jpeg(2, 240, 160))}
    for name, options in (("a.png", {}), ("a.tif", {"compression": "tiff_lzw"})):
        scene(3, 160, 120).save(folder / name, **options)
        made[name] = (folder / name).read_bytes()
    heif = pillow_heif.from_pillow(scene(4, 160, 128))
    heif.save(folder / "a.heic", quality=60)
    made["a.heic"] = (folder / "a.heic").read_bytes()
    for ending, kind in (("webp", "WEBP"), ("avif", "AVIF"), ("jxl", "JXL")):
        scene(6, 160, 120).save(folder / f"a.{ending}", kind)
        made[f"a.{ending}"] = (folder / f"a.{ending}").read_bytes()
    made |= deep_seeds()
    said = Stated(
        FileMark(3, "Print", True), Texts("Dusk", "At the quay\n灯", ("quay", "b"), ("Ann",))
    )
    made["a.xmp"] = xmp.with_stated(None, said)
    marked = xmp.with_embedded(jpeg(5, 240, 160), said)
    made["b.jpg"] = marked
    Image.open(folder / "a.png").close()
    return made


def deep_seeds() -> dict[str, bytes]:
    """Small sound files of more than 8 bits, in ways of their own, or layered."""
    deep = np.asarray(scene(7, 96, 64)).astype(np.uint16) * 257
    tiff, real = io.BytesIO(), io.BytesIO()
    tifffile.imwrite(
        tiff,
        np.moveaxis(deep, -1, 0),
        photometric="rgb",
        planarconfig="separate",
        compression="lzw",
    )
    tifffile.imwrite(real, deep[..., 0] / np.float32(65535), photometric="minisblack")
    png = with_chunk(bytes(imagecodecs.png_encode(deep)), b"gAMA", (66_667).to_bytes(4, "big"))
    flat, large = io.BytesIO(), io.BytesIO()
    PSDImage.frompil(scene(8, 96, 64)).save(flat)
    layered = PSDImage.new("RGB", (96, 64), depth=16)
    layered._record.header.version = 2
    layered.save(large)
    archive = io.BytesIO()
    with zipfile.ZipFile(archive, "w") as out:
        out.writestr("mimetype", "image/openraster")
        out.writestr("mergedimage.png", png)
    return {
        "b.tif": tiff.getvalue(),
        "c.tif": real.getvalue(),
        "b.png": png,
        "a.psd": flat.getvalue(),
        "a.psb": large.getvalue(),
        "a.ora": archive.getvalue(),
    }


def damaged(data: bytes, other: bytes, rng: random.Random) -> bytes:
    """A file with a few faults: bits, blocks, ends, counts, and parts of another."""
    out = bytearray(data)
    for _ in range(rng.choice((1, 1, 2, 4, 12))):
        # Headers decide most: they get half of the faults.
        end = min(len(out), 600) if rng.random() < 0.5 else len(out)
        at = rng.randrange(max(1, end))
        size = rng.choice((1, 1, 2, 4, 16, 200))
        match rng.randrange(8):
            case 0:
                out[at : at + 1] = bytes([rng.randrange(256)])
            case 1:
                out[at : at + size] = rng.randbytes(size)
            case 2:
                del out[at:]
            case 3:
                out[at:at] = rng.randbytes(size)
            case 4:
                out[at : at + 4] = rng.choice(
                    (b"\xff\xff\xff\xff", b"\x7f\xff\xff\xff", b"\0\0\0\0")
                )
            case 5:
                del out[at : at + size]
            case 6:
                start = rng.randrange(max(1, len(other)))
                out[at : at + size] = other[start : start + size]
            case 7:
                out[at:at] = out[at : at + size] * rng.choice((1, 2, 30))
    return bytes(out)


def one(path: Path, cache: Path) -> str:
    """Read one file as indexing would: "picture" or "notice"."""
    if path.suffix == ".xmp":
        data = path.read_bytes()
        try:
            stated = xmp.read_sidecar(data)
            xmp.with_stated(data, Stated(FileMark(5), stated.texts))
        except SidecarError:
            return "notice"
        return "picture"
    if path.suffix == ".jpg":
        with contextlib.suppress(SidecarError):
            xmp.embedded(path.read_bytes())
    (facts,) = read([Job(1, path, path.parent, cache)])
    if isinstance(facts, Failure):
        return "notice"
    seen = look(
        Job(1, path, path.parent, cache, key=facts.key, orientation=facts.facts.orientation)
    )
    return "notice" if isinstance(seen, Failure) else "picture"


def batch(
    folder: Path, files: dict[str, bytes], first: int, count: int, seed: int
) -> tuple[Counter[str], list[str], int]:
    """In a worker: damage and read files.

    Returns what became of them, unforeseen errors, and the memory in MB.
    """
    found: Counter[str] = Counter()
    errors = []
    names = sorted(files)
    for number in range(first, first + count):
        rng = random.Random(f"{seed} {number}")
        name = rng.choice(names)
        path = folder / f"{number}{Path(name).suffix}"
        path.write_bytes(damaged(files[name], files[rng.choice(names)], rng))
        try:
            found[one(path, folder / "cache")] += 1
        except Exception as error:
            errors.append(f"{number} {name}: {error!r}")
        path.unlink()
    return found, errors, resource.getrusage(resource.RUSAGE_SELF).ru_maxrss // 1024


def main(folder: Path, count: int, seed: int) -> None:
    files = seeds(folder)
    workers = Workers(count=2)
    found: Counter[str] = Counter()
    errors: list[str] = []
    deaths = memory = 0
    waiting = [(first, min(BATCH, count - first)) for first in range(0, count, BATCH)]
    while waiting:
        futures = [
            (part, workers.submit(batch, folder, files, *part, seed)) for part in waiting[:4]
        ]
        waiting = waiting[4:]
        for (first, size), future in futures:
            try:
                counted, wrong, most = future.result(120)
            except (BrokenExecutor, TimeoutError) as error:
                workers.restart()
                if size == 1:
                    deaths += 1
                    print(f"dead: {first} {error!r}", file=sys.stderr)
                else:
                    waiting += [(number, 1) for number in range(first, first + size)]
                continue
            found += counted
            errors += wrong
            memory = max(memory, most)
    workers.close()
    if errors:
        print("\n".join(errors[:20]), file=sys.stderr)
        sys.exit(1)
    print(count, found["picture"], found["notice"], deaths, len(errors), memory)


if __name__ == "__main__":
    main(Path(sys.argv[1]), int(sys.argv[2]), int(sys.argv[3]))
