"""The demo shoot's frames: what was photographed when, with which camera, and what went wrong."""

from __future__ import annotations

import io
import multiprocessing
import os
import shutil
import signal
from calendar import timegm
from dataclasses import dataclass, replace
from multiprocessing.process import BaseProcess
from pathlib import Path
from typing import Final

import numpy as np

from winnow.demo.scenes import SCENES, Take, photograph
from winnow.photos.metadata import Facts, with_facts

SHOOT_NAME: Final = "Lantern evening"
FOLDER_NAME: Final = "Lantern evening"
# Another number makes the pictures anew at the next start.
_EDITION: Final = "1"
_EVENING: Final = float(timegm((2026, 10, 3, 0, 0, 0)))
_CAMERA: Final = "Quillon H2"
_FIRST_NUMBER: Final = 9978
_MAKERS: Final = 2


@dataclass(frozen=True, slots=True)
class Group:
    """Takes of one scene. ``clock``: the first one's time; ``gap_s``: seconds between takes."""

    scene: str
    clock: str
    gap_s: float
    lens: str
    focal_mm: float
    aperture: float
    shutter_s: float
    iso: int
    takes: tuple[Take, ...]


_WIDE = ("Marrow 24-70 mm", 35.0)
_LONG = ("Marrow 85 mm", 85.0)


def _groups() -> list[Group]:
    rope, near = Take(9), Take(3)
    boat, flags, pots, close, quay = Take(8), Take(2.5), Take(1.8), Take(1.6), Take(120)
    return [
        Group("bunting", "18:02:10", 0.4, *_LONG, 2.8, 1 / 500, 200, (
            replace(flags, gust=14), replace(flags, dx=20, gust=8), replace(flags, dx=36),
            replace(flags, dx=50, focus_m=14), replace(flags, dx=64, gust=20))),
        Group("bunting", "18:04:31", 1.1, *_WIDE, 4.0, 1 / 320, 200, (
            Take(6, zoom=0.9), Take(6, zoom=0.9, dx=30, exposure_ev=1.6), Take(6, zoom=0.9, dx=36, exposure_ev=-1.6))),
        Group("boats", "18:11:05", 0.9, *_WIDE, 5.6, 1 / 125, 400, (
            boat, replace(boat, dx=-14), replace(boat, dx=-26, shake=(18, 20)),
            replace(boat, dy=30), replace(boat, dy=34, focus_m=60))),
        Group("boats", "18:12:20", 2.2, *_LONG, 2.8, 1 / 200, 400, (
            replace(boat, zoom=1.5, dx=380, dy=160), replace(boat, zoom=1.5, dx=400, dy=168, focus_m=3))),
        Group("lantern_rope", "18:40:02", 0.3, *_LONG, 1.8, 1 / 160, 800, (
            replace(near, gust=6), replace(near, dx=6), replace(near, dx=14, focus_m=9),
            replace(near, dx=20, focus_m=40), replace(near, dx=26, shake=(14, 70)),
            replace(near, dx=30, gust=24), replace(near, dx=38), replace(near, dx=44, focus_m=4.4))),
        Group("lantern_rope", "18:42:47", 0.8, *_WIDE, 2.8, 1 / 100, 800, (
            rope, replace(rope, dy=-24), replace(rope, dy=-40, exposure_ev=-2.6), replace(rope, dy=-44),
            replace(rope, dy=-52, shake=(26, 8)))),
        Group("lantern_rope", "18:44:10", 1.5, *_WIDE, 2.8, 1 / 100, 800, (
            replace(rope, upright=True, dx=-300), replace(rope, upright=True, dx=-320, focus_m=2))),
        Group("pottery", "18:58:03", 0.7, *_LONG, 2.0, 1 / 100, 1600, (
            pots, replace(pots, dx=12, dy=8), replace(pots, focus_m=12, dx=18), replace(pots, dx=30),
            replace(pots, dx=44, shake=(10, 120)), replace(pots, dx=50, exposure_ev=-0.8))),
        Group("pottery", "18:59:40", 3.0, *_LONG, 2.0, 1 / 80, 1600, (
            replace(pots, zoom=1.8, dx=-420, dy=180), replace(pots, zoom=1.8, dx=-410, dy=184, focus_m=2.4),
            replace(pots, zoom=1.8, dx=-380, dy=180))),
        Group("one_lantern", "19:20:15", 0.2, *_LONG, 1.8, 1 / 125, 1600, (
            replace(close, gust=22), replace(close, gust=12, dx=-10), replace(close, dx=-16),
            replace(close, dx=-20, gust=4), replace(close, dx=-30, focus_m=16), replace(close, dx=-34, focus_m=2.1),
            replace(close, dx=-40, gust=30))),
        Group("one_lantern", "19:23:50", 1.0, *_LONG, 1.8, 1 / 125, 1600, (
            replace(close, upright=True), replace(close, upright=True, dy=40, shake=(9, 100)))),
        Group("lantern_rope", "19:48:30", 0.5, *_LONG, 1.8, 1 / 60, 3200, (
            replace(near, zoom=1.3, dx=-300, noise=7), replace(near, zoom=1.3, dx=-310, noise=7, focus_m=9),
            replace(near, zoom=1.3, dx=-320, noise=7, shake=(12, 40)))),
        Group("stars_over_quay", "20:15:00", 8.0, *_WIDE, 4.0, 1 / 4, 3200, (
            replace(quay, noise=6), replace(quay, noise=6, shake=(22, 5)), replace(quay, noise=6, dx=8),
            replace(quay, noise=6, exposure_ev=1.4, dx=8))),
        Group("stars_over_quay", "20:21:12", 1.0, *_WIDE, 4.0, 1 / 4, 3200, (
            replace(quay, zoom=1.5, dy=260, noise=6),)),
        Group("boats", "20:30:44", 0.6, *_LONG, 1.8, 1 / 30, 6400, (
            replace(boat, zoom=1.2, exposure_ev=-1.4, noise=9), replace(boat, zoom=1.2, exposure_ev=-1.2, noise=9, shake=(30, 15)),
            replace(boat, zoom=1.2, exposure_ev=-1.4, dx=22, noise=9), replace(boat, zoom=1.2, exposure_ev=-4.5, dx=24, noise=9))),
    ]  # fmt: skip


def make_behind(folder: Path) -> list[BaseProcess]:
    """Make what is missing of the demo shoot in a folder, in processes of their own.

    The frames appear one by one, whole, in the order they were taken, while Winnow is already
    open: that is how a shoot looks that is still being copied. Returns the processes.
    """
    stamp = folder / ".edition"
    if stamp.exists() and stamp.read_text() != _EDITION:
        shutil.rmtree(folder)
    folder.mkdir(parents=True, exist_ok=True)
    stamp.write_text(_EDITION)
    numbered, number = [], _FIRST_NUMBER
    for group in _groups():
        numbered.append((group, number))
        number += len(group.takes)
    spawn = multiprocessing.get_context("spawn")
    makers: list[BaseProcess] = []
    for turn in range(_MAKERS):
        share = [one for one in numbered[turn::_MAKERS] if _missing(*one, folder)]
        if share:
            maker = spawn.Process(target=_make, args=(share, folder), daemon=True)
            maker.start()
            makers.append(maker)
    return makers


def _path(folder: Path, first: int, index: int) -> Path:
    """A frame's file: the camera's counter goes from 9999 to 0001."""
    return folder / f"QH2_{(first + index - 1) % 9999 + 1:04d}.jpg"


def _missing(group: Group, first: int, folder: Path) -> bool:
    return not all(_path(folder, first, n).exists() for n in range(len(group.takes)))


def _make(share: list[tuple[Group, int]], folder: Path) -> None:
    # Ctrl+C is for the parent, which ends its daemons; and drawing must not slow the page.
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    os.nice(10)
    for group, first in share:
        _make_group(group, first, folder)


def _make_group(group: Group, first: int, folder: Path) -> None:
    # The same seed for the same scene: it looks the same when it comes back later.
    layers = SCENES[group.scene](np.random.default_rng(sum(map(ord, group.scene))))
    hours, minutes, seconds = (int(part) for part in group.clock.split(":"))
    for index, take in enumerate(group.takes):
        path = _path(folder, first, index)
        if path.exists():
            continue
        picture = photograph(layers, take, np.random.default_rng(first + index))
        shutter = group.shutter_s * 2**-take.exposure_ev
        facts = Facts(
            taken_at=_EVENING + 3600 * hours + 60 * minutes + seconds + index * group.gap_s,
            utc_offset_min=120,
            camera=_CAMERA,
            lens=group.lens,
            focal_mm=group.focal_mm,
            aperture=group.aperture,
            shutter_s=shutter,
            iso=group.iso,
            flash=False,
        )
        jpeg, thumbnail = io.BytesIO(), io.BytesIO()
        picture.save(jpeg, "JPEG", quality=88, subsampling=2)
        picture.thumbnail((240, 240))
        picture.save(thumbnail, "JPEG", quality=80)
        data = with_facts(jpeg.getvalue(), replace(facts, thumbnail=thumbnail.getvalue()))
        part = path.with_name(f".{path.name}")
        part.write_bytes(data)
        part.rename(path)
