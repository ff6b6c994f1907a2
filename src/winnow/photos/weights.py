"""The weights of small networks, as ``@vladmandic/face-api`` carries them: most in eight bits."""

from __future__ import annotations

import json
from functools import cache
from importlib.resources import files

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float32]


def available(name: str) -> bool:
    """Whether a network's weights are there."""
    folder = files("winnow.photos") / "models"
    return all((folder / f"{name}{end}").is_file() for end in ("-weights_manifest.json", ".bin"))


@cache
def arrays(name: str) -> dict[str, Floats]:
    """A network's arrays by their names in its list of weights."""
    folder = files("winnow.photos") / "models"
    listed = json.loads((folder / f"{name}-weights_manifest.json").read_text())
    raw = (folder / f"{name}.bin").read_bytes()
    known: dict[str, Floats] = {}
    at = 0
    for entry in (entry for part in listed for entry in part["weights"]):
        count, scale = int(np.prod(entry["shape"])), entry.get("quantization")
        kind = np.uint8 if scale else np.float32
        values = np.frombuffer(raw, kind, count, at).astype(np.float32)
        at += count * np.dtype(kind).itemsize
        if scale:
            values = values * np.float32(scale["scale"]) + np.float32(scale["min"])
        known[entry["name"]] = values.reshape(entry["shape"])
    return known
