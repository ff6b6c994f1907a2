"""The demo's files: made whole, the same every time, and true to what is said of them."""

import io
from pathlib import Path

import cv2
import numpy as np
import pytest
import rawpy
from PIL import Image

from winnow.core.frames import Kind
from winnow.demo import develop, devices, evening, raw, shoot, truth
from winnow.photos.decode import decode
from winnow.photos.metadata import read_facts

FRAMES = list(evening.frames())
GROUPS = evening.groups()


def frame_where(**wanted: object) -> evening.Frame:
    """The first frame whose truth has these values."""
    for frame in FRAMES:
        known = truth.of_frame(frame)
        if all(known[key] == value for key, value in wanted.items()):
            return frame
    raise AssertionError(wanted)


def pixels(frame: evening.Frame) -> np.ndarray:
    """The upright picture, H x W x 3."""
    data, _ = develop.develop(GROUPS[frame.group], frame, frame.group * 100 + frame.number)
    return decode(data, Kind.JPEG, read_facts(data).orientation, None).pixels


def sharpness(picture: np.ndarray, at: list[float], half: int = 130) -> float:
    """Variance of the Laplacian round a point, after the noise is smoothed."""
    x, y = (round(c) for c in at)
    part = cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY)[
        max(0, y - half) : y + half, max(0, x - half) : x + half
    ]
    return float(cv2.Laplacian(cv2.GaussianBlur(part, (0, 0), 1.2), cv2.CV_64F).var())


@pytest.fixture
def one_group(monkeypatch: pytest.MonkeyPatch) -> evening.Frame:
    """An evening of one lone frame."""
    frame = next(f for f in FRAMES if len(GROUPS[f.group].takes) == 1)
    monkeypatch.setattr(shoot, "_missing", lambda folder: _not_there(folder, frame))
    return frame


def _not_there(folder: Path, frame: evening.Frame) -> list[evening.Frame]:
    return [] if (folder / f"{frame.name}.jpg").exists() else [frame]


def test_frames_appear_whole_and_only_once(tmp_path: Path, one_group: evening.Frame) -> None:
    for maker in shoot.make_behind(tmp_path):
        maker.join(60)
    path = tmp_path / f"{one_group.name}.jpg"
    first = path.read_bytes()
    facts = read_facts(first, with_thumbnail=True)
    assert (facts.width, facts.height) == (develop.LONG_SIDE, develop.SHORT_SIDE)
    assert facts.camera == "Quillon H2"
    assert facts.taken_at == pytest.approx(one_group.taken_at, abs=0.0006)
    assert facts.thumbnail
    assert shoot.make_behind(tmp_path) == []
    path.unlink()
    for maker in shoot.make_behind(tmp_path):
        maker.join(60)
    assert path.read_bytes() == first


def test_an_upright_frame_lies_on_its_side_in_the_file(tmp_path: Path) -> None:
    frame = frame_where(upright=True)
    data, stored = develop.develop(GROUPS[frame.group], frame, 1)
    assert stored.shape == (develop.SHORT_SIDE, develop.LONG_SIDE, 3)
    assert read_facts(data).orientation == 8
    assert decode(data, Kind.JPEG, 8, None).pixels.shape == (
        develop.LONG_SIDE,
        develop.SHORT_SIDE,
        3,
    )


def test_copy_raw_and_damage(tmp_path: Path) -> None:
    copied = next(f for f in FRAMES if f.name == shoot.COPIED)
    shoot.make_frame(copied, tmp_path)
    one, two = (tmp_path / name for name in shoot.files_of(copied))
    assert one.read_bytes() == two.read_bytes()

    hurt = next(f for f in FRAMES if f.name == shoot.DAMAGED)
    shoot.make_frame(hurt, tmp_path)
    data = (tmp_path / f"{hurt.name}.jpg").read_bytes()
    assert decode(data, Kind.JPEG, 1, None).notices

    pair = next(f for f in FRAMES if GROUPS[f.group].takes[f.number].raw)
    shoot.make_frame(pair, tmp_path)
    jpeg, dng = (tmp_path / name for name in shoot.files_of(pair))
    assert read_facts(dng.read_bytes()).taken_at == read_facts(jpeg.read_bytes()).taken_at
    with rawpy.imread(str(dng)) as opened:
        preview = opened.extract_thumb()
        developed = opened.postprocess(half_size=True, no_auto_bright=True)
    assert isinstance(preview.data, bytes)
    assert Image.open(io.BytesIO(preview.data)).size == (develop.LONG_SIDE, develop.SHORT_SIDE)
    shown = np.asarray(
        Image.open(jpeg).resize((develop.LONG_SIDE // 2, develop.SHORT_SIDE // 2)), float
    )
    # What libraw develops of the mosaic is the picture again.
    assert np.corrcoef(developed.astype(float).ravel(), shown.ravel())[0, 1] > 0.97


def test_mosaic_holds_each_colour_in_its_place() -> None:
    red = np.zeros((4, 4, 3), np.uint8)
    red[..., 0] = 255
    values = raw.mosaic(red)
    assert values[0, 0] == 512 + round(0.5 * (15871 - 512))
    assert values[0, 1] == values[1, 0] == values[1, 1] == 512


@pytest.mark.parametrize("scene", ["crates", "rope"])
def test_the_frame_with_focus_on_the_subject_is_the_sharpest_there(scene: str) -> None:
    group = next(i for i, g in enumerate(GROUPS) if g.scene == scene and not g.people)
    by_sharpness = []
    for frame in (f for f in FRAMES if f.group == group):
        known = truth.of_frame(frame)
        if abs(known["ev"]) < 0.1:
            soft = known["blur_px"] + known["shake_px"]
            by_sharpness.append((sharpness(pixels(frame), known["subject"]), soft))
    sharp = [s for s, soft in by_sharpness if soft < 0.5]
    assert min(sharp) > 1.3 * max(s for s, soft in by_sharpness if soft > 6)


def test_closed_eyes_are_where_the_truth_says() -> None:
    group = next(i for i, g in enumerate(GROUPS) if [p.person for p in g.people] == ["keeper"])
    darkest = {}
    for wanted in ("open", "closed"):
        frame = next(
            f for f in FRAMES if f.group == group and (t := truth.of_frame(f))
            and t["faces"][0]["eyes"] == wanted and t["faces"][0]["looking"] == "at"
            and t["blur_px"] < 1
        )  # fmt: skip
        picture = pixels(frame)
        x, y = (round(c) for c in truth.of_frame(frame)["faces"][0]["eye_points"][0])
        # The middle of an eye: a pupil, or the skin of a lid.
        darkest[wanted] = np.percentile(picture[y - 4 : y + 5, x - 4 : x + 5], 20)
    assert darkest["open"] < 0.7 * darkest["closed"]


def test_a_flash_that_did_not_fire_leaves_people_dark() -> None:
    fired, failed = frame_where(flash=True), next(
        f for f in FRAMES if len(GROUPS[f.group].people) == 3 and not truth.of_frame(f)["flash"]
    )  # fmt: skip
    levels = []
    for frame in (fired, failed):
        left, top, right, bottom = (round(c) for c in truth.of_frame(frame)["faces"][0]["box"])
        levels.append(pixels(frame)[top:bottom, left:right].mean())
    assert levels[0] > 1.8 * levels[1]
    assert read_facts(develop.develop(GROUPS[fired.group], fired, 1)[0]).flash is True


def test_a_card_as_cameras_write_it(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    turn = [f for f in FRAMES if f.name in ("QH2_9998", "QH2_9999", "QH2_0001", "TN900412")]
    monkeypatch.setattr(evening, "frames", lambda: iter(turn))
    monkeypatch.setattr(shoot, "make_frame", _write_names)
    assert devices.fill_card(tmp_path / "card", tmp_path / "made") == 4
    found = sorted(str(p.relative_to(tmp_path / "card")) for p in (tmp_path / "card").rglob("*.*"))
    assert found == [
        "DCIM/100QUILL/QH2_9998.JPG", "DCIM/100QUILL/QH2_9999.JPG",
        "DCIM/100TESSL/TN900412.JPG", "DCIM/101QUILL/QH2_0001.JPG",
    ]  # fmt: skip
    assert devices.fill_card(tmp_path / "card", tmp_path / "made") == 0


def test_a_camera_that_keeps_shooting(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(evening, "frames", lambda: iter(FRAMES[:3]))
    monkeypatch.setattr(shoot, "make_frame", _write_names)
    waited: list[float] = []
    shots = devices.keep_shooting(tmp_path / "in", tmp_path / "made", 4, waited.append)
    assert next(shots).name == f"{FRAMES[0].name}.jpg"
    assert next(shots).name == f"{FRAMES[1].name}.jpg"
    assert waited == [4]
    again = devices.keep_shooting(tmp_path / "in", tmp_path / "made", 4, waited.append)
    assert [path.name for path in again] == [f"{FRAMES[2].name}.jpg"]


def _write_names(frame: evening.Frame, folder: Path) -> None:
    for name in shoot.files_of(frame):
        (folder / name).write_text(name)


def test_the_ready_made_files_are_what_developing_gives() -> None:
    ready = sorted(shoot.OPENING.glob("*.jpg"))
    assert [path.stem for path in ready] == [f.name for f in FRAMES[: len(ready)]]
    for path in ready[:: len(ready) - 1]:
        frame = next(f for f in FRAMES if f.name == path.stem)
        data = path.read_bytes()
        kept = decode(data, Kind.JPEG, read_facts(data).orientation, None).pixels
        assert np.abs(kept.astype(int) - pixels(frame)).max() <= 2
