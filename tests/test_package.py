"""What the wheel holds: everything a person needs who has no Node and no checkout."""

import subprocess
import sys
import zipfile
from pathlib import Path

ROOT = Path(__file__).parent.parent


def test_the_wheel_holds_the_built_page_the_migrations_and_the_models(tmp_path: Path) -> None:
    subprocess.run(
        [sys.executable, "-m", "build", "--wheel", "--no-isolation", "-o", str(tmp_path)],
        cwd=ROOT,
        check=True,
        capture_output=True,
    )
    (wheel,) = tmp_path.glob("*.whl")
    with zipfile.ZipFile(wheel) as package:
        names = package.namelist()
        (entry,) = [name for name in names if name.endswith("entry_points.txt")]
        assert "winnow = winnow.start:main" in package.read(entry).decode()
    assert "winnow/web/page/index.html" in names
    assert any(n.startswith("winnow/web/page/assets/") and n.endswith(".woff2") for n in names)
    assert "winnow/store/migrations/0001_shoots_frames_marks.sql" in names
    assert any(name.endswith("licenses/LICENSE") for name in names)
    models = {n for n in names if n.startswith("winnow/photos/models/")}
    assert {Path(n).name for n in models if n.endswith(".tflite")} == {
        "face_detection_full_range.tflite", "face_landmark.tflite", "iris_landmark.tflite",
    }  # fmt: skip
    assert {"winnow/photos/models/NOTICE", "winnow/photos/models/LICENSE-Apache-2.0.txt"} <= models
    masters = {path.name for path in (ROOT / "src/winnow/demo/masters").iterdir()}
    assert {Path(n).name for n in names if n.startswith("winnow/demo/masters/")} == masters
    assert not [name for name in names if name.startswith("renders/")]


def test_the_page_asks_no_other_host() -> None:
    for path in (ROOT / "src/winnow/web/page").rglob("*"):
        if path.suffix in (".html", ".css"):
            assert "//" not in path.read_text("utf-8").replace("://www.w3.org/", "").replace(
                "/*", ""
            )
