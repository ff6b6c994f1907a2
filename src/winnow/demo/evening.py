"""The lantern evening at Saltmarsh Quay: what was photographed when, and what went wrong.

Two invented photographers; the second one's clock is 47 s ahead.
"""

from __future__ import annotations

import functools
from calendar import timegm
from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Any, Final

import numpy as np

from winnow.demo.optics import Framing
from winnow.demo.sensor import Body

SHOOT_NAME: Final = "Lantern evening"
FOLDER_NAME: Final = "Lantern evening at Saltmarsh Quay"
KEEP_TARGET: Final = 60
# Name, meaning, and what is written into files, for the standard letters; see core.labels.
LABELS: Final = {
    "R": ("Retouch", "a lamp or a face to clean up before it goes out"),
    "A": ("Album", "for the village's printed album"),
    "W": ("Web", "for the harbour's web page this week"),
    "P": ("Print", "ordered as a print by someone in it"),
    "T": ("Talk over", "to be talked over with the harbour master"),
}
_MIDNIGHT: Final = float(timegm((2026, 10, 3, 0, 0, 0)))
UTC_OFFSET_MIN: Final = 120


@dataclass(frozen=True, slots=True)
class Camera:
    """A body and how it names its files; ``ahead_s``: what its clock is wrong by."""

    name: str
    serial: str
    prefix: str
    first_number: int
    body: Body
    ahead_s: float


FIRST: Final = Camera("Quillon H2", "0417003", "QH2_", 9958, Body((1.03, 1.0, 0.97), 1.0), 0)
SECOND: Final = Camera("Tessel Nine", "T9-22816", "TN90", 412, Body((0.97, 1.0, 1.07), 1.08), 47)


@dataclass(frozen=True, slots=True)
class Lens:
    """A lens of the evening: what it is called, and how far it reaches."""

    name: str
    longest_mm: float


ZOOM: Final = Lens("Marrow 24-70 mm f/2.8", 70)
LONG: Final = Lens("Marrow 85 mm f/1.8", 85)
OTHER: Final = Lens("Tessel 24-105 mm f/4", 105)


_STILL: Final = Framing()


@dataclass(frozen=True, slots=True)
class Take:
    """One press of the shutter.

    ``focus_m``: metres, None for the subject. ``shake`` and ``motion`` (the subject's own): px and
    degrees. ``ev``: stops too bright. ``looks``: of each person, "" for open eyes. ``swing``:
    degrees the lantern hangs aside. ``flash``: whether it fired.
    """

    framing: Framing = _STILL
    focus_m: float | None = None
    shake: tuple[float, float] = (0.0, 0.0)
    motion: tuple[float, float] = (0.0, 0.0)
    ev: float = 0.0
    looks: tuple[str, ...] = ()
    swing: float = 0.0
    flash: bool = False
    longer: float = 1.0  # exposure time by this factor
    raw: bool = False


@dataclass(frozen=True, slots=True)
class Stand:
    """A person before the scene: the face's middle in px from the left, and the scale."""

    person: str
    x: float
    scale: float = 1.0
    drop: float = 0.0


@dataclass(frozen=True, slots=True)
class Group:
    """Takes of one thing. ``light_ev``: how bright it is meant; ``gap_s``: between takes."""

    scene: str
    clock: str
    gap_s: float
    lens: Lens
    aperture: float
    shutter_s: float
    iso: int
    takes: tuple[Take, ...]
    people: tuple[Stand, ...] = ()
    upright: bool = False
    light_ev: float = 0.0
    balance: tuple[float, float, float] = (1.0, 1.0, 1.0)
    camera: Camera = FIRST


def _burst(
    count: int,
    seed: int,
    faults: dict[int, dict[str, Any]] | None = None,
    zoom: float = 1.06,
    dx: float = 0.0,
    dy: float = 0.0,
    wander: float = 14.0,
) -> tuple[Take, ...]:
    """``count`` takes, held by hand: each a little aside of the one before."""
    rng = np.random.default_rng(seed)
    x, y, takes = dx, dy, []
    for i in range(count):
        x += wander * float(rng.standard_normal())
        y += wander * 0.6 * float(rng.standard_normal())
        roll = 0.25 * float(rng.standard_normal())
        take = Take(Framing(round(x, 1), round(y, 1), round(roll, 2), zoom))
        takes.append(replace(take, **(faults or {}).get(i, {})))
    return tuple(takes)


def _shake(length: float, angle: float) -> dict[str, Any]:
    return {"shake": (length, angle), "longer": 2.0 if length > 12 else 1.5}


def _looks(*looks: str) -> dict[str, Any]:
    return {"looks": looks}


def _near(metres: float, **more: Any) -> dict[str, Any]:
    return {"focus_m": metres, **more}


@functools.cache
def groups() -> list[Group]:
    """All that was photographed, in order of time."""
    golden = (1.05, 1.0, 0.94)
    singer, baker = Stand("singer", 1230), Stand("baker", 1130)
    keeper, fisher = Stand("keeper", 1180), Stand("fisher", 1240)
    potter, apprentice = Stand("potter", 1150), Stand("apprentice", 1220)
    return [
        # The last sun on people; the first group is the one that a new person sees first.
        Group("behind_water", "18:38:02", 0.3, LONG, 2.8, 1 / 250, 500, _burst(8, 15, {1: _looks("", "half"), 2: _looks("closed", ""), 3: _looks("past", "past"), 4: _looks("", "closed"), 6: _near(6.0), 7: _looks("talking", "")}), (Stand("singer_turned", 860, 1.05), Stand("baker_turned", 1530, 1.08)), balance=golden),
        # Nobody blinks in the first and the third one together.
        Group("behind_water", "18:39:10", 0.6, LONG, 2.8, 1 / 250, 500, _burst(3, 1, {0: _looks("closed", ""), 1: _looks("half", "closed"), 2: _looks("", "closed")}, zoom=1.14, dx=-40), (Stand("baker_turned", 900, 1.06), Stand("singer_turned", 1560, 1.04)), balance=golden),
        Group("behind_water", "18:41:20", 0.22, LONG, 1.8, 1 / 400, 400, _burst(9, 10, {0: _near(2.75), 2: _looks("half"), 3: _looks("closed"), 6: _near(2.95), 8: _looks("past")}), (singer,), balance=golden),
        Group("behind_water", "18:42:48", 0.5, LONG, 2.0, 1 / 400, 400, _burst(5, 12, {0: _looks("talking"), 2: _looks("closed"), 4: _shake(10, 60)}), (replace(singer, x=800),), upright=True, balance=golden),
        Group("behind_water", "18:45:10", 0.25, LONG, 2.0, 1 / 320, 400, _burst(8, 13, {1: _looks("closed"), 2: _looks("talking"), 4: _looks("half"), 5: _near(2.78), 7: _looks("past")}, dx=30), (baker,), balance=golden),
        Group("behind_water", "18:46:02", 0.4, OTHER, 4.0, 1 / 250, 640, _burst(3, 14, {1: _looks("past"), 2: _looks("half")}, zoom=1.12, dx=-90), (replace(baker, x=1400),), balance=golden, camera=SECOND),
        # Boats and flags.
        Group("boats", "18:49:10", 0.8, ZOOM, 4.0, 1 / 125, 400, _burst(7, 6, {1: _near(60), 4: _shake(17, 12)})),
        Group("boats", "18:50:40", 1.6, ZOOM, 4.0, 1 / 125, 400, _burst(5, 7, {2: _near(24), 4: {"ev": 1.1}}, zoom=1.38, dx=150, dy=-150)),
        Group("boats", "18:51:05", 0.9, OTHER, 5.6, 1 / 100, 640, _burst(3, 8, {1: _shake(14, 95)}, zoom=1.16, dx=-70), camera=SECOND),
        Group("boats", "18:54:33", 1.0, ZOOM, 4.0, 1 / 125, 400, _burst(1, 9, zoom=1.5, dx=-420, dy=330)),
        Group("bunting", "18:57:20", 0.5, ZOOM, 5.6, 1 / 400, 200, _burst(6, 2, {2: _near(1.6), 5: _shake(9, 20)})),
        Group("bunting", "18:58:48", 0.4, ZOOM, 5.6, 1 / 400, 200, _burst(3, 3, {0: {}, 1: {"ev": -1.7}, 2: {"ev": 1.7}}, wander=2)),
        Group("bunting", "19:00:55", 1.2, ZOOM, 4.0, 1 / 400, 200, _burst(4, 4, {3: _near(1.4)}, zoom=1.34, dx=-180, dy=90)),
        Group("bunting", "19:01:31", 1.0, OTHER, 5.6, 1 / 320, 250, _burst(3, 5, zoom=1.12, dx=90), camera=SECOND),
        # Dusk: the lamps are lit.
        Group("rope", "19:12:00", 0.6, ZOOM, 2.8, 1 / 100, 800, _burst(8, 16, {1: _near(24), 3: _shake(15, 25), 5: {"ev": -2.3}})),
        Group("rope_step", "19:12:41", 0.7, ZOOM, 2.8, 1 / 100, 800, _burst(5, 17, {2: _near(30), 4: _shake(11, 170)})),
        Group("rope", "19:13:02", 0.9, OTHER, 4.0, 1 / 80, 1600, _burst(4, 18, {3: _shake(19, 80)}, zoom=1.18, dx=-60), camera=SECOND),
        Group("lantern", "19:16:25", 0.2, LONG, 2.0, 1 / 160, 800, _burst(9, 19, {0: {"swing": -2.2, "motion": (16, 8)}, 1: {"swing": -1.0, "motion": (22, 5)}, 2: {"swing": 0.4, "motion": (24, 2)}, 3: {"swing": 1.5, "motion": (17, -5)}, 4: {"swing": 2.1}, 5: {"swing": 1.6, "motion": (12, -4)}, 6: {"swing": 0.7, "motion": (19, -2)}, 8: {"swing": -0.9, "motion": (9, 3)}}, wander=7), upright=True),
        Group("lantern", "19:17:40", 1.5, LONG, 2.0, 1 / 160, 800, _burst(4, 20, {1: _near(3.2), 3: _shake(9, 130)}, zoom=1.3, dx=260, dy=120), upright=True),
        Group("crates", "19:20:11", 1.1, ZOOM, 2.8, 1 / 80, 1250, _burst(5, 21, {2: _near(7), 4: _shake(13, 40)})),
        Group("planks", "19:22:32", 0.9, ZOOM, 2.8, 1 / 80, 1250, _burst(6, 23, {0: _near(8), 5: _shake(12, 100)})),
        Group("behind_deck", "19:25:05", 0.2, LONG, 1.8, 1 / 200, 1000, _burst(10, 24, {0: _looks("talking"), 1: _near(2.74), 2: _near(2.82), 3: _looks("half"), 4: _near(2.5), 6: _looks("closed"), 7: _looks("half"), 9: _shake(8, 75)}), (keeper,)),
        Group("behind_deck", "19:25:48", 0.4, LONG, 1.8, 1 / 200, 1000, _burst(5, 25, {0: _looks("past"), 1: _looks("past"), 3: _near(2.45), 4: _looks("closed")}, zoom=1.2, dx=120, dy=-30), (keeper,)),
        Group("behind_deck", "19:26:30", 0.6, LONG, 2.0, 1 / 200, 1000, _burst(4, 26, {1: _looks("half"), 3: _near(2.85)}), (replace(keeper, x=830),), upright=True),
        Group("behind_deck", "19:29:10", 0.3, LONG, 2.0, 1 / 160, 1000, _burst(8, 27, {0: _looks("past"), 2: _looks("closed"), 3: _near(2.8), 5: _looks("talking"), 6: _looks("half")}), (fisher,)),
        Group("behind_deck", "19:29:55", 0.5, OTHER, 4.0, 1 / 125, 2000, _burst(4, 28, {1: _looks("closed"), 3: _shake(8, 90)}, zoom=1.1, dx=80), (replace(fisher, x=1000),), camera=SECOND),
        Group("behind_deck", "19:32:20", 0.3, LONG, 2.8, 1 / 125, 1250, _burst(7, 29, {0: _looks("", "closed"), 2: _looks("half", ""), 3: _looks("past", ""), 5: _near(4.5), 6: _looks("closed", "half")}), (Stand("keeper_turned", 880, 1.05), Stand("fisher_turned", 1540, 1.1))),
        Group("stall", "19:36:00", 0.7, ZOOM, 2.8, 1 / 80, 1600, _burst(9, 30, {1: _near(2.4), 3: {"raw": True}, 4: _shake(14, 120), 6: {"ev": -0.9}, 8: _near(1.15)})),
        Group("stall", "19:37:10", 1.2, ZOOM, 2.8, 1 / 80, 1600, _burst(5, 31, {1: _near(1.9), 4: _shake(9, 30)}, zoom=1.42, dx=-120, dy=-140)),
        Group("behind_deck", "19:43:30", 1.6, ZOOM, 4.0, 1 / 125, 800, _burst(8, 33, {0: {"flash": False, "looks": ("", "", "")}, 1: {"flash": True, "looks": ("closed", "", "")}, 2: {"flash": True, "looks": ("", "", "half")}, 3: {"flash": True, "looks": ("", "closed", "")}, 4: {"flash": True}, 5: {"flash": False}, 6: {"flash": True, "looks": ("past", "", "")}, 7: {"flash": True, "looks": ("", "half", "closed")}}), (Stand("fisher_turned", 560, 1.0), Stand("baker_turned", 1200, 0.98, -10), Stand("potter_turned", 1830, 1.02)), light_ev=-1.5),
        Group("planks", "19:47:12", 1.0, ZOOM, 2.8, 1 / 80, 1600, _burst(1, 34, zoom=1.3, dx=160, dy=-120)),
        # The blue hour.
        Group("bags", "19:58:20", 0.4, LONG, 2.8, 1 / 60, 2500, _burst(8, 35, {0: _near(2.2), 2: _shake(11, 50), 7: _shake(18, 160)}), balance=(1.12, 1.0, 0.86)),
        Group("behind_houses", "20:02:40", 0.25, LONG, 1.8, 1 / 100, 3200, _burst(8, 37, {1: _looks("half"), 2: _near(2.75), 4: _looks("closed"), 5: _looks("past"), 7: _shake(10, 85)}), (potter,)),
        Group("behind_houses", "20:06:10", 0.25, LONG, 1.8, 1 / 100, 3200, _burst(8, 39, {0: _near(3.0), 2: _looks("closed"), 3: _looks("talking"), 5: _looks("half"), 6: {"motion": (26, 5)}}), (apprentice,)),
        Group("behind_houses", "20:06:55", 0.5, LONG, 2.0, 1 / 100, 3200, _burst(3, 40, {1: _looks("closed"), 2: _shake(9, 70)}), (replace(apprentice, x=810),), upright=True),
        Group("behind_houses", "20:09:00", 0.3, LONG, 2.8, 1 / 80, 4000, _burst(8, 41, {0: _looks("half", ""), 2: _looks("", "closed"), 3: _near(5.0), 5: _looks("past", ""), 6: _looks("closed", "closed"), 7: _shake(12, 20)}), (Stand("apprentice_turned", 900, 1.05), Stand("potter_turned", 1540, 1.08))),
        Group("crowd", "20:14:30", 0.8, ZOOM, 2.8, 1 / 40, 3200, _burst(6, 42, {1: _shake(13, 10), 3: _near(4.5), 5: {"ev": -1.4}})),
        Group("crowd", "20:15:20", 0.8, OTHER, 4.0, 1 / 30, 5000, _burst(3, 43, {0: _shake(22, 15)}, zoom=1.2, dx=60, dy=40), camera=SECOND),
        Group("afloat", "20:21:05", 0.9, ZOOM, 2.8, 1 / 30, 4000, _burst(8, 44, {0: _near(18), 2: _shake(24, 18), 5: _shake(12, 110)})),
        Group("afloat", "20:22:20", 1.3, ZOOM, 2.8, 1 / 30, 4000, _burst(3, 45, {2: _near(9)}, zoom=1.45, dx=420, dy=-230)),
        Group("near_lantern", "20:26:00", 0.8, ZOOM, 2.8, 1 / 60, 3200, _burst(4, 46, {1: _near(20), 3: _shake(10, 60)})),
        Group("quay", "20:30:10", 4.0, ZOOM, 4.0, 1 / 4, 1600, _burst(5, 47, {1: _shake(28, 6), 2: _shake(15, 170), 4: _near(4.0)}, wander=5)),
        Group("quay", "20:31:15", 1.0, ZOOM, 4.0, 1 / 4, 1600, _burst(3, 48, {0: {}, 1: {"ev": -2.0}, 2: {"ev": 2.0}}, wander=1)),
        # The rope once more, an hour later and darker.
        Group("rope", "20:36:40", 0.8, ZOOM, 2.8, 1 / 30, 3200, _burst(4, 49, {1: _shake(20, 15), 3: _near(30)}, zoom=1.08), light_ev=-1.5, balance=(0.86, 0.97, 1.2)),
        Group("crates", "20:41:02", 1.0, ZOOM, 2.8, 1 / 30, 3200, _burst(1, 50, zoom=1.12), light_ev=-1.0, balance=(0.9, 0.98, 1.12)),
    ]  # fmt: skip


@dataclass(frozen=True, slots=True)
class Frame:
    """One take with its file name; ``taken_at``: seconds since 1970 on the camera's clock."""

    name: str
    group: int
    number: int
    taken_at: float


def frames() -> Iterator[Frame]:
    """All frames, named as each camera counts: from 9999 it goes on at 0001."""
    counters = {FIRST.name: FIRST.first_number, SECOND.name: SECOND.first_number}
    for index, group in enumerate(groups()):
        hours, minutes, seconds = (int(part) for part in group.clock.split(":"))
        start = _MIDNIGHT + 3600 * hours + 60 * minutes + seconds + group.camera.ahead_s
        for n in range(len(group.takes)):
            count = counters[group.camera.name]
            counters[group.camera.name] += 1
            name = f"{group.camera.prefix}{(count - 1) % 9999 + 1:04d}"
            # A burst is not a clock: the fraction of the second wanders.
            wander = 0.04 * ((n * 7 + index * 3) % 5 - 2) * group.gap_s
            yield Frame(name, index, n, round(start + n * group.gap_s + wander + 0.137, 3))
