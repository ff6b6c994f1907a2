"""The free photographs that the frames are made of, and in which package each is found."""

from __future__ import annotations

import importlib.util
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Final, Literal

import cv2
import numpy as np
from numpy.typing import NDArray

Light = NDArray[np.float32]
Part = Literal["tuned", "measured"]

WIDTH: Final = 1248
HEIGHT: Final = 832
# What surrounds a frame, px: a hand that moves shows some of it.
MARGIN: Final = 64


@dataclass(frozen=True, slots=True)
class Photograph:
    """``part``: whether methods may be tuned on it.

    Licences: Debian's mate-backgrounds GPL 2 or later; scikit-image's CC0 or public domain, but for
    the motorcycle of the Middlebury stereo benchmark (2014), which states none; scikit-learn's two
    CC BY 2.0. All are read where they lie, and none is copied.
    """

    file: str
    part: Part
    pattern: bool = False


PHOTOGRAPHS: Final = (
    Photograph("Garden.jpg", "tuned"),
    Photograph("Dune.jpg", "tuned"),
    Photograph("Aqua.jpg", "tuned"),
    Photograph("GreenMeadow.jpg", "tuned"),
    Photograph("Blinds.jpg", "tuned", pattern=True),
    Photograph("LadyBird.jpg", "tuned"),
    Photograph("china.jpg", "tuned"),
    Photograph("coffee.png", "tuned"),
    Photograph("brick.png", "tuned", pattern=True),
    Photograph("motorcycle_left.png", "tuned"),
    Photograph("camera.png", "tuned"),
    Photograph("Wood.jpg", "measured", pattern=True),
    Photograph("TwoWings.jpg", "measured"),
    Photograph("RainDrops.jpg", "measured"),
    Photograph("FreshFlower.jpg", "measured"),
    Photograph("YellowFlower.jpg", "measured"),
    Photograph("Elephants_5640x3172.jpg", "measured"),
    Photograph("flower.jpg", "measured"),
    Photograph("gravel.png", "measured"),
    Photograph("grass.png", "measured"),
    Photograph("chelsea.png", "measured"),
    Photograph("rocket.jpg", "measured"),
    Photograph("ihc.png", "measured"),
)


@dataclass(frozen=True, slots=True)
class Scene:
    """A photograph as light, larger than a frame by ``MARGIN`` on each side.

    ``light``: linear, 0…1, (HEIGHT + 2 MARGIN, WIDTH + 2 MARGIN, 3); ``x``, ``y``: where it shows
    most detail, px of the frame.
    """

    photograph: Photograph
    light: Light
    x: float
    y: float


def scenes(folders: Sequence[Path], part: Part) -> Iterator[Scene]:
    """The scenes of a part. Photographs that lie in none of the folders raise FileNotFoundError,
    with their names."""
    where = {path.name: path for folder in [*folders, _of_scikit_image()] for path in _all(folder)}
    wanted = [photograph for photograph in PHOTOGRAPHS if photograph.part == part]
    if missing := [photograph.file for photograph in wanted if photograph.file not in where]:
        raise FileNotFoundError(", ".join(missing))
    for photograph in wanted:
        yield _scene(photograph, where[photograph.file])


def _all(folder: Path) -> Iterator[Path]:
    return (path for path in folder.rglob("*") if path.suffix in (".jpg", ".png"))


def _of_scikit_image() -> Path:
    found = importlib.util.find_spec("skimage")
    assert found is not None
    assert found.origin is not None
    return Path(found.origin).parent / "data"


def _scene(photograph: Photograph, path: Path) -> Scene:
    image = cv2.cvtColor(cv2.imread(str(path), cv2.IMREAD_COLOR), cv2.COLOR_BGR2RGB)
    width, height = WIDTH + 2 * MARGIN, HEIGHT + 2 * MARGIN
    # The smaller a large photograph is shown, the less of its own blur is left.
    scale = max(width / image.shape[1], height / image.shape[0])
    if scale < 1:
        image = cv2.resize(image, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA)
    # Small ones go on as in a mirror: enlarged, they would show their own blur.
    down, across = (
        max(0, wanted - had) for wanted, had in zip((height, width), image.shape, strict=False)
    )
    image = np.pad(image, ((0, down), (0, across), (0, 0)), mode="symmetric")[:height, :width]
    light = _linear(image)
    inner = light[MARGIN:-MARGIN, MARGIN:-MARGIN].mean(2)
    detail = cv2.GaussianBlur(np.abs(cv2.Laplacian(inner, cv2.CV_32F)), (0, 0), 60)
    edge = 160
    y, x = np.unravel_index(np.argmax(detail[edge:-edge, edge:-edge]), (HEIGHT - 320, WIDTH - 320))
    return Scene(photograph, light, float(x + edge), float(y + edge))


def _linear(image: NDArray[np.uint8]) -> Light:
    """Linear light of 8-bit sRGB (IEC 61966-2-1), so that 97 % of it are below 0.8."""
    x = np.arange(256) / 255
    table = np.where(x <= 0.04045, x / 12.92, ((x + 0.055) / 1.055) ** 2.4).astype(np.float32)
    light = table[image]
    out: Light = light * np.float32(0.8 / max(0.05, float(np.quantile(light, 0.97))))
    return out
