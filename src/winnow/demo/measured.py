"""What Winnow measures of a frame of the demo, without anything from the truth."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from winnow.core.frames import Kind
from winnow.core.measure import extra_blur, faces, focus_map
from winnow.core.measure.faces import Face
from winnow.photos import face_numbers, jpegs, pictures
from winnow.photos import faces as face_finder
from winnow.photos.metadata import read_facts
from winnow.photos.pictures import gray_of_preview


@dataclass(frozen=True, slots=True)
class Measured:
    """A frame of the demo as Winnow sees it; units are those of ``core``."""

    likeness: bytes
    brightness_ev: float
    levels: tuple[float, ...]
    flash: bool | None
    map_: bytes
    taken_at: float
    gray: NDArray[np.uint8]
    width: int
    height: int
    faces: list[Face]
    focus_point: tuple[float, float] | None
    numbers: list[NDArray[np.float32]]
    path: Path
    orientation: int

    def close(self, x: float, y: float, reach: int) -> NDArray[np.uint8] | None:
        """Its brightness at full size around a place, px; see ``extra_blur.cut``."""
        whole = pictures.full_size_luma(self.path.read_bytes(), Kind.JPEG, self.orientation)
        return None if whole is None else extra_blur.cut(whole, x, y, reach)


def of_picture(path: Path) -> Measured:
    """Decode a picture and measure it as indexing does."""
    data = path.read_bytes()
    facts = read_facts(data)
    seen = pictures.look(data, Kind.JPEG, facts.orientation)
    rgb = jpegs.rgb_of_jpeg(seen.preview)
    listed = faces.ordered(faces.with_eyes_measured(face_finder.find(rgb), seen.focus))
    return Measured(
        seen.figures.likeness,
        seen.figures.exposure.brightness_ev,
        seen.figures.exposure.levels,
        facts.flash,
        focus_map.pack(seen.focus),
        facts.taken_at or 0,
        gray_of_preview(seen.preview),
        seen.width,
        seen.height,
        listed,
        facts.focus_point,
        [face_numbers.numbers_of(rgb, face, seen.width) for face in listed],
        path,
        facts.orientation,
    )
