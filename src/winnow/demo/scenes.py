"""Drawn scenes in layers with distances, so that focus, shake and framing can vary as they do."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

import numpy as np
from PIL import Image, ImageChops, ImageDraw, ImageFilter

WIDTH, HEIGHT = 2400, 1600
# Layers are drawn larger than the frame, so that re-framing has something to move into.
MARGIN: Final = 240
SIZE: Final = (WIDTH + 2 * MARGIN, HEIGHT + 2 * MARGIN)

Colour = tuple[int, int, int]


@dataclass(frozen=True, slots=True)
class Layer:
    """A picture with transparency, at a distance in metres; ``moves`` is what a gust takes."""

    distance_m: float
    picture: Image.Image
    moves: bool = False


@dataclass(frozen=True, slots=True)
class Take:
    """How one frame differs from its scene's first.

    ``focus_m``: metres. ``dx``, ``dy``: px. ``shake``: length in px and angle in degrees.
    ``exposure_ev``: EV. ``gust``: px that moving layers have travelled during the exposure.
    """

    focus_m: float
    dx: float = 0.0
    dy: float = 0.0
    zoom: float = 1.0
    exposure_ev: float = 0.0
    shake: tuple[float, float] = (0.0, 0.0)
    gust: float = 0.0
    noise: float = 2.0
    upright: bool = False


def _blank() -> Image.Image:
    return Image.new("RGBA", SIZE, (0, 0, 0, 0))


def _gradient(stops: list[tuple[float, Colour]]) -> Image.Image:
    """A picture filled from top to bottom through colours at heights 0…1."""
    y = np.linspace(0, 1, SIZE[1])
    columns = [np.interp(y, [s for s, _ in stops], [c[i] for _, c in stops]) for i in range(3)]
    column = np.stack(columns, -1)[:, None, :].astype(np.uint8)
    filled = np.broadcast_to(column, (SIZE[1], SIZE[0], 3))
    return Image.fromarray(np.ascontiguousarray(filled)).convert("RGBA")


def _clouds(picture: Image.Image, rng: np.random.Generator, tint: Colour) -> Image.Image:
    small = rng.random((12, 18)).astype(np.float32)
    mask = Image.fromarray((small * 255).astype(np.uint8)).resize(SIZE, Image.Resampling.BICUBIC)
    mask = mask.point([max(0, min(110, int((v - 120) * 1.4))) for v in range(256)])
    picture.paste(Image.new("RGBA", SIZE, (*tint, 255)), mask=mask)
    return picture


def _textured(layer: Image.Image, rng: np.random.Generator, strength: float) -> Image.Image:
    """Give flat paint a grain, so that there is something to be sharp."""
    grain = rng.normal(0, strength, (SIZE[1] // 2, SIZE[0] // 2)).astype(np.float32)
    fine = Image.fromarray(np.clip(128 + grain, 0, 255).astype(np.uint8)).resize(SIZE)
    red, green, blue, alpha = layer.split()
    channels = [ImageChops.add(c, fine, 1, -128) for c in (red, green, blue)]
    return Image.merge("RGBA", (*channels, alpha))


def _houses(rng: np.random.Generator, ground: int, lit: float) -> Image.Image:
    layer = _blank()
    draw = ImageDraw.Draw(layer)
    x = -40
    walls = [(70, 74, 104), (96, 82, 98), (84, 92, 112), (110, 92, 88), (62, 70, 92)]
    while x < SIZE[0]:
        width, height = int(rng.integers(260, 420)), int(rng.integers(420, 760))
        wall = walls[int(rng.integers(len(walls)))]
        top = ground - height
        draw.rectangle((x, top, x + width, ground), fill=(*wall, 255))
        roof = tuple(int(c * 0.6) for c in wall)
        draw.polygon(
            [(x - 18, top), (x + width / 2, top - 150), (x + width + 18, top)], fill=(*roof, 255)
        )
        for row in range(top + 60, ground - 120, 150):
            for column in range(x + 50, x + width - 70, 110):
                on = rng.random() < lit
                pane = (255, 206, 120, 255) if on else (34, 40, 60, 255)
                draw.rectangle((column, row, column + 50, row + 78), fill=pane)
                frame = (40, 32, 36, 255)
                draw.line((column + 25, row, column + 25, row + 78), fill=frame, width=4)
                draw.line((column, row + 38, column + 50, row + 38), fill=frame, width=4)
        x += width + int(rng.integers(-6, 30))
    return _textured(layer, rng, 9)


def _lantern(layer: Image.Image, x: float, y: float, r: float, colour: Colour, kind: int) -> None:
    """One paper lantern with its glow, ribs and tassel; ``r`` is its radius in px."""
    glow = Image.new("RGBA", (int(r * 6), int(r * 6)), (0, 0, 0, 0))
    ImageDraw.Draw(glow).ellipse((r * 1.4, r * 1.4, r * 4.6, r * 4.6), fill=(*colour, 90))
    layer.alpha_composite(
        glow.filter(ImageFilter.GaussianBlur(r * 0.55)),
        (max(0, int(x - 3 * r)), max(0, int(y - 3 * r))),
    )
    draw = ImageDraw.Draw(layer)
    tall = r * (1.0, 1.25, 0.85)[kind % 3]
    steps = 18
    for step in range(steps):
        share = step / steps
        bright = tuple(int(c + (255 - c) * 0.75 * share) for c in colour)
        shrink = 1 - 0.72 * share
        draw.ellipse(
            (x - r * shrink, y - tall * shrink + share * r * 0.18,
             x + r * shrink, y + tall * shrink + share * r * 0.18),
            fill=(*bright, 255),
        )  # fmt: skip
    rib = tuple(int(c * 0.72) for c in colour)
    for rib_no in range(-5, 6):
        height = tall * rib_no / 6
        half = r * math.sqrt(max(0.0, 1 - (height / tall) ** 2))
        box = (x - half, y + height - r * 0.07, x + half, y + height + r * 0.07)
        draw.arc(box, 0, 180, fill=(*rib, 255), width=max(2, int(r / 32)))
    dark = (30, 22, 24, 255)
    for edge in (-1, 1):
        cap = y + edge * tall * 0.97
        draw.rectangle((x - r * 0.34, cap - r * 0.06, x + r * 0.34, cap + r * 0.06), fill=dark)
    for thread in range(-3, 4):
        end = (x + thread * r * 0.05, y + tall + r * (0.75 + 0.04 * (thread % 3)))
        draw.line((x + thread * r * 0.02, y + tall, *end), fill=(150, 40, 44, 255), width=3)


_PAPERS: Final = [
    (226, 96, 48), (238, 170, 62), (120, 152, 108), (196, 62, 70), (232, 206, 150), (150, 96, 150),
]  # fmt: skip


def _rope(rng: np.random.Generator, y: float, sag: float, r: float, number: int) -> Image.Image:
    layer = _blank()
    draw = ImageDraw.Draw(layer)
    points = []
    for step in range(201):
        t = step / 200
        points.append((t * SIZE[0], y + sag * 4 * t * (1 - t) - 60 * t))
    draw.line(points, fill=(46, 40, 44, 255), width=max(4, int(r / 16)))
    for n in range(number):
        at = points[int((n + 0.5) / number * 200)]
        colour = _PAPERS[int(rng.integers(len(_PAPERS)))]
        size = r * float(rng.uniform(0.85, 1.15))
        draw.line((at[0], at[1], at[0], at[1] + size * 0.5), fill=(46, 40, 44, 255), width=4)
        _lantern(layer, at[0], at[1] + size * 1.6, size, colour, n)
    return _textured(layer, rng, 7)


def lantern_rope(rng: np.random.Generator) -> list[Layer]:
    """Lanterns on a rope before the houses of the quay."""
    sky = _clouds(
        _gradient([(0, (74, 92, 142)), (0.5, (176, 150, 164)), (1, (96, 84, 104))]),
        rng,
        (226, 204, 200),
    )
    return [
        Layer(400, sky),
        Layer(40, _houses(rng, 1560, 0.55)),
        Layer(9, _rope(rng, 420, 200, 62, 9)),
        Layer(3, _rope(rng, 220, 340, 150, 5), moves=True),
    ]


def boats(rng: np.random.Generator) -> list[Layer]:
    """Boats at their moorings, with the sky in the water."""
    sky = _gradient(
        [(0, (58, 76, 120)), (0.42, (222, 160, 128)), (0.5, (120, 96, 112)), (1, (30, 40, 66))]
    )
    ripples = _blank()
    draw = ImageDraw.Draw(ripples)
    for _ in range(900):
        y = float(rng.uniform(1000, SIZE[1]))
        length = (y - 960) * float(rng.uniform(0.05, 0.2))
        x = float(rng.uniform(0, SIZE[0]))
        tone = int(rng.integers(90, 220))
        draw.line(
            (x, y, x + length, y), fill=(tone, int(tone * 0.78), int(tone * 0.7), 110), width=4
        )
    near = _blank()
    draw = ImageDraw.Draw(near)
    hulls = [(170, 56, 52), (44, 92, 120), (222, 206, 176), (60, 108, 84)]
    for number, (x, y, scale) in enumerate(
        [(520, 1480, 1.5), (1500, 1300, 1.0), (2250, 1560, 1.7)]
    ):
        length, depth = 420 * scale, 110 * scale
        hull = hulls[number % 4]
        draw.polygon(
            [
                (x - length, y - depth),
                (x + length, y - depth * 1.2),
                (x + length * 0.72, y),
                (x - length * 0.8, y),
            ],
            fill=(*hull, 255),
        )
        draw.line(
            (x - length, y - depth, x + length, y - depth * 1.2),
            fill=(240, 228, 206, 255),
            width=12,
        )
        for plank in (0.35, 0.65):
            draw.line(
                (x - length * (1 - plank * 0.2), y - depth * (1 - plank), x + length * (1 - plank * 0.25), y - depth * (1.2 - plank * 1.15)),
                fill=(*(int(c * 0.7) for c in hull), 255), width=5,
            )  # fmt: skip
        draw.line(
            (x, y - depth, x + 12, y - depth - 560 * scale),
            fill=(70, 52, 44, 255),
            width=int(16 * scale),
        )
        for rope in (-0.9, 0.8):
            draw.line(
                (x + 12, y - depth - 540 * scale, x + length * rope, y - depth),
                fill=(40, 34, 36, 255),
                width=4,
            )
        _lantern(
            near, x + length * 0.4, y - depth - 150 * scale, 46 * scale, _PAPERS[number], number
        )
    return [
        Layer(400, sky),
        Layer(60, _houses(rng, 960, 0.35).resize(SIZE)),
        Layer(20, ripples, moves=True),
        Layer(8, _textured(near, rng, 9)),
    ]


def bunting(rng: np.random.Generator) -> list[Layer]:
    """Bunting against the evening sky."""
    sky = _clouds(_gradient([(0, (92, 138, 190)), (1, (226, 214, 202))]), rng, (250, 244, 236))
    layers = [Layer(400, sky)]
    for distance, count, size, y in ((14, 16, 70, 900), (6, 11, 120, 520), (2.5, 7, 230, 160)):
        layer = _blank()
        draw = ImageDraw.Draw(layer)
        for n in range(count):
            x = (n + 0.5) / count * SIZE[0]
            top = y + 220 * math.sin(n / count * math.pi)
            colour = _PAPERS[(n * 5 + count) % 6] if n % 3 else (54, 96, 148)
            tip = (x + float(rng.normal(0, size * 0.1)), top + size * 1.7)
            draw.polygon(
                [(x - size * 0.62, top), (x + size * 0.62, top + 6), tip], fill=(*colour, 255)
            )
            for stripe in (0.3, 0.55):
                half = size * 0.62 * (1 - stripe)
                draw.line(
                    (x - half, top + size * 1.7 * stripe, x + half, top + size * 1.7 * stripe),
                    fill=(250, 240, 222, 255), width=max(4, size // 14),
                )  # fmt: skip
            after = y + 220 * math.sin((n + 1) / count * math.pi)
            draw.line(
                (x - size, top, x + size, after), fill=(60, 52, 50, 255), width=max(4, size // 20)
            )
        layers.append(Layer(distance, _textured(layer, rng, 8), moves=distance < 3))
    return layers


def pottery(rng: np.random.Generator) -> list[Layer]:
    """Bowls and jugs on a stall, a lantern above them."""
    back = _gradient([(0, (44, 34, 40)), (0.6, (96, 62, 48)), (1, (66, 44, 38))])
    far = _blank()
    for n in range(14):
        _lantern(far, 140 + n * 200, 260 + 90 * math.sin(n), 54, _PAPERS[n % 6], n)
    board = _blank()
    draw = ImageDraw.Draw(board)
    for plank in range(6):
        y = 1290 + plank * 120
        tone = 96 + 14 * (plank % 3)
        draw.rectangle(
            (0, y, SIZE[0], y + 112), fill=(tone, int(tone * 0.68), int(tone * 0.46), 255)
        )
        for _ in range(26):
            x = float(rng.uniform(0, SIZE[0]))
            draw.line(
                (x, y + float(rng.uniform(8, 100)), x + 320, y + float(rng.uniform(8, 100))),
                fill=(58, 38, 28, 160),
                width=3,
            )
    pots = _blank()
    draw = ImageDraw.Draw(pots)
    glazes = [(72, 104, 120), (176, 120, 70), (212, 196, 168), (92, 66, 58), (108, 130, 92)]
    for n in range(9):
        x, base = 220 + n * 300, 1400 + 60 * (n % 2)
        height, r = 230 + 160 * ((n * 7) % 4) / 3, 96 + 30 * ((n * 5) % 3)
        glaze = glazes[n % 5]
        for ring in range(40):
            t = ring / 39
            bulge = r * (0.62 + 0.42 * math.sin(math.pi * (0.15 + 0.8 * t)))
            level = base - height * t
            light = 0.72 + 0.4 * t
            shade = [min(255, int(c * light)) for c in glaze]
            draw.ellipse((x - bulge, level - 30, x + bulge, level + 30), fill=(*shade, 255))
            if ring % 8 == 3:
                draw.arc(
                    (x - bulge, level - 30, x + bulge, level + 30),
                    10,
                    170,
                    fill=(244, 230, 204, 255),
                    width=5,
                )
        draw.ellipse(
            (x - r * 0.6, base - height - 30, x + r * 0.6, base - height + 16),
            fill=(36, 28, 28, 255),
        )
        draw.line(
            (x - r * 0.55, base - height * 0.9, x - r * 0.5, base - height * 0.2),
            fill=(255, 240, 214, 200),
            width=10,
        )
    return [
        Layer(40, back),
        Layer(12, far),
        Layer(2.4, _textured(board, rng, 12)),
        Layer(1.8, _textured(pots, rng, 7)),
    ]


def one_lantern(rng: np.random.Generator) -> list[Layer]:
    """One large lantern close by, the others far away."""
    night = _gradient([(0, (22, 28, 52)), (0.7, (60, 52, 84)), (1, (32, 28, 44))])
    far = _blank()
    for n in range(26):
        place = (float(rng.uniform(0, SIZE[0])), float(rng.uniform(300, 1300)))
        _lantern(far, *place, float(rng.uniform(24, 52)), _PAPERS[n % 6], n)
    near = _blank()
    ImageDraw.Draw(near).line((1240, 0, 1240, 560), fill=(50, 40, 40, 255), width=14)
    _lantern(near, 1240, 1000, 430, (228, 120, 50), 1)
    return [Layer(80, night), Layer(16, far), Layer(1.6, _textured(near, rng, 8), moves=True)]


def stars_over_quay(rng: np.random.Generator) -> list[Layer]:
    """The whole quay at night, wide."""
    sky = _gradient(
        [(0, (10, 14, 34)), (0.55, (40, 44, 84)), (0.62, (24, 26, 46)), (1, (8, 10, 22))]
    )
    draw = ImageDraw.Draw(sky)
    for _ in range(500):
        x, y = float(rng.uniform(0, SIZE[0])), float(rng.uniform(0, 1000))
        size = float(rng.uniform(1, 3.4))
        tone = int(rng.integers(120, 255))
        draw.ellipse((x, y, x + size, y + size), fill=(tone, tone, 255, 255))
    town = _houses(rng, 1560, 0.75).resize((SIZE[0] // 2, SIZE[1] // 2))
    small = _blank()
    small.alpha_composite(town, (0, 500))
    small.alpha_composite(town.transpose(Image.Transpose.FLIP_LEFT_RIGHT), (SIZE[0] // 2, 500))
    glitter = _blank()
    draw = ImageDraw.Draw(glitter)
    for _ in range(1500):
        x, y = float(rng.uniform(0, SIZE[0])), 1290 + float(rng.exponential(200))
        width = float(rng.uniform(8, 60))
        draw.line((x, y, x + width, y), fill=(255, 190, 110, int(rng.integers(30, 150))), width=4)
    return [
        Layer(900, sky),
        Layer(120, small),
        Layer(60, glitter),
        Layer(25, _rope(rng, 1000, 90, 30, 22)),
    ]


SCENES: Final[dict[str, Callable[[np.random.Generator], list[Layer]]]] = {
    "lantern_rope": lantern_rope,
    "boats": boats,
    "bunting": bunting,
    "pottery": pottery,
    "one_lantern": one_lantern,
    "stars_over_quay": stars_over_quay,
}

# Diameter in px of the disc that a point at infinity makes when the focus is at 1 m.
_APERTURE: Final = 46.0


def photograph(layers: list[Layer], take: Take, rng: np.random.Generator) -> Image.Image:
    """Take one frame: compose the layers with focus, framing, movement, exposure and noise."""
    result = Image.new("RGB", SIZE)
    for layer in layers:
        picture = layer.picture
        # Thin lens: the blur disc grows with the difference of the reciprocal distances.
        disc = _APERTURE * abs(1 / layer.distance_m - 1 / take.focus_m)
        if disc > 0.6:
            picture = _blurred(picture, disc / 2.6)
        if layer.moves and take.gust > 1:
            picture = _moved(picture, take.gust, 12.0)
        result.paste(picture, (0, 0), picture)
    if take.shake[0] > 1:
        result = _moved(result, *take.shake)
    width, height = WIDTH / take.zoom, HEIGHT / take.zoom
    if take.upright:
        width, height = height * HEIGHT / WIDTH, height
    left = SIZE[0] / 2 - width / 2 + take.dx
    top = SIZE[1] / 2 - height / 2 + take.dy
    size = (HEIGHT, WIDTH) if take.upright else (WIDTH, HEIGHT)
    framed = result.resize(
        size, Image.Resampling.BICUBIC, (left, top, left + width, top + height)
    ).filter(ImageFilter.BoxBlur(0.6))
    return _exposed(framed, take, rng)


def _blurred(picture: Image.Image, sigma: float) -> Image.Image:
    """Blur with a Gaussian of ``sigma`` px; a strong one at reduced size, which looks the same."""
    by = 4 if sigma > 5 else 2 if sigma > 1.4 else 1
    if by == 1:
        return picture.filter(ImageFilter.GaussianBlur(sigma))
    small = picture.reduce(by).filter(ImageFilter.GaussianBlur(sigma / by))
    return small.resize(picture.size, Image.Resampling.BILINEAR)


def _moved(picture: Image.Image, length: float, angle: float) -> Image.Image:
    """The mean of a picture along a straight path of ``length`` px at ``angle`` degrees."""
    steps = max(2, min(14, int(length)))
    reach = [length * (n / (steps - 1) - 0.5) for n in range(steps)]
    turn = math.radians(angle)
    total = None
    for way in reach:
        offset = ImageChops.offset(
            picture, round(way * math.cos(turn)), round(-way * math.sin(turn))
        )
        pixels = np.asarray(offset, np.uint16)
        total = pixels if total is None else total + pixels
    assert total is not None
    return Image.fromarray((total // steps).astype(np.uint8))


def _exposed(picture: Image.Image, take: Take, rng: np.random.Generator) -> Image.Image:
    y, x = np.ogrid[-1 : 1 : picture.height * 1j, -1 : 1 : picture.width * 1j]
    shading = (1 - 0.16 * (x * x + y * y)).astype(np.float32)[..., None]
    gain = np.float32(2 ** (take.exposure_ev / 2.2))
    noise = rng.standard_normal((picture.height, picture.width, 1), np.float32)
    pixels = np.multiply(np.asarray(picture), shading * gain, dtype=np.float32)
    pixels += noise * np.float32(take.noise)
    return Image.fromarray(np.clip(pixels, 0, 255, out=pixels).astype(np.uint8))
