"""Takes the pictures of docs/figures.md from the demo shoot: ``python scripts/figures.py
FOLDER``."""

from __future__ import annotations

import sys
from pathlib import Path

from PIL import Image, ImageDraw, ImageFont, ImageOps

from winnow.core.frames import Kind
from winnow.core.measure import faces as core
from winnow.core.measure import focus_map
from winnow.demo import shoot
from winnow.photos import faces, jpegs, pictures
from winnow.photos.metadata import read_facts

OUT = Path(__file__).parent.parent / "docs" / "figures"
# One person, the same take: as it should be, focused elsewhere, shaken.
BLUR = (("QH2_0063", "sharp"), ("QH2_0057", "focus elsewhere"), ("QH2_0064", "shaken"))
EYES = ("QH2_9986", "QH2_9990", "QH2_9987", "QH2_9984")
SIZE = 300


def face_of(folder: Path, name: str) -> tuple[Image.Image, core.Face]:
    """A frame, upright, and its largest face with the blur of its eyes."""
    data = (folder / f"{name}.jpg").read_bytes()
    look = pictures.look(data, Kind.JPEG, read_facts(data).orientation)
    found = faces.find(jpegs.rgb_of_jpeg(look.preview))
    (face, *_) = core.with_eyes_measured(found, look.focus)
    return ImageOps.exif_transpose(Image.open(folder / f"{name}.jpg")), face


def around(x: float, y: float, side: float) -> tuple[int, int, int, int]:
    """The square around a point, in px."""
    half = side / 2
    return round(x - half), round(y - half), round(x + half), round(y + half)


def strip(parts: list[tuple[Image.Image, str]], name: str) -> None:
    """Pictures beside each other, each with its words below."""
    sheet = Image.new("RGB", (len(parts) * (SIZE + 8) - 8, SIZE + 28), "white")
    pen, font = ImageDraw.Draw(sheet), ImageFont.load_default(15)
    for n, (picture, words) in enumerate(parts):
        sheet.paste(picture, (n * (SIZE + 8), 0))
        pen.text((n * (SIZE + 8) + 2, SIZE + 5), words, fill="black", font=font)
    sheet.save(OUT / f"{name}.png", optimize=True)


def main() -> None:
    """Make both strips."""
    folder = Path(sys.argv[1])
    for maker in shoot.make_behind(folder):
        maker.join()
    OUT.mkdir(exist_ok=True)
    blurred = []
    for name, words in BLUR:
        picture, face = face_of(folder, name)
        x, y = face.eyes[1].x * picture.width, face.eyes[1].y * picture.height
        box = around(x, y, SIZE)
        blur = face.blur if face.blur is not None else focus_map.MOST
        blurred.append((picture.crop(box), f"{words}, eyes {blur:.1f} px"))
    strip(blurred, "blur")
    eyes = []
    for name in EYES:
        picture, face = face_of(folder, name)
        x, y = face.between_eyes
        side = 1.1 * (face.box[2] - face.box[0]) * picture.width
        x, y = x * picture.width, y * picture.height
        box = around(x, y, side)
        crop = picture.crop(box).resize((SIZE, SIZE), Image.Resampling.LANCZOS)
        word = "closed" if core.are_closed(face, core.CLOSED_BELOW) else "open"
        eyes.append((crop, f"{word}: lids {100 * (face.gap or 0):.0f} % apart"))
    strip(eyes, "eyes")


if __name__ == "__main__":
    main()
