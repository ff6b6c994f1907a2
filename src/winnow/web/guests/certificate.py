"""The certificate of the shared line: made at first use, kept with the data, signed by itself (RFC
5280)."""

from __future__ import annotations

import contextlib
import ipaddress
import os
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Final

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import NameOID

from winnow.web.guests.addresses import is_numeric

# Some browsers take no certificate that lasts longer (398 days: CA/Browser Forum, Baseline
# Requirements 6.3.2).
_LASTS: Final = timedelta(days=397)
_RENEWED_BEFORE: Final = timedelta(days=14)
_FILE: Final = "shared-line.pem"


@dataclass(frozen=True, slots=True)
class Certificate:
    """A file that holds key and certificate, and the certificate's SHA-256, as browsers show it."""

    file: Path
    fingerprint: str


def certificate(folder: Path, names: Iterable[str]) -> Certificate:
    """The certificate that is kept in a folder; made where there is none, or it ends soon.

    ``names``: of this computer, in a new one. Raises OSError.
    """
    file = folder / _FILE
    stored = None
    with contextlib.suppress(FileNotFoundError, ValueError):
        stored = x509.load_pem_x509_certificate(file.read_bytes())
        serialization.load_pem_private_key(file.read_bytes(), None)
    if stored is None or stored.not_valid_after_utc - datetime.now(UTC) < _RENEWED_BEFORE:
        stored = _make(file, names)
    digest = stored.fingerprint(hashes.SHA256()).hex().upper()
    return Certificate(file, ":".join(digest[at : at + 2] for at in range(0, len(digest), 2)))


def _make(file: Path, names: Iterable[str]) -> x509.Certificate:
    key = ec.generate_private_key(ec.SECP256R1())
    subject = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "Winnow")])
    now = datetime.now(UTC)
    known = [
        x509.IPAddress(ipaddress.ip_address(name)) if is_numeric(name) else x509.DNSName(name)
        for name in names
        if name.isascii()
    ]
    builder = (
        x509.CertificateBuilder()
        .subject_name(subject)
        .issuer_name(subject)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - timedelta(days=1))
        .not_valid_after(now - timedelta(days=1) + _LASTS)
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .add_extension(
            x509.SubjectAlternativeName(known or [x509.DNSName("localhost")]), critical=False
        )
    )
    made = builder.sign(key, hashes.SHA256())
    content = key.private_bytes(
        serialization.Encoding.PEM,
        serialization.PrivateFormat.PKCS8,
        serialization.NoEncryption(),
    ) + made.public_bytes(serialization.Encoding.PEM)
    new = file.with_suffix(".new")
    new.unlink(missing_ok=True)
    with os.fdopen(os.open(new, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "wb") as written:
        written.write(content)
    new.replace(file)
    return made
