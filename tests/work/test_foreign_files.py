"""Files of other programs and cameras: a strange one costs itself at most, never the run or its
neighbours."""

import json
import os
import shutil
import subprocess
import zipfile
from pathlib import Path

import pillow_heif
import pillow_jxl  # noqa: F401
import pytest
from psd_tools import PSDImage

from tests.conftest import indexed
from tests.pictures import dng, jpeg, scene, write_shoot
from winnow.core.facts import Facts
from winnow.core.files.merge import Stated
from winnow.core.files.profiles import FileMark
from winnow.core.filters.filter import Filter
from winnow.core.filters.parser import parse
from winnow.photos import xmp
from winnow.photos.metadata import read_facts
from winnow.store import choices, frames, shoots
from winnow.store.frames import State
from winnow.work import filtering
from winnow.work.files import lists
from winnow.work.index import regroup
from winnow.work.runtime import Runtime
from winnow.work.workers import tasks

needs_exiftool = pytest.mark.skipif(
    not shutil.which("exiftool"), reason="exiftool is not installed"
)


def states(runtime: Runtime, shoot: int) -> dict[str, tuple[int, str]]:
    return {row.name: (row.state, row.notice) for row in frames.rows(runtime.db, shoot)}


@needs_exiftool
@pytest.mark.parametrize("charset", ["latin", "utf8"])
def test_texts_that_are_not_utf_8_are_read_all_the_same(
    runtime: Runtime, tmp_path: Path, charset: str
) -> None:
    files = write_shoot(tmp_path / "shoot", [1, 2, 3])
    subprocess.run(
        ["exiftool", "-q", "-overwrite_original", "-charset", f"exif={charset}",
         "-LensModel=Glühwürmchen 50 mm", "-Make=Brüllhoff", "-Model=1", str(files[1])],
        check=True,
    )  # fmt: skip
    shoot = indexed(runtime, tmp_path / "shoot")
    assert set(states(runtime, shoot).values()) == {(State.DONE, "")}
    facts = frames.get(runtime.db, frames.rows(runtime.db, shoot)[1].id)
    assert facts is not None
    assert (facts.lens, facts.camera) == ("Glühwürmchen 50 mm", "Brüllhoff 1")


def test_every_kind_of_file_is_a_frame(runtime: Runtime, tmp_path: Path) -> None:
    folder = tmp_path / "shoot"
    folder.mkdir()
    picture = scene(1).resize((480, 320))
    pillow_heif.register_heif_opener()
    for ending, name in (("jpg", "JPEG"), ("png", "PNG"), ("tif", "TIFF"), ("heic", "HEIF"),
    ("webp", "WEBP"),
                         ("avif", "AVIF"), ("jxl", "JXL"), ("mpo", "JPEG")):  # fmt: skip
        picture.save(folder / f"{ending}.{ending}", name)
    PSDImage.frompil(picture).save(folder / "psd.psd")
    with zipfile.ZipFile(folder / "ora.ora", "w") as archive:
        archive.writestr("mimetype", "image/openraster")
        archive.write(folder / "png.png", "mergedimage.png")
    (folder / "dng.dng").write_bytes(dng(jpeg(1, 1200, 800)))
    shoot = indexed(runtime, folder)
    rows = frames.rows(runtime.db, shoot)
    assert len(rows) == 11
    assert set(states(runtime, shoot).values()) == {(State.DONE, "")}
    kinds = {
        "jpg": "JPEG", "mpo": "JPEG", "png": "PNG", "tif": "TIFF", "heic": "HEIC", "avif": "AVIF",
        "webp": "WebP",
        "jxl": "JPEG XL", "psd": "PSD", "ora": "OpenRaster", "dng": "raw",
    }  # fmt: skip
    for row in rows:
        facts = frames.get(runtime.db, row.id)
        assert facts is not None
        width = 1200 if row.name == "dng" else 480
        assert (facts.kind, facts.width) == (kinds[row.name], width)
    assert filtering.matching(runtime.db, shoot, Filter(where=parse("type webp", {})))


def strange(
    monkeypatch: pytest.MonkeyPatch, size: int, error: Exception | None, lens: str = ""
) -> None:
    """Let the facts of files of this size be no facts at all."""

    def read(data: bytes, *, with_thumbnail: bool = False) -> Facts:
        if len(data) != size:
            return read_facts(data, with_thumbnail=with_thumbnail)
        if error:
            raise error
        return Facts(lens=lens, width=480, height=320)

    monkeypatch.setattr(tasks, "read_facts", read)


@pytest.mark.parametrize(
    ("error", "lens"), [(KeyError("segment"), ""), (None, "\udcff"), (RecursionError(), "")]
)
def test_a_frame_that_nothing_is_prepared_for_has_a_notice_and_the_rest_is_done(
    runtime: Runtime,
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
    error: Exception | None,
    lens: str,
) -> None:
    files = write_shoot(tmp_path / "shoot", [1, 2, 3])
    strange(monkeypatch, files[1].stat().st_size, error, lens)
    found = states(runtime, indexed(runtime, tmp_path / "shoot"))
    assert found["QH_0001"] == found["QH_0003"] == (State.DONE, "")
    state, notice = found["QH_0002"]
    assert state == State.FAILED
    assert notice.startswith("It could not be read (")


def test_a_sidecar_that_nothing_is_prepared_for_is_left_alone_and_said(
    runtime: Runtime, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    write_shoot(tmp_path / "shoot", [1, 2])
    for name, number in (("QH_0001.xmp", 2), ("QH_0002.xmp", 3)):
        (tmp_path / "shoot" / name).write_bytes(
            xmp.with_stated(None, Stated(FileMark(rating=number)))
        )
    reading = xmp.read_sidecar

    def read(data: bytes) -> Stated:
        if b'"2"' in data or b">2<" in data:
            raise IndexError("no such part")
        return reading(data)

    monkeypatch.setattr(xmp, "read_sidecar", read)
    shoot = indexed(runtime, tmp_path / "shoot")
    assert set(states(runtime, shoot).values()) == {(State.DONE, "")}
    assert runtime.indexer.status(shoot).notices == (
        "The sidecar QH_0001.xmp is left alone: it can’t be read (no such part).",
    )
    stars = runtime.db.read.execute("SELECT stars FROM mark ORDER BY frame_id").fetchall()
    assert [row["stars"] for row in stars] == [0, 3]


def test_names_that_are_not_utf_8_are_frames_and_sidecars_like_others(
    runtime: Runtime, tmp_path: Path
) -> None:
    (picture,) = write_shoot(tmp_path / "shoot", [1])
    folder = os.fsencode(tmp_path / "shoot")
    os.rename(picture, os.path.join(folder, b"caf\xe9.jpg"))
    with open(os.path.join(folder, b"caf\xe9.xmp"), "wb") as file:
        file.write(xmp.with_stated(None, Stated(FileMark(rating=4))))
    shoot = indexed(runtime, tmp_path / "shoot")
    assert [state for state, _ in states(runtime, shoot).values()] == [State.DONE]
    assert runtime.indexer.status(shoot).notices == ()
    assert runtime.db.read.execute("SELECT stars FROM mark").fetchone()["stars"] == 4


def test_a_run_that_ends_by_a_fault_says_so_and_the_next_look_goes_on(
    runtime: Runtime, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    write_shoot(tmp_path / "shoot", [1, 2])

    def broken(*_: object) -> None:
        raise ZeroDivisionError("threshold")

    with monkeypatch.context() as patched:
        patched.setattr(regroup, "regroup", broken)
        shoot = indexed(runtime, tmp_path / "shoot")
    (notice,) = runtime.indexer.status(shoot).notices
    assert notice == (
        "Looking at this shoot ended by a fault of Winnow’s (threshold). Nothing is lost; it is "
        "tried again with the next look."
    )
    indexed(runtime, tmp_path / "shoot")
    assert runtime.indexer.status(shoot).notices == ()
    assert shoots.tally(runtime.db, shoot).done == 2


def test_a_time_that_is_not_known_passes_no_comparison(runtime: Runtime, tmp_path: Path) -> None:
    write_shoot(tmp_path / "shoot", [1])
    scene(2).save(tmp_path / "shoot" / "QH_0002.png")
    shoot = indexed(runtime, tmp_path / "shoot")
    every = filtering.find(runtime.db, shoot, Filter(where=parse("time 0:00..23:59", {})))
    assert [frames.name_of(runtime.db, frame) for frame in every.ids] == ["QH_0001"]
    rows = {row.name: frames.get(runtime.db, row.id) for row in frames.rows(runtime.db, shoot)}
    assert {name: row and row.dated for name, row in rows.items()} == {
        "QH_0001": 1,
        "QH_0002": 0,
    }
    assert sum(choices.counted_values(runtime.db, shoot, Filter(), "time")[0].values()) == 1
    ids = [row.id for row in frames.rows(runtime.db, shoot)]
    listed = json.loads(lists.write(runtime.db, shoot, ids, "json", ["facts"]))["frames"]
    assert {row["file"]: bool(row["taken"]) for row in listed} == {
        "QH_0001.jpg": True, "QH_0002.png": False,
    }  # fmt: skip
