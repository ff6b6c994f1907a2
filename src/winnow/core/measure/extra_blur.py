"""Extra blur: how much more one picture of a part is blurred than another, and along which
direction.

What a lens out of focus or a hand that moves did to the light of a frame, and not to that of a
sharper one, is a filter between both; its frequency response is their cross-spectrum by the power
of the sharper one (H1; J. S. Bendat and A. G. Piersol, "Random Data", 4th ed. 2010, chapter 6,
also for the error of each frequency). Close to zero frequency it falls by the second moments of
the blur, whatever its form: a disc spreads light evenly, a path mostly along itself, also where it
is curved.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from typing import Final

import numpy as np
from numpy.typing import NDArray

Gray = NDArray[np.uint8]
Floats = NDArray[np.float32]

# px of a side: less holds too few windows.
LEAST_SIDE: Final = 128
_WINDOW: Final = 96
_HOPS: Final = 5  # windows across and down, at most
_LOWEST: Final = 1.5 / _WINDOW  # cycles per px: below, the windows' own shape is seen
_HIGHEST: Final = 0.35  # above there is noise and sharpening
# What a form that is no Gaussian, and sharpening, make the response differ by.
_MODEL: Final = 0.08
# Of the weights that all frequencies would have without noise: where less is known, nothing is
# said; and from where on it is sure.
_KNOWN: Final = 0.05
_SURE: Final = 0.3
# A window with more than a few clipped pixels is left out: there light does not add up.
_CLIPPED: Final = 0.96
_FEW: Final = 0.01
# Of pictures with other contrast the tones were made otherwise.
_BRIGHTER: Final = 1.6
_STEPS: Final = 30
_LEAST, _MOST = -1.5, 400.0  # px²
# A spread is of a motion, where across it is at most so much of that along it, and this explains
# the response so much better than an even one.
_NARROW: Final = 0.45
_EXPLAINS: Final = 0.8
_SHORTEST: Final = 0.6  # px², along


@dataclass(frozen=True, slots=True)
class ExtraBlur:
    """Second moments of the blur that one picture has beyond another, px².

    ``along``: in the direction of ``angle`` (degrees from the x axis towards y (down), 0…180),
    where they are greatest; ``across``: across it. Below zero where it is the sharper one.
    ``moved``: they are a motion's; ``sure``: enough is known to say that it is no more, either.
    """

    along: float
    across: float
    angle: float
    moved: bool
    sure: bool

    @property
    def variance(self) -> float:
        """Of the same blur as a Gaussian, px²."""
        return (self.along + self.across) / 2

    @property
    def length(self) -> float:
        """Of an even motion that spreads light as much, px: over L px it has the variance L² /
        12."""
        return float(np.sqrt(12 * max(0.0, self.along)))


def cut(whole: Gray, x: float, y: float, reach: int) -> Gray | None:
    """The square of a picture (h, w) that reaches so many px around a place, or as near to it as
    the edges let it; None where the picture is smaller."""
    height, width = whole.shape
    if min(height, width) < 2 * reach:
        return None
    left = min(max(0, round(x) - reach), width - 2 * reach)
    top = min(max(0, round(y) - reach), height - 2 * reach)
    return np.ascontiguousarray(whole[top : top + 2 * reach, left : left + 2 * reach])


def measure(sharper: Gray, softer: Gray) -> ExtraBlur | None:
    """The blur of a picture beyond that of another one, both (h, w) and of the same part, to a few
    px in its place. None where a side is shorter than ``LEAST_SIDE``, where they show too little
    that is alike, and where light is lost or was made otherwise: clipped, or of another contrast.
    """
    h, w = sharper.shape
    if sharper.shape != softer.shape or min(h, w) < LEAST_SIDE:
        return None
    cross, power, other, count = _spectra(_LIGHT[sharper], _LIGHT[softer])
    if not count:
        return None
    table, use, near = _frequencies()
    power = power + 1e-12 * float(power.max()) + 1e-20
    # The response is at least what of the one is found again in the other, and at most what there
    # is in it at all. Noise lies between, and what is otherwise in it: steam, an eye that closed.
    least, most = np.abs(cross) / power, np.sqrt(other / power)
    response = (least + most) / 2
    error = (most**2 - least**2).clip(0) / count + ((most - least) / 2) ** 2
    level = float(np.median(response[near]))
    if not 1 / _BRIGHTER < level < _BRIGHTER:
        return None
    response, error = response[use] / level, error[use] / level**2
    weight = _MODEL**2 / (error + _MODEL**2)
    known = float(np.average(weight, weights=_even()[use]))
    if known < _KNOWN:
        return None
    weight = weight * _even()[use]
    starts = ((0.3, 0.0, 0.3), (4.0, 0.0, 4.0), (6, 0, 0.5), (0.5, 0, 6), (3, 2.5, 3), (3, -2.5, 3))
    moments, cost = min(
        (_fitted(table, response, weight, np.array(start)) for start in starts),
        key=lambda found: found[1],
    )
    even = _even_cost(table, response, weight)
    values, vectors = np.linalg.eigh(np.array([moments[:2], moments[1:]]))
    across, along = (float(value) for value in values)
    angle = float(np.degrees(np.arctan2(vectors[1, 1], vectors[0, 1])) % 180)
    narrow = along >= _SHORTEST and max(across, 0.0) <= _NARROW * along
    return ExtraBlur(along, across, angle, narrow and cost <= _EXPLAINS * even, known >= _SURE)


def _linear() -> Floats:
    """Light of 8-bit sRGB (IEC 61966-2-1): blur adds up in light, not in what is stored."""
    x = np.arange(256) / 255
    light = np.where(x <= 0.04045, x / 12.92, ((x + 0.055) / 1.055) ** 2.4)
    return light.astype(np.float32)


_LIGHT: Final = _linear()


def _spectra(
    first: Floats, second: Floats
) -> tuple[NDArray[np.complex128], NDArray[np.float64], NDArray[np.float64], int]:
    """The cross-spectrum of two pictures, the power of each, over windows that overlap, and how
    many these are. Each window of the second is laid on that of the first: a subject that turned a
    little must not read as a blur."""
    hann = np.hanning(_WINDOW + 2)[1:-1].astype(np.float32)
    window = hann[:, None] * hann
    shape = (_WINDOW, _WINDOW // 2 + 1)
    cross = np.zeros(shape, np.complex128)
    power, other = np.zeros(shape), np.zeros(shape)
    count = 0
    for top in _starts(first.shape[0]):
        for left in _starts(first.shape[1]):
            at = slice(top, top + _WINDOW), slice(left, left + _WINDOW)
            if max((picture[at] > _CLIPPED).mean() for picture in (first, second)) > _FEW:
                continue
            count += 1
            one, two = (
                np.fft.rfft2((picture[at] - picture[at].mean()) * window)
                for picture in (first, second)
            )
            both = np.conj(one) * two
            cross += both * _shifted_back(both)
            power += np.abs(one) ** 2
            other += np.abs(two) ** 2
    return cross, power, other, count


def _starts(length: int) -> list[int]:
    count = min(_HOPS, 1 + 2 * (length - _WINDOW) // _WINDOW)
    return [round(at) for at in np.linspace(0, length - _WINDOW, count)]


def _shifted_back(cross: NDArray[np.complex128]) -> NDArray[np.complex128]:
    """What takes the shift out of a cross-spectrum, found where both are most alike."""
    alike = np.fft.irfft2(cross * _smooth(), s=(_WINDOW, _WINDOW))
    y, x = (int(n) for n in np.unravel_index(int(alike.argmax()), alike.shape))
    dy = y + _aside(*(float(alike[(y + n) % _WINDOW, x]) for n in (-1, 0, 1)))
    dx = x + _aside(*(float(alike[y, (x + n) % _WINDOW]) for n in (-1, 0, 1)))
    fy, fx = _axes()
    out: NDArray[np.complex128] = np.exp(2j * np.pi * (fy * dy + fx * dx))
    return out


def _aside(before: float, here: float, after: float) -> float:
    """Where a parabola through three values is highest, from the middle one: −0.5…0.5."""
    bend = before - 2 * here + after
    return 0.0 if bend >= 0 else max(-0.5, min(0.5, 0.5 * (before - after) / bend))


@cache
def _axes() -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    down, across = np.fft.fftfreq(_WINDOW), np.fft.rfftfreq(_WINDOW)
    return down[:, None].astype(np.float64), across[None].astype(np.float64)


@cache
def _smooth() -> NDArray[np.float64]:
    """A Gaussian of 1 px."""
    fy, fx = _axes()
    out: NDArray[np.float64] = np.exp(-2 * np.pi**2 * (fy**2 + fx**2))
    return out


@cache
def _frequencies() -> tuple[NDArray[np.float64], NDArray[np.bool_], NDArray[np.bool_]]:
    """For each frequency that is used what the moments (xx, xy, yy) are multiplied with to give the
    logarithm of the response; which are used; and those so low that no blur is seen."""
    fy, fx = _axes()
    away = np.hypot(fy, fx)
    # Those of the first column stand twice in half a spectrum.
    once = ~((fx == 0) & (fy < 0))
    use = (away > _LOWEST) & (away < _HIGHEST) & once
    near = (away > 0.7 / _WINDOW) & (away < 2.5 / _WINDOW)
    x, y = np.broadcast_to(fx, away.shape)[use], np.broadcast_to(fy, away.shape)[use]
    return 2 * np.pi**2 * np.stack([x * x, 2 * x * y, y * y], 1), use, near


@cache
def _even() -> NDArray[np.float64]:
    """Weights that give each ring of frequencies the same say."""
    return 1 / np.maximum(np.hypot(*_axes()), 2 / _WINDOW)


def _fitted(
    table: NDArray[np.float64],
    response: NDArray[np.float64],
    weight: NDArray[np.float64],
    moments: NDArray[np.float64],
) -> tuple[NDArray[np.float64], float]:
    """The moments whose Gaussian is nearest to the response, by K. Levenberg and D. Marquardt
    (1963), from a start; and the weighted sum of squares that is left."""
    damping = 1e-2
    cost = _cost(table, response, weight, moments)
    for _ in range(_STEPS):
        given = np.exp(-np.clip(table @ moments, -2, 50))
        slope = -table * given[:, None]
        weighted = slope * weight[:, None]
        bend = weighted.T @ slope
        step = np.linalg.solve(
            bend + damping * np.diag(np.diag(bend) + 1e-9), weighted.T @ (response - given)
        )
        tried = _bounded(moments + step)
        then = _cost(table, response, weight, tried)
        if then >= cost:
            damping *= 5
            if damping > 1e6:
                break
            continue
        settled = cost - then < 1e-5 * cost
        moments, cost, damping = tried, then, max(damping / 5, 1e-6)
        if settled:
            break
    return moments, cost


def _bounded(moments: NDArray[np.float64]) -> NDArray[np.float64]:
    values, vectors = np.linalg.eigh(np.array([moments[:2], moments[1:]]))
    whole = (vectors * np.clip(values, _LEAST, _MOST)) @ vectors.T
    return np.array([whole[0, 0], whole[0, 1], whole[1, 1]])


def _cost(
    table: NDArray[np.float64],
    response: NDArray[np.float64],
    weight: NDArray[np.float64],
    moments: NDArray[np.float64],
) -> float:
    given = np.exp(-np.clip(table @ moments, -2, 50))
    return float((weight * (response - given) ** 2).sum())


def _even_cost(
    table: NDArray[np.float64], response: NDArray[np.float64], weight: NDArray[np.float64]
) -> float:
    """What the best Gaussian leaves that is the same in all directions."""
    spreads = np.concatenate([np.linspace(_LEAST, 0.02, 12), np.geomspace(0.02, 60, 60)])
    return min(_cost(table, response, weight, np.array([s, 0.0, s])) for s in spreads)
