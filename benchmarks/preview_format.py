"""Which format and quality a preview is kept in: `python -m benchmarks.preview_format.py`.

Size on disk, time to make one, likeness to the original, and time to decode in Chromium, of
previews with a long edge of 2,048 px: free photographs of scikit-image enlarged with grain, and
demo frames.
"""

from __future__ import annotations

import base64
import io
import statistics
import time
from collections.abc import Callable

import cv2
import numpy as np
import simplejpeg
import skimage.data
from PIL import Image
from tests.browser.chromium import Page, chromium

from winnow.demo import develop, evening

SIZE = (2048, 1366)
DECODES = 8
DECODE = """
const [text, type, times, done] = arguments;
const bytes = Uint8Array.from(atob(text), (c) => c.charCodeAt(0));
(async () => {
  const taken = [];
  for (let n = 0; n < times; n++) {
    const start = performance.now();
    const bitmap = await createImageBitmap(new Blob([bytes], { type }));
    taken.push(performance.now() - start);
    bitmap.close();
  }
  done(taken);
})();
"""


def sources() -> list[np.ndarray]:
    """Pictures as cameras give them, at the size of a preview."""
    rng = np.random.default_rng(1)
    found = []
    for name in ("coffee", "chelsea", "rocket"):
        large = Image.fromarray(getattr(skimage.data, name)()).resize(
            (4096, 2732), Image.Resampling.LANCZOS
        )
        grainy = np.asarray(large) + rng.normal(0, 6, (2732, 4096, 1))
        whole = np.clip(grainy, 0, 255).astype(np.uint8)
        found.append(cv2.resize(whole, SIZE, interpolation=cv2.INTER_AREA))
    groups = evening.groups()
    wanted = {"18:47:10", "19:12:00", "19:25:05", "20:14:30"}
    for frame in evening.frames():
        if groups[frame.group].clock in wanted and frame.number == 0:
            _, pixels = develop.develop(groups[frame.group], frame, 1)
            found.append(cv2.resize(pixels, SIZE, interpolation=cv2.INTER_CUBIC))
    return found


def pillow(kind: str, **options: object) -> Callable[[np.ndarray], bytes]:
    """An encoder of Pillow's."""

    def encode(pixels: np.ndarray) -> bytes:
        out = io.BytesIO()
        Image.fromarray(pixels).save(out, kind, **options)
        return out.getvalue()

    return encode


def jpeg(quality: int) -> Callable[[np.ndarray], bytes]:
    """libjpeg-turbo."""
    return lambda pixels: simplejpeg.encode_jpeg(pixels, quality, "RGB", "420", fastdct=False)


FORMATS: dict[str, tuple[str, Callable[[np.ndarray], bytes]]] = {
    "JPEG 80": ("image/jpeg", jpeg(80)),
    "JPEG 85": ("image/jpeg", jpeg(85)),
    "JPEG 90": ("image/jpeg", jpeg(90)),
    "WebP 80, method 1": ("image/webp", pillow("WEBP", quality=80, method=1)),
    "WebP 80, method 4": ("image/webp", pillow("WEBP", quality=80, method=4)),
    "AVIF 65, speed 8": ("image/avif", pillow("AVIF", quality=65, speed=8)),
}


def psnr(one: np.ndarray, other: np.ndarray) -> float:
    """Peak signal to noise in dB."""
    return float(10 * np.log10(255**2 / np.mean((one.astype(float) - other) ** 2)))


def decode_times(page: Page, data: bytes, kind: str) -> list[float]:
    """How long Chromium takes to decode a picture, in ms."""
    text = base64.b64encode(data).decode()
    taken: list[float] = page.driver.execute_async_script(DECODE, text, kind, DECODES)
    return taken


def main() -> None:
    """Print the table."""
    print("| format | size | made in | PSNR | decoded in Chromium |\n|---|---|---|---|---|")
    originals = sources()
    with chromium() as browser, browser.page() as page:
        page.driver.set_script_timeout(120)
        for name, (kind, encode) in FORMATS.items():
            sizes, made, likeness, decoded = [], [], [], []
            for original in originals:
                start = time.process_time()
                data = encode(original)
                made.append((time.process_time() - start) * 1000)
                sizes.append(len(data) / 1000)
                with Image.open(io.BytesIO(data)) as image:
                    likeness.append(psnr(np.asarray(image.convert("RGB")), original))
                decoded += decode_times(page, data, kind)
            print(
                f"| {name} | {statistics.mean(sizes):.0f} kB | {statistics.median(made):.0f} ms | "
                f"{statistics.mean(likeness):.1f} dB | {statistics.median(decoded):.0f} ms |",
                flush=True,
            )


if __name__ == "__main__":
    main()
