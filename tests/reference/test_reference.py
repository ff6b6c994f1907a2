"""Winnow's figures against sources and programs outside the project."""

import io
from pathlib import Path

import cv2
import imagehash
import numpy as np
import pytest
import scipy.ndimage
import skimage.data
import skimage.measure
from PIL import Image

from winnow.core.frames import Kind
from winnow.core.measure.likeness import difference_hash, edge_layout, to_lab
from winnow.photos.decode import decode

PROFILES = Path("/usr/share/color/argyll/ref")


@pytest.mark.parametrize("name", ["astronaut", "chelsea", "coffee", "rocket"])
def test_difference_hash_against_imagehash(name: str) -> None:
    """Bit for bit as the package ImageHash, on free photographs in scikit-image."""
    picture = getattr(skimage.data, name)()
    theirs = imagehash.dhash(Image.fromarray(picture)).hash
    assert (np.unpackbits(difference_hash(picture)).reshape(8, 8) == theirs).all()


def test_cielab_against_scikit_image() -> None:
    """CIE 15:2004 through scikit-image's rgb2lab (D65, 2° observer)."""
    picture = skimage.data.coffee()[::7, ::7]
    assert np.abs(to_lab(picture) - skimage.color.rgb2lab(picture)).max() < 0.1


@pytest.mark.parametrize("name", ["astronaut", "chelsea", "coffee", "rocket"])
def test_edge_layout_against_opencv_and_scipy(name: str) -> None:
    """Histograms of gradient directions in cells (Dalal and Triggs, CVPR 2005), each gradient
    counted in cells around it by a Gaussian: that of scipy, and OpenCV's gradients."""
    picture = getattr(skimage.data, name)()
    grey = cv2.resize(cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY), (128, 128), interpolation=3)
    across, down = cv2.Sobel(grey, cv2.CV_32F, 1, 0), cv2.Sobel(grey, cv2.CV_32F, 0, 1)
    strength, angle = np.hypot(across, down), np.arctan2(down, across)
    cells = []
    for way in range(4):
        there = strength * (np.rint(angle / np.pi * 4).astype(int) % 4 == way)
        spread = scipy.ndimage.gaussian_filter(there, 8, mode="mirror", truncate=4)
        cells.append(skimage.measure.block_reduce(spread, (32, 32), np.sum))
    shares = np.stack(cells, -1).ravel()
    assert np.abs(edge_layout(picture) - np.sqrt(shares / shares.sum())).max() < 1e-4


# (200, 100, 50) in each colour space, in sRGB: littlecms and colour-science agree within 1.
@pytest.mark.skipif(not PROFILES.exists(), reason="argyll-ref is not installed")
@pytest.mark.parametrize(
    ("profile", "expected"),
    [
        ("DisplayP3.icm", (215, 93, 31)),
        ("ClayRGB1998.icm", (227, 100, 42)),
        ("sRGB.icm", (200, 100, 50)),
    ],
)
@pytest.mark.parametrize("kind", ["PNG", "TIFF"])
def test_colour_profiles_are_honoured(
    profile: str, expected: tuple[int, int, int], kind: str
) -> None:
    """ICC profiles of Debian's argyll-ref, public domain."""
    out = io.BytesIO()
    Image.new("RGB", (16, 16), (200, 100, 50)).save(
        out, kind, icc_profile=(PROFILES / profile).read_bytes()
    )
    shown = decode(out.getvalue(), Kind(kind), 1, None).pixels[8, 8]
    assert np.abs(shown.astype(int) - expected).max() <= 1
