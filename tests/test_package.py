"""What the wheel holds: everything a person needs who has no Node and no checkout."""

import json
import re
import subprocess
import sys
import sysconfig
import tarfile
import time
import urllib.request
import zipfile
from importlib import metadata
from pathlib import Path

import pytest
from packaging.requirements import Requirement
from packaging.utils import canonicalize_name

from tests import soak
from tests.conftest import by_number
from tests.pictures import write_shoot
from winnow.cli.main import arguments_parser
from winnow.cli.serving import serve_nothing
from winnow.work.runtime import Places

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


def test_the_container_file_takes_and_starts_what_there_is(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    """Building it needs a daemon and a registry; what it leans on is looked at here."""
    told = (ROOT / "Containerfile").read_text()
    steps = dict.fromkeys(
        line.split()[0] for line in told.splitlines() if re.match("[A-Z]+ ", line)
    )
    assert list(steps) == [
        "FROM", "RUN", "COPY", "ENV", "USER", "VOLUME", "STOPSIGNAL", "ENTRYPOINT", "CMD",
    ]  # fmt: skip
    copied = [word for line in re.findall(r"^COPY (.*) \S+$", told, re.M) for word in line.split()]
    assert copied == ["requirements/run.txt", "dist/winnow-*.whl"]
    assert (ROOT / copied[0]).exists()
    # The build sees nothing else of the checkout.
    ignored = (ROOT / ".dockerignore").read_text().splitlines()
    assert ignored[1:] == ["*", *(f"!{name}" for name in copied)]
    volume = re.search(r"^VOLUME (\S+)$", told, re.M)
    variables = dict(re.findall(r"(WINNOW_\w+)=(\S+)", told))
    assert volume
    assert len(variables) == 2
    for name, value in variables.items():
        monkeypatch.setenv(name, value)
    places = Places.usual()
    assert {places.data.parent, places.cache.parent} == {Path(volume[1])}
    command = re.search(r"^CMD (\[.*\])$", told, re.M)
    assert command
    arguments = arguments_parser().parse_args(json.loads(command[1]))
    assert arguments.share
    assert arguments.run is serve_nothing


def test_the_wheel_holds_the_built_page_the_migrations_and_the_models(wheel: Path) -> None:
    with zipfile.ZipFile(wheel) as package:
        names = package.namelist()
        (entry,) = [name for name in names if name.endswith("entry_points.txt")]
        assert "winnow = winnow.start:main" in package.read(entry).decode()
    assert "winnow/web/page/index.html" in names
    assert any(n.startswith("winnow/web/page/assets/") and n.endswith(".woff2") for n in names)
    assert "winnow/store/migrations/0001_shoots_frames_marks.sql" in names
    for name in ("LICENSE", "NOTICES.md", "sbom.cdx.json"):
        assert any(packed.endswith(f"licenses/{name}") for packed in names)
    assert {"winnow/photos/gallery/gallery.js", "winnow/photos/gallery/gallery.css"} <= set(names)
    assert {"winnow/photos/fonts/LICENSE", "winnow/photos/fonts/DejaVuSansCondensed.ttf"} <= set(
        names
    )
    models = {n for n in names if n.startswith("winnow/photos/models/")}
    assert {Path(n).name for n in models if n.endswith(".tflite")} == {
        "face_detection_full_range.tflite", "face_landmark.tflite", "iris_landmark.tflite",
    }  # fmt: skip
    assert {Path(n).name for n in models if n.endswith(".bin")} == {
        "face_expression_model.bin", "face_recognition_model.bin",
    }  # fmt: skip
    assert {"winnow/photos/models/NOTICE", "winnow/photos/models/LICENSE-Apache-2.0.txt"} <= models
    masters = {path.name for path in (ROOT / "src/winnow/demo/masters").iterdir()}
    assert {Path(n).name for n in names if n.startswith("winnow/demo/masters/")} == masters
    assert not [name for name in names if name.startswith("renders/")]


def test_a_wheel_that_is_built_again_is_the_same_to_the_byte(wheel: Path, tmp_path: Path) -> None:
    """From the checkout this time, and years later by the clock of the files."""
    command = [sys.executable, "-m", "build", "--wheel", "--no-isolation", "-o", str(tmp_path)]
    subprocess.run(command, cwd=ROOT, check=True, capture_output=True)
    (again,) = tmp_path.glob("*.whl")
    assert again.name == wheel.name
    assert again.read_bytes() == wheel.read_bytes()


def installed(wheel: Path, home: Path) -> None:
    """An environment with the wheel and what it needs: in a soak only what the lock file names,
    else what is here."""
    subprocess.run([sys.executable, "-m", "venv", "--without-pip", home], check=True)
    pip: list[str | Path] = [sys.executable, "-m", "pip", "--python", home / "bin" / "python"]
    pip += ["--disable-pip-version-check", "-q"]
    if soak.TIMES > 1:
        locked = ROOT / "requirements" / "run.txt"
        subprocess.run([*pip, "install", "--require-hashes", "-r", locked], check=True, cwd=home)
    else:
        (there,) = (home / "lib").glob("python*/site-packages")
        (there / "here.pth").write_text(sysconfig.get_path("purelib"))
    subprocess.run([*pip, "install", "--no-deps", wheel], check=True, cwd=home)
    if soak.TIMES > 1:
        checked = subprocess.run([*pip, "check"], capture_output=True, text=True)
        assert checked.returncode == 0, checked.stdout


def test_the_lock_file_names_all_that_the_wheel_needs() -> None:
    """And all that this needs, here, in the versions that are here."""
    text = (ROOT / "requirements" / "run.txt").read_text()
    locked = {canonicalize_name(n): v for n, v in re.findall(r"(?m)^([\w.-]+)==(\S+)", text)}
    waiting, seen = ["winnow"], set[str]()
    while waiting:
        name = waiting.pop()
        if name in seen:
            continue
        seen.add(name)
        for line in metadata.requires(name) or ():
            needed = Requirement(line)
            if needed.marker is None or needed.marker.evaluate({"extra": ""}):
                waiting.append(canonicalize_name(needed.name))
                version = metadata.version(needed.name)
                assert locked.get(canonicalize_name(needed.name)) == version, f"{name}: {line}"
                assert needed.specifier.contains(version, prereleases=True), f"{name}: {line}"
    assert len(seen) > 20


@pytest.mark.soak
def test_the_wheel_runs_in_an_empty_environment(wheel: Path, tmp_path: Path) -> None:
    """No checkout, and no Node; in a soak with the demo, else with a small shoot."""
    home = tmp_path / "env"
    write_shoot(tmp_path / "shoot", [1, 1, 2])
    start = ["demo"] if soak.TIMES > 1 else ["open", tmp_path / "shoot"]
    installed(wheel, home)
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
        [winnow, *start, "--port", "0"], env=env, cwd=tmp_path, stdout=subprocess.PIPE, text=True
    ) as demo:
        try:
            assert demo.stdout
            lines = iter(demo.stdout)
            url = next(f.group(0) for line in lines if (f := re.search(r"http://\S+", line)))
            base, _, token = by_number(url).partition("/shoots/1?token=")
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
