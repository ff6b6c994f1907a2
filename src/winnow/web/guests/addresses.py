"""How others on the network reach this computer."""

from __future__ import annotations

import re
import socket

import segno


def own_addresses() -> tuple[str, ...]:
    """The IPv4 addresses and names by which others on the network reach this computer, addresses
    first."""
    name = socket.gethostname()
    addresses: dict[str, None] = {}
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe:
        try:
            # No packet is sent: it only asks which address would be used (192.0.2.0/24: RFC 5737).
            probe.connect(("192.0.2.1", 9))
            addresses[str(probe.getsockname()[0])] = None
        except OSError:
            pass
    try:
        for info in socket.getaddrinfo(name, None, socket.AF_INET):
            addresses[str(info[4][0])] = None
    except OSError:
        pass
    for host in (f"{name}.local", name):
        addresses[host] = None
    return tuple(address for address in addresses if not address.startswith("127."))


def is_numeric(address: str) -> bool:
    """Whether this is an IPv4 address and no name."""
    return re.fullmatch(r"[\d.]+", address) is not None


def as_code(url: str) -> str:
    """An address as a QR code (ISO/IEC 18004): a picture as a data URI."""
    return str(segno.make(url, error="m").svg_data_uri(scale=4, border=4))
