"""What Winnow measures of a frame, as indexing does, and what simpler methods say of the same
place."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray
from skimage.measure import blur_effect

from winnow.core.frames import Kind
from winnow.core.measure import extra_blur
from winnow.core.measure.faces import Point
from winnow.core.verdict.what_matters import RADIUS, Seen
from winnow.photos import pictures
from winnow.photos.decode import decode
from winnow.photos.pictures import Rendered, gray_of_preview

Gray = NDArray[np.float32]


def seen(data: bytes, focus_point: Point | None = None) -> tuple[Rendered, Seen]:
    """A JPEG as Winnow sees it; nobody looks for faces."""
    look = pictures.look(data, Kind.JPEG, 1)
    gray = gray_of_preview(look.preview)
    whole = pictures.full_size_luma(data, Kind.JPEG, 1)
    assert whole is not None
    close = partial(extra_blur.cut, whole)
    return look, Seen(look.width, look.height, look.focus, [], focus_point, lambda: gray, close)


def around(data: bytes, x: float, y: float) -> Gray:
    """Brightness, 0…1, of the part of a JPEG that a verdict looks at around a place."""
    picture = decode(data, Kind.JPEG, 1, None).pixels
    gray = cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY).astype(np.float32) / 255
    reach = round(RADIUS * max(gray.shape))
    top, left = max(0, round(y) - reach), max(0, round(x) - reach)
    part: Gray = gray[top : top + 2 * reach, left : left + 2 * reach]
    return part


def laplacian(part: Gray) -> float:
    """Variance of the Laplacian (Pech-Pacheco et al. 2000)."""
    return float(cv2.Laplacian(part, cv2.CV_32F).var())


def laplacian_energy(part: Gray) -> float:
    """Energy of the Laplacian, smoothed by 1 px, over the variance of the part: contrast drops
    out (Pertuz, Puig, Garcia 2013, as a ratio)."""
    smooth = cv2.GaussianBlur(part, (0, 0), 1)
    return float((cv2.Laplacian(smooth, cv2.CV_32F) ** 2).mean() / max(smooth.var(), 1e-9))


def tenengrad(part: Gray) -> float:
    """Energy of the gradient over the squared mean (Krotkov 1988, as a ratio)."""
    x, y = cv2.Sobel(part, cv2.CV_32F, 1, 0), cv2.Sobel(part, cv2.CV_32F, 0, 1)
    return float((x**2 + y**2).mean() / max(float(part.mean()) ** 2, 1e-9))


def no_reference(part: Gray) -> float:
    """The no-reference blur of Crete et al. 2007, as scikit-image has it; turned round, so that
    sharper is more."""
    return -float(blur_effect(part))  # type: ignore[no-untyped-call]


# What others would ask of one part alone: the sharper, the more.
RIVALS: Final[dict[str, Callable[[Gray], float]]] = {
    "variance of the Laplacian": laplacian,
    "Laplacian energy over variance": laplacian_energy,
    "Tenengrad over mean²": tenengrad,
    "blur_effect": no_reference,
}
