"""What is known of a frame: what its file states of the exposure, and the table of all facts.

``TABLE`` is the one home of facts: filters, their choices, lists, the facts panel, the API and its
docs follow from it.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Final, Literal

from winnow.core.files.merge import NOTHING_STATED, Stated
from winnow.say import say


@dataclass(frozen=True, slots=True)
class Facts:
    """What a file says of its exposure. Every fact may be missing.

    ``taken_at``: seconds since 1970 of the camera's own clock, with fraction, no offset applied.
    ``utc_offset_min``: minutes. ``focal_mm``: millimetres as engraved. ``shutter_s``: seconds.
    ``orientation``: 1 to 8 as in Exif. ``drive_mode``, ``focus_mode``: in the camera's own words.
    ``focus_point``: x and y where the camera focused, 0…1 of the upright picture. ``place``:
    latitude and longitude in degrees, north and east positive. ``optional_space``: the colours are
    in DCF's optional colour space. ``width``, ``height``: px, as stored.
    """

    taken_at: float | None = None
    utc_offset_min: int | None = None
    camera: str | None = None
    lens: str | None = None
    focal_mm: float | None = None
    aperture: float | None = None
    shutter_s: float | None = None
    iso: int | None = None
    flash: bool | None = None
    orientation: int = 1
    width: int | None = None
    height: int | None = None
    thumbnail: bytes | None = None
    serial: str | None = None
    lens_serial: str | None = None
    exposure_bias_ev: float | None = None
    drive_mode: str | None = None
    focus_mode: str | None = None
    program: str | None = None
    focus_point: tuple[float, float] | None = None
    place: tuple[float, float] | None = None
    optional_space: bool = False
    described: Stated = NOTHING_STATED


# Raised when a reader tells more, or otherwise: the facts of old shoots are read anew, without
# decoding.
FACTS_VERSION: Final = "5"

Value = str | float | bool
Kind = Literal["number", "time", "text", "label", "hint", "person", "flags"]


@dataclass(frozen=True, slots=True)
class Fact:
    """A row of the table.

    ``name``: in the written form of filters, and in the API. ``words``: in sentences. ``column``:
    in the table of frames, in lists, and in ``Facts``. ``unit``: behind a value. ``places``:
    decimals that count; None for all. ``exact``: whether equal means the very same number, or
    within half a percent, as cameras round. ``signed``: it is less than nothing, too.

    ``offered``: the word on its button in the filter panel. ``bins``: the width of the steps in
    which a number that runs on is counted there. ``flags``: of a fact that is one of a few things,
    their names with their words.

    ``title``: its name in the facts panel; the file states it, and its reader fills the field of
    this name in ``Facts``. ``alone``: how its value is told where no name stands beside it, in the
    line of the exposure. ``private``: not for guests, and not in filters.

    ``asked``: what it is, and what can be asked for, for the docs; ("", "") where it isn't
    compared.
    """

    name: str
    words: str
    kind: Kind
    column: str
    asked: tuple[str, str]
    unit: str = ""
    places: int | None = None
    exact: bool = False
    signed: bool = False
    offered: str = ""
    bins: float | None = None
    flags: Mapping[str, str] = field(default_factory=dict)
    title: str = ""
    alone: str = ""
    private: bool = False

    @property
    def stated(self) -> bool:
        """Whether the file states it."""
        return bool(self.title)

    @property
    def clicked(self) -> bool:
        """Whether its values can be counted and clicked: people are a view of their own, and free
        text can't be, unless it is offered."""
        return self.kind not in ("text", "person") or bool(self.offered)

    @property
    def ranged(self) -> bool:
        """Whether from … to can be asked for."""
        return self.kind in ("number", "time")


_TEXT: Final = "text; `none`"
# In the order of the facts panel, the line of the exposure, and the buttons of the filter panel.
TABLE: Final = (
    Fact(
        "camera", say("camera"), "text", "camera", ("camera", "text"),
        offered=say("camera"), title=say("Camera"),
    ),
    Fact(
        "serial", say("camera number"), "text", "serial", ("", ""),
        title=say("Camera number"), private=True,
    ),
    Fact("lens", say("lens"), "text", "lens", ("lens", "text"), offered=say("lens"),
    title=say("Lens")),
    Fact(
        "lensserial", say("lens number"), "text", "lens_serial", ("", ""),
        title=say("Lens number"), private=True,
    ),
    Fact(
        "shutter", say("shutter"), "number", "shutter_s", ("exposure time", "seconds: 1/250, 0.5"),
        unit=say(" s"), offered=say("shutter"), title=say("Shutter"), alone="{value}",
    ),
    Fact(
        "f", say("aperture"), "number", "aperture", ("aperture", "2.8"),
        places=2, offered=say("aperture"), title=say("Aperture"), alone="{value}",
    ),
    Fact(
        "iso", say("ISO"), "number", "iso", ("sensitivity", "100, 800..3200"),
        exact=True, offered=say("ISO"), title=say("ISO"), alone=say("ISO {value}"),
    ),
    Fact(
        "mm", say("focal length"), "number", "focal_mm", ("focal length", "mm, as the lens says"),
        unit=say(" mm"), places=1, offered=say("focal length"), title=say("Focal length"),
        alone="{value}",
    ),
    Fact(
        "flash", say("flash"), "flags", "flash", ("", ""),
        offered=say("flash"), flags={"flash": say("with flash")}, title=say("Flash"),
        alone="{value}",
    ),
    Fact(
        "bias", say("exposure compensation"), "number", "exposure_bias_ev",
        ("exposure compensation", "EV: -0.7, 1"),
        unit=say(" EV"), places=2, signed=True, title=say("Exposure compensation"),
    ),
    Fact(
        "drive", say("drive"), "text", "drive_mode", ("drive mode, in the camera’s words", "text"),
        title=say("Drive"),
    ),
    Fact(
        "focusing", say("focus mode"), "text", "focus_mode", ("focus mode, in the camera’s words",
        "text"),
        title=say("Focus mode"),
    ),
    Fact(
        "program", say("program"), "text", "program", ("exposure program, as Exif names it",
        "manual, aperture priority …"),
        title=say("Program"),
    ),
    Fact(
        "orientation", say("orientation"), "flags", "", ("", ""), offered=say("orientation"),
        flags={"upright": say("upright"), "wide": say("wider than high")},
    ),
    Fact(
        "type", say("file type"), "text", "kind", ("file type", "jpeg, raw, heic …"),
        offered=say("file type"),
    ),
    Fact(
        "time", say("taken"), "time", "time_s", ("time of day it was taken", "19:00, by the clock "
                                                                             "set right"),
        offered=say("time of day"), bins=900,
    ),
    Fact(
        "day", say("day"), "text", "day", ("day it was taken", "2026-10-03, or a part of it"),
        offered=say("day"),
    ),
    Fact(
        "folder", say("folder"), "text", "subfolder",
        ("folder below the shoot’s own", "text, with “/” between folders"),
        offered=say("folder"),
    ),
    Fact(
        "blur", say("blur"), "number", "blur_px", ("blur of the sharpest part", "px at 100 %"),
        unit=say(" px"), offered=say("blur"), bins=0.25,
    ),
    Fact(
        "faces", say("faces"), "number", "faces", ("faces found in it", "number"),
        exact=True, offered=say("faces"),
    ),
    Fact(
        "smiling", say("smiles"), "flags", "", ("", ""), offered=say("smiles"),
        flags={"smiling": say("somebody smiles")},
    ),
    Fact(
        "facing", say("gaze"), "flags", "", ("", ""), offered=say("gaze"),
        flags={"facing": say("looking at the camera")},
    ),
    Fact(
        "group", say("frames in its group"), "number", "group_size", ("frames in its group",
        "number"),
        exact=True, offered=say("group size"),
    ),
    Fact(
        "hint", say("hint"), "hint", "hints", ("a kind of hint that names it", "its name; `none`"),
        offered=say("hint"),
    ),
    Fact(
        "person", say("person"), "person", "person",
        ("a person who is in it, where people are told apart", "a number, as in “Who is in it”"),
        exact=True,
    ),
    Fact(
        "keyword", say("keyword"), "text", "keywords", ("one of its keywords", _TEXT),
        offered=say("keyword"),
    ),
    Fact("caption", say("caption"), "text", "caption", ("caption", _TEXT), offered=say("caption")),
    Fact(
        "delivered", say("delivered"), "flags", "", ("", ""),
        offered=say("delivered"), flags={"delivered": say("delivered")},
    ),
    Fact("name", say("name"), "text", "name", ("file name", "text")),
    Fact("text", say("any text"), "text", "text", ("anything written about it", "text")),
    Fact("title", say("title"), "text", "title", ("title", _TEXT)),
    Fact("creator", say("creator"), "text", "creators", ("one of its creators", _TEXT)),
    Fact("copyright", say("copyright"), "text", "rights", ("copyright", _TEXT)),
    Fact(
        "instructions", say("instructions"), "text", "instructions",
        ("instructions, also what clients wrote", _TEXT),
    ),
    Fact("place", say("place"), "text", "place", ("location, city, state, country", _TEXT)),
    Fact("stars", say("stars"), "number", "stars", ("stars", "0 to 5"), exact=True),
    Fact("label", say("label"), "label", "label", ("label", "its name or letter; `none`")),
    Fact(
        "decision", say("decision"), "flags", "", ("", ""),
        flags={"pick": say("picks"), "undecided": say("undecided"), "reject": say("rejects")},
    ),
    Fact(
        "unpicked", say("without a pick"), "flags", "", ("", ""),
        flags={"unpicked": say("in a group without a pick")},
    ),
    Fact(
        "linked", say("linked"), "flags", "", ("", ""),
        offered=say("linked"), flags={"linked": say("part of one picture with others")},
    ),
    Fact("aside", say("set aside"), "flags", "", ("", ""), flags={"aside": say("set aside")}),
    Fact(
        "seen", say("looked at"), "flags", "seen", ("", ""),
        offered=say("looked at"), flags={"seen": say("looked at")},
    ),
)  # fmt: skip
BY_NAME: Final = {fact.name: fact for fact in TABLE}
STATED: Final = tuple(fact for fact in TABLE if fact.stated)
assert all(fact.column in Facts.__dataclass_fields__ for fact in STATED)


def shown(name: str, value: float) -> str:
    """A number of a fact as it is told, without its unit. Examples: "1/250", "f/2.8", "19:30"."""
    fact = BY_NAME[name]
    if fact.kind == "time":
        seconds = int(value)
        return f"{seconds // 3600}:{seconds // 60 % 60:02d}"
    if name == "shutter" and 0 < value < 0.3:
        return f"1/{round(1 / value)}"
    counted = value if fact.places is None else round(value, fact.places)
    words = say("{value:g}", value=abs(counted) if fact.signed else counted)
    if fact.signed and counted:
        return ("+" if counted > 0 else "−") + words
    return f"f/{words}" if name == "f" else words


def told(name: str, value: Value) -> str:
    """A stated value with its unit. Examples: "1/250 s", "f/2.8", "flash fired"."""
    if isinstance(value, bool):
        return say("flash fired") if value else say("no flash")
    return value if isinstance(value, str) else shown(name, value) + BY_NAME[name].unit


def told_alone(name: str, value: Value) -> str:
    """A stated value where no name stands beside it. Example: "ISO 800"."""
    return BY_NAME[name].alone.format(value=told(name, value))
