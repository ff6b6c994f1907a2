"""Proof galleries: a folder with a page and pictures, which opens without a server and names no
place."""

from __future__ import annotations

import html
import io
import json
import math
from collections.abc import Sequence
from dataclasses import dataclass
from importlib.resources import files
from typing import Final

from PIL import Image, ImageDraw, ImageFont

from winnow.photos.proof_pdf import BOLD, font_path
from winnow.say import LANGUAGE, say

SMALL_PX: Final = 640  # long edge in the gallery's sheet
_QUALITY: Final = 86
_DATA_BEGINS: Final = '<script type="application/json" id="proof">'
_DATA_ENDS: Final = "</script>"


@dataclass(frozen=True, slots=True)
class ProofFrame:
    """A frame in a gallery.

    ``name`` is "" where names are not shown; sizes in px of the large picture.
    """

    number: int
    name: str
    width: int
    height: int


def page_is_there() -> bool:
    """Whether the gallery's page is built."""
    return (files("winnow.photos") / "gallery" / "gallery.js").is_file()


def page(
    token: str, title: str, greeting: str, wanted: int | None, frames: Sequence[ProofFrame]
) -> bytes:
    """The gallery's page, with its script, styles and list of frames within: it needs nothing but
    the pictures."""
    built = files("winnow.photos") / "gallery"
    script = (built / "gallery.js").read_text("utf-8")
    style = (built / "gallery.css").read_text("utf-8")
    data = {
        "token": token,
        "title": title,
        "greeting": greeting,
        "wanted": wanted,
        "frames": [
            {"number": f.number, "name": f.name, "width": f.width, "height": f.height}
            for f in frames
        ],
    }
    # No text can end the element that holds it.
    listed = json.dumps(data, ensure_ascii=False).replace("<", "\\u003c")
    needs = html.escape(say("This gallery needs JavaScript, which is switched off here."))
    return (
        '<!doctype html>\n<html lang="en">\n<head>\n<meta charset="utf-8">\n'
        '<meta name="viewport" content="width=device-width, initial-scale=1">\n'
        '<meta name="referrer" content="no-referrer">\n'
        '<meta name="robots" content="noindex">\n'
        '<meta http-equiv="Content-Security-Policy" content="default-src \'none\'; '
        "img-src 'self' file:; style-src 'unsafe-inline'; script-src 'unsafe-inline'; "
        "base-uri 'none'; form-action 'none'\">\n"
        f"<title>{html.escape(title)}</title>\n<style>{style}</style>\n</head>\n<body>\n"
        f'<div id="page"><noscript lang="{LANGUAGE}">{needs}</noscript></div>\n'
        f"{_DATA_BEGINS}{listed}{_DATA_ENDS}\n<script>{script}</script>\n</body>\n</html>\n"
    ).encode()


def listed_in(page: str) -> dict[str, object]:
    """What a gallery's page lists. Raises ValueError for another page."""
    start = page.find(_DATA_BEGINS)
    if start < 0:
        raise ValueError("this is not the page of a proof gallery")
    start += len(_DATA_BEGINS)
    listed = json.loads(page[start : page.index(_DATA_ENDS, start)])
    assert isinstance(listed, dict)
    return listed


def picture(source: bytes, longest: int, watermark: str) -> tuple[bytes, tuple[int, int]]:
    """A picture for the gallery and its size in px: made anew, so that it has no metadata at all.

    ``source``: a JPEG in sRGB; ``longest``: px of its long edge; ``watermark``: written across it,
    unless "".
    """
    with Image.open(io.BytesIO(source)) as opened:
        scale = min(1.0, longest / max(opened.size))
        size = (max(1, round(opened.width * scale)), max(1, round(opened.height * scale)))
        opened.draft("RGB", size)
        image = opened.convert("RGB").resize(size, Image.Resampling.LANCZOS)
    if watermark:
        image = _watermarked(image, watermark)
    image.info.clear()  # a comment would be written again
    out = io.BytesIO()
    image.save(out, "JPEG", quality=_QUALITY, progressive=True)
    return out.getvalue(), image.size


def _watermarked(image: Image.Image, text: str) -> Image.Image:
    """A text along the diagonal, light with a dark edge, so that it is seen on any ground."""
    diagonal = math.hypot(*image.size)
    trial = ImageFont.truetype(font_path(BOLD), 100)
    wide = max(1.0, trial.getlength(text))
    points = max(8.0, min(100 * 0.7 * diagonal / wide, image.height / 6))
    font = ImageFont.truetype(font_path(BOLD), points)
    left, top, right, bottom = font.getbbox(text)
    edge = max(1, round(points / 30))
    layer = Image.new("RGBA", (round(right - left) + 4 * edge, round(bottom - top) + 4 * edge))
    ImageDraw.Draw(layer).text(
        (2 * edge - left, 2 * edge - top),
        text,
        font=font,
        fill=(255, 255, 255, 110),
        stroke_width=edge,
        stroke_fill=(0, 0, 0, 70),
    )
    angle = math.degrees(math.atan2(image.height, image.width))
    turned = layer.rotate(angle, Image.Resampling.BICUBIC, expand=True)
    at = ((image.width - turned.width) // 2, (image.height - turned.height) // 2)
    image.paste(turned, at, turned)
    return image
