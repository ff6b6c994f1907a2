"""What the wheel holds: everything a person needs who has no Node and no checkout."""

import json
import re
import subprocess
import sys
import tarfile
import time
import urllib.request
import zipfile
from pathlib import Path

import pytest

ROOT = Path(__file__).parent.parent


@pytest.fixture(scope="module")
def wheel(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Built from the source package alone, as others would."""
    folder = tmp_path_factory.mktemp("dist")
    subprocess.run(
        [sys.executable, "-m", "build", "--no-isolation", "-o", str(folder)],
        cwd=ROOT,
        check=True,
        capture_output=True,
    )
    (sdist,) = folder.glob("*.tar.gz")
    with tarfile.open(sdist) as package:
        names = {name.partition("/")[2] for name in package.getnames()}
    assert {"src/winnow/web/page/index.html", "pyproject.toml", "LICENSE"} <= names
    (made,) = folder.glob("*.whl")
    return made


def test_the_wheel_holds_the_built_page_the_migrations_and_the_models(wheel: Path) -> None:
    with zipfile.ZipFile(wheel) as package:
        names = package.namelist()
        (entry,) = [name for name in names if name.endswith("entry_points.txt")]
        assert "winnow = winnow.start:main" in package.read(entry).decode()
    assert "winnow/web/page/index.html" in names
    assert any(n.startswith("winnow/web/page/assets/") and n.endswith(".woff2") for n in names)
    assert "winnow/store/migrations/0001_shoots_frames_marks.sql" in names
    assert any(name.endswith("licenses/LICENSE") for name in names)
    assert {"winnow/photos/gallery/gallery.js", "winnow/photos/gallery/gallery.css"} <= set(names)
    assert {"winnow/photos/fonts/LICENSE", "winnow/photos/fonts/DejaVuSansCondensed.ttf"} <= set(
        names
    )
    models = {n for n in names if n.startswith("winnow/photos/models/")}
    assert {Path(n).name for n in models if n.endswith(".tflite")} == {
        "face_detection_full_range.tflite", "face_landmark.tflite", "iris_landmark.tflite",
    }  # fmt: skip
    assert {"winnow/photos/models/NOTICE", "winnow/photos/models/LICENSE-Apache-2.0.txt"} <= models
    masters = {path.name for path in (ROOT / "src/winnow/demo/masters").iterdir()}
    assert {Path(n).name for n in names if n.startswith("winnow/demo/masters/")} == masters
    assert not [name for name in names if name.startswith("renders/")]


def test_the_wheel_runs_the_demo_in_an_empty_environment(wheel: Path, tmp_path: Path) -> None:
    """Only what the lock file names, no checkout, and no Node."""
    home = tmp_path / "env"
    subprocess.run([sys.executable, "-m", "venv", home], check=True)
    pip = [home / "bin" / "pip", "install", "-q", "--disable-pip-version-check"]
    locked = ROOT / "requirements" / "run.txt"
    subprocess.run([*pip, "--require-hashes", "-r", locked], check=True, cwd=tmp_path)
    subprocess.run([*pip, "--no-deps", wheel], check=True, cwd=tmp_path)
    checked = subprocess.run([home / "bin" / "pip", "check"], capture_output=True, text=True)
    assert checked.returncode == 0, checked.stdout
    env = {
        "PATH": str(home / "bin"),
        "HOME": str(tmp_path),
        "WINNOW_DATA": str(tmp_path / "data"),
        "WINNOW_CACHE": str(tmp_path / "cache"),
    }
    winnow = home / "bin" / "winnow"
    doctor = subprocess.run([winnow, "doctor"], env=env, capture_output=True, text=True)
    assert doctor.returncode == 0, doctor.stdout
    assert "BAD" not in doctor.stdout
    with subprocess.Popen(
        [winnow, "demo", "--port", "0"], env=env, cwd=tmp_path, stdout=subprocess.PIPE, text=True
    ) as demo:
        try:
            assert demo.stdout
            lines = iter(demo.stdout)
            url = next(f.group(0) for line in lines if (f := re.search(r"http://\S+", line)))
            base, _, token = url.partition("/shoots/1?token=")
            end = time.monotonic() + 600
            headers = {"authorization": f"Bearer {token}", "content-length": "0"}

            def ask(path: str, method: str = "GET") -> bytes:
                asked = urllib.request.Request(f"{base}{path}", headers=headers, method=method)
                with urllib.request.urlopen(asked) as answer:
                    return bytes(answer.read())

            while True:
                ask("/api/shoots/1/index", "POST")  # as an open window looks again
                tally = json.loads(ask("/api/shoots/1"))["tally"]
                if tally["done"] >= 3:
                    break
                assert time.monotonic() < end, tally
                time.sleep(0.5)
            assert b'<div id="root">' in ask("/")
        finally:
            demo.terminate()


def test_the_page_asks_no_other_host() -> None:
    for path in (ROOT / "src/winnow/web/page").rglob("*"):
        if path.suffix in (".html", ".css"):
            assert "//" not in path.read_text("utf-8").replace("://www.w3.org/", "").replace(
                "/*", ""
            )
