"""Facts against an independent reader, and free picture files of a reference package."""

import io
import json
import shutil
import subprocess
from pathlib import Path

import numpy as np
import pytest
import skimage.data
from PIL import Image, ImageCms

from tests.pictures import dng, jpeg
from winnow.core.facts import Facts
from winnow.core.frames import kind_of
from winnow.photos import pictures, raw
from winnow.photos.metadata import read_facts, read_facts_at

needs_exiftool = pytest.mark.skipif(
    not shutil.which("exiftool"), reason="exiftool is not installed"
)


def by_exiftool(path: Path) -> dict[str, object]:
    out = subprocess.run(["exiftool", "-json", "-n", str(path)], capture_output=True, check=True)
    found: dict[str, object] = json.loads(out.stdout)[0]
    return found


def written(path: Path, *tags: str) -> Path:
    """The file with tags that exiftool wrote."""
    subprocess.run(["exiftool", "-q", "-overwrite_original", "-n", *tags, str(path)], check=True)
    return path


TAGS = (
    "-Make=Quillon", "-Model=H2", "-SerialNumber=0417003", "-LensModel=Marrow 85 mm f/1.8",
    "-LensSerialNumber=L7", "-DateTimeOriginal=2026:10:03 18:38:02", "-SubSecTimeOriginal=137",
    "-OffsetTimeOriginal=+02:00", "-FocalLength=85", "-FNumber=1.8", "-ExposureTime=0.004",
    "-ISO=400", "-ExposureCompensation=-1.33", "-EXIF:Flash=1", "-Orientation=6",
    "-ExposureProgram#=3", "-GPSLatitude=54.123456", "-GPSLatitudeRef=N", "-GPSLongitude=3.654321",
    "-GPSLongitudeRef=W",
)  # fmt: skip


@needs_exiftool
@pytest.mark.parametrize("kind", ["jpg", "tif", "png", "dng"])
def test_facts_are_what_exiftool_wrote_and_reads(tmp_path: Path, kind: str) -> None:
    """exiftool 12.57 from Debian, both ways."""
    path = tmp_path / f"a.{kind}"
    if kind == "dng":
        path.write_bytes(dng(jpeg(1, 1200, 800), 1200, 800))
    else:
        Image.open(_jpeg_at(tmp_path)).save(path)
    theirs = by_exiftool(written(path, *TAGS))
    for facts in (read_facts(path.read_bytes()), read_facts_at(path)):
        assert facts.camera == "Quillon H2"
        assert facts.serial == str(theirs["SerialNumber"]).zfill(7) == "0417003"
        assert (facts.lens, facts.lens_serial) == ("Marrow 85 mm f/1.8", "L7")
        assert facts.taken_at == pytest.approx(1791052682.137)
        assert facts.utc_offset_min == 120
        assert facts.focal_mm == theirs["FocalLength"] == 85
        assert facts.aperture == pytest.approx(theirs["FNumber"])
        assert facts.shutter_s == pytest.approx(theirs["ExposureTime"])
        assert facts.iso == theirs["ISO"] == 400
        assert facts.exposure_bias_ev == pytest.approx(theirs["ExposureCompensation"], abs=0.01)
        assert facts.flash is True
        assert facts.program == "aperture priority"
        assert facts.orientation == 6
        assert facts.place == pytest.approx((54.123456, -3.654321), abs=1e-5)


@needs_exiftool
def test_the_exposure_by_libraw_is_what_exiftool_wrote(tmp_path: Path) -> None:
    """LibRaw, through rawpy: the camera’s clock, whatever the zone of this
    computer."""
    path = tmp_path / "a.dng"
    path.write_bytes(dng(jpeg(1, 1200, 800), 1200, 800))
    theirs = by_exiftool(written(path, *TAGS))
    facts = raw.exposure_of(path)
    assert facts.taken_at == 1791052682
    assert facts.aperture == pytest.approx(theirs["FNumber"])
    assert facts.shutter_s == pytest.approx(theirs["ExposureTime"])
    assert (facts.iso, facts.focal_mm) == (400, 85)
    assert raw.exposure_of(_jpeg_at(tmp_path)) == Facts()


def _jpeg_at(folder: Path) -> Path:
    path = folder / "source.jpg"
    path.write_bytes(jpeg(1, 1200, 800))
    return path


@needs_exiftool
@pytest.mark.parametrize(
    ("orientation", "point"),
    [(1, (0.25, 0.5)), (3, (0.75, 0.5)), (6, (0.5, 0.25)), (8, (0.5, 0.75))],
)
def test_the_focus_point_is_in_the_upright_picture(
    tmp_path: Path, orientation: int, point: tuple[float, float]
) -> None:
    """Exif 2.32, SubjectArea: x, y in px of the stored picture."""
    path = written(_jpeg_at(tmp_path), f"-Orientation={orientation}", "-SubjectArea=300 400 50")
    assert read_facts(path.read_bytes()).focus_point == pytest.approx(point)


@needs_exiftool
def test_values_that_cannot_be_are_not_facts(tmp_path: Path) -> None:
    path = written(
        _jpeg_at(tmp_path), "-GPSLatitude=0", "-GPSLatitudeRef=N", "-GPSLongitude=0",
        "-GPSLongitudeRef=E", "-SubjectArea=0 0", "-FNumber=0", "-ExposureTime=0",
    )  # fmt: skip
    facts = read_facts(path.read_bytes())
    assert (facts.place, facts.focus_point) == (None, None)
    assert (facts.aperture, facts.shutter_s) == (None, None)
    assert read_facts(b"not a picture") == Facts()


FREE = sorted(
    path
    for path in Path(skimage.data.__file__).parent.iterdir()
    if path.suffix in (".jpg", ".png", ".tif", ".tiff") and "multi" not in path.name
)


@pytest.mark.parametrize("path", FREE, ids=lambda path: path.name)
def test_free_pictures_are_shown_as_littlecms_shows_them(path: Path) -> None:
    """The picture files that come with scikit-image (their licences are in its data folder); some
    have profiles of a screen, of a wide space, or of a press."""
    kind = kind_of(path.name)
    assert kind
    seen = pictures.look(path.read_bytes(), kind, 1)
    with Image.open(path) as image:
        assert (seen.width, seen.height) == image.size
        if image.mode not in ("RGB", "L"):
            return
        if icc := image.info.get("icc_profile"):
            converted = ImageCms.profileToProfile(
                image, ImageCms.ImageCmsProfile(io.BytesIO(icc)), ImageCms.createProfile("sRGB"),
                ImageCms.Intent.RELATIVE_COLORIMETRIC, outputMode="RGB",
                flags=ImageCms.Flags.BLACKPOINTCOMPENSATION,
            )  # fmt: skip
        else:
            converted = image.convert("RGB")
        wanted = np.asarray(converted, float)
    shown = np.asarray(Image.open(io.BytesIO(seen.preview)).convert("RGB"), float)
    h, w = min(shown.shape[0], wanted.shape[0]), min(shown.shape[1], wanted.shape[1])
    if max(wanted.shape) <= pictures.PREVIEW_PX:
        assert np.abs(shown[:h, :w] - wanted[:h, :w]).mean() < 4


@needs_exiftool
@pytest.mark.parametrize(
    ("tags", "fact", "value"),
    [
        (("-ISO=0", "-RecommendedExposureIndex=800"), "iso", 800),
        (("-ISO=65535", "-SensitivityType=3", "-ISOSpeed=102400"), "iso", 102400),
        (("-ISO=0",), "iso", None),
        (("-IFD0:ISO=320",), "iso", 320),
        (("-IFD0:FNumber=5.6",), "aperture", pytest.approx(5.6)),
        (("-IFD0:ExposureTime=0.01",), "shutter_s", pytest.approx(0.01)),
        (("-IFD0:DateTimeOriginal=2026:10:03 18:38:02",), "taken_at", 1791052682.0),
        (("-IFD0:CameraSerialNumber=77",), "serial", "77"),
    ],
)
def test_facts_where_others_put_them(
    tmp_path: Path, tags: tuple[str, ...], fact: str, value: object
) -> None:
    path = written(_jpeg_at(tmp_path), *tags)
    assert getattr(read_facts(path.read_bytes()), fact) == value


@needs_exiftool
@pytest.mark.parametrize(
    "tags",
    [
        ("-XMP-exif:DateTimeOriginal=2026:10:03 18:38:02.25+02:00",),
        ("-XMP-photoshop:DateCreated=2026:10:03 18:38:02.25",),
        ("-IPTC:DateCreated=2026:10:03", "-IPTC:TimeCreated=18:38:02+02:00"),
        ("-XMP-xmp:CreateDate=2026:10:03 18:38:02", "-IFD0:ModifyDate=2026:11:11 11:11:11"),
    ],
)
def test_a_time_that_exif_does_not_say(tmp_path: Path, tags: tuple[str, ...]) -> None:
    facts = read_facts(written(_jpeg_at(tmp_path), *tags).read_bytes())
    assert facts.taken_at == (1791052682.25 if ".25" in tags[0] else 1791052682.0)


@pytest.mark.parametrize(
    "text", ["2026-10-03 18:38:02", "2026-10-03T18:38:02", "2026/10/03 18:38:02"]
)
def test_dates_with_other_signs_between(text: str) -> None:
    data = jpeg(1, taken_at=1791052682.0)
    assert data.count(b"2026:10:03 18:38:02") == 1
    facts = read_facts(data.replace(b"2026:10:03 18:38:02", text.encode()))
    assert facts.taken_at == 1791052682.0
