"""The layout of a contact sheet on paper: where each picture and its words stand on which page."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Final, Literal

from winnow.say import say

Paper = Literal["A5", "A4", "A3", "Letter", "Legal", "Tabloid"]

# Width and height in mm: ISO 216 for A5 to A3; ANSI/ASME Y14.1 for Letter (A) and Tabloid (B);
# Legal is common practice in the same countries.
PAPERS: Final[dict[Paper, tuple[float, float]]] = {
    "A5": (148.0, 210.0),
    "A4": (210.0, 297.0),
    "A3": (297.0, 420.0),
    "Letter": (215.9, 279.4),
    "Legal": (215.9, 355.6),
    "Tabloid": (279.4, 431.8),
}
# What can be printed under a picture, with its name on screen, in the order in which it is printed.
UNDER: Final[dict[str, str]] = {
    "number": say("number"),
    "name": say("name"),
    "date": say("date and time"),
    "marks": say("stars and label"),
    "title": say("title"),
    "caption": say("caption"),
}
_ON_FIRST_LINE: Final = ("number", "name", "marks")
MARGIN_MM: Final = 10.0
HEADER_MM: Final = 11.0
FOOTER_MM: Final = 6.0
GAP_MM: Final = 5.0
LINE_MM: Final = 3.8
MOST_ROWS: Final = 16
_SMALLEST_MM: Final = 8.0
_NARROWEST_MM: Final = 16.0  # so that words have room under a tall picture
_MOST_SHRUNK: Final = 0.8  # of a row's height, to take in one picture more


class LayoutError(ValueError):
    """A layout that leaves no room for the pictures, in words."""


@dataclass(frozen=True, slots=True)
class SheetLayout:
    """How frames are laid out. ``under``: of ``UNDER``."""

    paper: Paper = "A4"
    landscape: bool = False
    rows: int = 5
    under: tuple[str, ...] = ("number", "name")

    @property
    def size(self) -> tuple[float, float]:
        """Width and height of the page, in mm."""
        width, height = PAPERS[self.paper]
        return (height, width) if self.landscape else (width, height)

    @property
    def lines(self) -> int:
        """How many lines stand under each picture."""
        first = any(name in self.under for name in _ON_FIRST_LINE)
        return first + sum(name not in _ON_FIRST_LINE for name in self.under)


@dataclass(frozen=True, slots=True)
class Box:
    """A rectangle on a page, from its top left corner, in mm."""

    x: float
    y: float
    width: float
    height: float


@dataclass(frozen=True, slots=True)
class Placed:
    """A frame on a page: its picture, and where its first line of words begins.

    ``index``: of the frames, from 0.
    """

    index: int
    picture: Box
    words: Box


def row_height(layout: SheetLayout) -> float:
    """How high the pictures of a row can be, in mm.

    Raises LayoutError where that is less than 8 mm.
    """
    if not 1 <= layout.rows <= MOST_ROWS:
        raise LayoutError(say("A page has 1 to {most} rows.", most=MOST_ROWS))
    room = layout.size[1] - 2 * MARGIN_MM - HEADER_MM - FOOTER_MM
    height = (room - (layout.rows - 1) * GAP_MM) / layout.rows - _words_mm(layout)
    if height < _SMALLEST_MM:
        raise LayoutError(
            say("The pictures would be smaller than 8 mm. Take fewer rows, or larger paper.")
        )
    return height


def _words_mm(layout: SheetLayout) -> float:
    return layout.lines * LINE_MM + (0.8 if layout.lines else 0)


def pages(layout: SheetLayout, sizes: Sequence[tuple[int, int]]) -> list[list[Placed]]:
    """Place frames on pages, in rows of equal height at their true proportions, as in the sheet on
    screen.

    ``sizes``: width and height of each picture, in any unit. A row that one picture more would fill
    is made a little lower to take it in. Raises LayoutError.
    """
    height = row_height(layout)
    words = _words_mm(layout)
    result: list[list[Placed]] = []
    for number, (first, widths, scale) in enumerate(_rows(layout, height, sizes)):
        page, row = divmod(number, layout.rows)
        if page == len(result):
            result.append([])
        baseline = MARGIN_MM + HEADER_MM + row * (height + words + GAP_MM) + height
        left = MARGIN_MM
        for index, room in enumerate(widths, first):
            wide, high = sizes[index]
            room *= scale
            fits = min(room / max(1, wide), height * scale / max(1, high))
            w, h = max(1, wide) * fits, max(1, high) * fits
            picture = Box(left + (room - w) / 2, baseline - h, w, h)
            result[-1].append(Placed(index, picture, Box(left, baseline + 0.8, room, words)))
            left += room + GAP_MM
    return result


def _rows(
    layout: SheetLayout, height: float, sizes: Sequence[tuple[int, int]]
) -> Iterator[tuple[int, list[float], float]]:
    """Each row: the index of its first picture, the room of each in mm, and the scale at which they
    fit."""
    whole = layout.size[0] - 2 * MARGIN_MM
    first = 0
    widths: list[float] = []
    for index, (wide, high) in enumerate(sizes):
        width = min(whole, max(_NARROWEST_MM, height * max(1, wide) / max(1, high)))
        room = whole - len(widths) * GAP_MM
        total = sum(widths) + width
        if total > room:
            if widths and room / total < _MOST_SHRUNK:
                yield first, widths, 1.0
                first, widths = index, [width]
            else:
                yield first, [*widths, width], room / total
                first, widths = index + 1, []
            continue
        widths.append(width)
    if widths:
        yield first, widths, 1.0


def lines_under(layout: SheetLayout, values: Mapping[str, str]) -> list[str]:
    """The lines under a picture. ``values``: of ``UNDER``."""
    first = "  ".join(
        values[name] for name in _ON_FIRST_LINE if name in layout.under and values.get(name)
    )
    lines = [first] if any(name in layout.under for name in _ON_FIRST_LINE) else []
    return lines + [
        " ".join(values.get(name, "").split())
        for name in UNDER
        if name in layout.under and name not in _ON_FIRST_LINE
    ]
