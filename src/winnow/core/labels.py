"""The label set: five labels, each told by colour, shape and letter, with a meaning in words."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final, Literal

Shape = Literal["disc", "square", "triangle", "diamond", "hexagon"]


@dataclass(frozen=True, slots=True)
class Label:
    """One label. ``letter`` is its name in marks; ``written_as`` is its text in files."""

    letter: str
    name: str
    meaning: str
    shape: Shape
    colour: str
    written_as: str


# Colours: from the palette of Okabe and Ito, which people with the common colour vision
# deficiencies tell apart ("Color Universal Design", 2008). From memory, darkened a little so
# that white letters have a contrast of 4.5 or more.
STANDARD_SET: Final = (
    Label("R", "Retouch", "needs work before it goes out", "disc", "#00609c", "Retouch"),
    Label("A", "Album", "for the printed album", "square", "#b04a00", "Album"),
    Label("W", "Web", "for the web page", "triangle", "#7a6400", "Web"),
    Label("P", "Print", "ordered as a print", "diamond", "#8c3f76", "Print"),
    Label("T", "Talk over", "to be talked over with the client", "hexagon", "#00694e", "Talk over"),
)
