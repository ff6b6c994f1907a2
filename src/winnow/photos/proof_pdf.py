"""Contact sheets as PDF, with their fonts embedded, and what the fonts that ship with Winnow can't
print."""

from __future__ import annotations

import io
from collections.abc import Callable, Iterable, Sequence
from functools import lru_cache
from importlib.resources import files
from typing import TYPE_CHECKING, Final

from PIL import Image

from winnow.core.deliver.proof_sheet import (
    FOOTER_MM,
    HEADER_MM,
    LINE_MM,
    MARGIN_MM,
    Placed,
    SheetLayout,
)
from winnow.say import say

# They take a third of a second to be loaded: only where a sheet is made, not at each start.
if TYPE_CHECKING:
    from fpdf import FPDF

FONT: Final = "DejaVuSansCondensed.ttf"
BOLD: Final = "DejaVuSansCondensed-Bold.ttf"
_DPI: Final = 300
_MM_PER_INCH: Final = 25.4
_QUALITY: Final = 88
_FAMILY: Final = "sheet"
_WORDS_PT: Final = 8.0


class Stopped(Exception):
    """The person asked for it."""


def font_path(name: str = FONT) -> str:
    """Where a font that ships with Winnow is."""
    return str(files("winnow.photos") / "fonts" / name)


def fonts_are_there() -> bool:
    """Whether the fonts are installed."""
    return (files("winnow.photos") / "fonts" / FONT).is_file()


@lru_cache(maxsize=1)
def _known() -> frozenset[int]:
    from fontTools.ttLib import TTFont

    with TTFont(font_path(), lazy=True) as font:
        return frozenset(font.getBestCmap())


def unprintable(texts: Iterable[str]) -> str:
    """The characters of some texts that the font has no picture of, each once."""
    known = _known()
    missing = {c: None for text in texts for c in text if ord(c) not in known and not c.isspace()}
    return "".join(missing)


def make(
    layout: SheetLayout,
    pages: Sequence[Sequence[Placed]],
    title: str,
    picture: Callable[[int], bytes | None],
    lines: Callable[[int], Sequence[str]],
    tick: Callable[[int], None] = lambda done: None,
    stopping: Callable[[], bool] = lambda: False,
) -> bytes:
    """A contact sheet as PDF.

    ``picture``: a frame's picture as JPEG by its index, None where there is none; ``lines``: those
    under it. ``tick`` is told how many frames are done. Raises Stopped.
    """
    from fpdf import FPDF

    pdf = FPDF(unit="mm", format=layout.size)
    pdf.set_auto_page_break(False)
    pdf.set_margin(0)
    pdf.c_margin = 0
    pdf.add_font(_FAMILY, "", font_path())
    pdf.add_font(_FAMILY, "B", font_path(BOLD))
    pdf.set_title(title)
    pdf.set_creator("Winnow")
    try:
        _fill(pdf, layout, pages, title, picture, lines, tick, stopping)
        return bytes(pdf.output())
    finally:
        for font in pdf.fonts.values():
            font.ttfont.close()  # type: ignore[union-attr]


def _fill(
    pdf: FPDF,
    layout: SheetLayout,
    pages: Sequence[Sequence[Placed]],
    title: str,
    picture: Callable[[int], bytes | None],
    lines: Callable[[int], Sequence[str]],
    tick: Callable[[int], None],
    stopping: Callable[[], bool],
) -> None:
    width, height = layout.size
    done = 0
    for number, page in enumerate(pages, 1):
        pdf.add_page()
        pdf.set_text_color(30)
        pdf.set_font(_FAMILY, "B", 12)
        pdf.set_xy(MARGIN_MM, MARGIN_MM)
        pdf.cell(width - 2 * MARGIN_MM, 6, _fitted(pdf, title, width - 2 * MARGIN_MM - 40))
        pdf.set_font(_FAMILY, "", 8)
        pdf.set_xy(MARGIN_MM, height - MARGIN_MM - FOOTER_MM + 2)
        pdf.cell(
            width - 2 * MARGIN_MM,
            4,
            say("page {number} of {count}", number=number, count=len(pages)),
            align="R",
        )
        pdf.set_draw_color(170)
        pdf.set_line_width(0.2)
        rule = MARGIN_MM + HEADER_MM - 3.5
        pdf.line(MARGIN_MM, rule, width - MARGIN_MM, rule)
        for placed in page:
            if stopping():
                raise Stopped
            _put(pdf, placed, picture(placed.index), lines(placed.index))
            done += 1
            tick(done)


def _put(pdf: FPDF, placed: Placed, picture: bytes | None, lines: Sequence[str]) -> None:
    box = placed.picture
    if picture is None:
        pdf.rect(box.x, box.y, box.width, box.height)
        pdf.set_font(_FAMILY, "", _WORDS_PT)
        pdf.set_xy(box.x, box.y + box.height / 2 - 2)
        pdf.cell(box.width, 4, say("no picture"), align="C")
    else:
        data = io.BytesIO(sized(picture, box.width / _MM_PER_INCH * _DPI, _QUALITY))
        pdf.image(data, box.x, box.y, box.width, box.height)
    for n, line in enumerate(lines):
        pdf.set_font(_FAMILY, "B" if n == 0 else "", _WORDS_PT)
        pdf.set_xy(placed.words.x, placed.words.y + n * LINE_MM)
        pdf.cell(placed.words.width, LINE_MM, _fitted(pdf, line, placed.words.width), align="C")


def sized(picture: bytes, width_px: float, quality: int) -> bytes:
    """A JPEG at most so wide, without any metadata, in sRGB as the picture cache has it."""
    with Image.open(io.BytesIO(picture)) as opened:
        scale = min(1.0, width_px / opened.width)
        size = (max(1, round(opened.width * scale)), max(1, round(opened.height * scale)))
        opened.draft("RGB", size)
        image = opened.convert("RGB").resize(size, Image.Resampling.LANCZOS)
    image.info.clear()  # a comment would be written again
    out = io.BytesIO()
    image.save(out, "JPEG", quality=quality, subsampling=0)
    return out.getvalue()


def _fitted(pdf: FPDF, text: str, width: float) -> str:
    """As much of a text as fits, with "…" for the rest."""
    width -= 2 * pdf.c_margin
    if pdf.get_string_width(text) <= width:
        return text
    low, high = 0, len(text)
    while low < high:
        middle = (low + high + 1) // 2
        if pdf.get_string_width(text[:middle].rstrip() + "…") <= width:
            low = middle
        else:
            high = middle - 1
    return text[:low].rstrip() + "…"


def turned(picture: bytes, quarters: int) -> bytes:
    """A JPEG turned by quarter turns to the right."""
    if quarters % 4 == 0:
        return picture
    how = (Image.Transpose.ROTATE_270, Image.Transpose.ROTATE_180, Image.Transpose.ROTATE_90)
    with Image.open(io.BytesIO(picture)) as opened:
        image = opened.convert("RGB").transpose(how[quarters % 4 - 1])
    image.info.clear()  # a comment would be written again
    out = io.BytesIO()
    image.save(out, "JPEG", quality=95, subsampling=0)
    return out.getvalue()
