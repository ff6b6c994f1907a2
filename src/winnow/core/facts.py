"""Facts of a frame: what its file states of the exposure."""

from __future__ import annotations

from dataclasses import dataclass

from winnow.core.files.merge import NOTHING_STATED, Stated


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
    focus_point: tuple[float, float] | None = None
    place: tuple[float, float] | None = None
    optional_space: bool = False
    described: Stated = NOTHING_STATED
