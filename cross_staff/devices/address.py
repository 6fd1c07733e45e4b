"""Where an instrument listens: only within the shop's own network."""

from __future__ import annotations

import ipaddress
import re
from dataclasses import dataclass

from cross_staff.core.errors import InvalidValue

_HOST = re.compile(r"(?!-)[A-Za-z0-9-]{1,63}(?<!-)(\.(?!-)[A-Za-z0-9-]{1,63}(?<!-))*\.?")
MOST_HOST = 253
# this machine, and what no router hands on
_OWN = tuple(
    ipaddress.ip_network(net)
    for net in ("127.0.0.0/8", "10.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16", "::1/128", "fc00::/7", "fe80::/10")
)
OUTSIDE = "outside of the shop's network: only addresses of it are called"


@dataclass(frozen=True)
class Address:
    """A host, by name or by number, and its port."""

    host: str
    port: int

    def __str__(self) -> str:
        return f"[{self.host}]:{self.port}" if ":" in self.host else f"{self.host}:{self.port}"


def within(number: str) -> bool:
    """Whether a numeric address lies within the shop's network or this machine."""
    try:
        known = ipaddress.ip_address(number.partition("%")[0])
    except ValueError:
        return False
    known = getattr(known, "ipv4_mapped", None) or known
    return any(known in net for net in _OWN)


def address_of(typed: str) -> Address:
    """An address as it is typed: `192.168.1.20:7001`, `bench-scale.local:7001`, `[fe80::1]:7001`.

    Args:
        typed: host and port with a colon between.

    Returns:
        The address. A name is looked up only when it is called, and refused then if it leads outside.

    Raises:
        InvalidValue: at `address`: no port, no host, or a number outside of the shop's network.

    Source:
        docs/instruments.md.
    """
    host, colon, port = typed.strip().rpartition(":")
    host = host.removeprefix("[").removesuffix("]") if host.startswith("[") else host
    if not colon or not port.isascii() or not port.isdecimal() or not 1 <= int(port[:6]) <= 65535:
        raise InvalidValue("address", "host and port, such as 192.168.1.20:7001")
    try:
        ipaddress.ip_address(host)
    except ValueError:
        if len(host) > MOST_HOST or not _HOST.fullmatch(host) or re.fullmatch(r"[\d.]+", host):
            raise InvalidValue(
                "address", "host and port, such as 192.168.1.20:7001 or bench-scale.local:7001"
            ) from None
    else:
        if not within(host):
            raise InvalidValue("address", OUTSIDE)
    return Address(host.lower(), int(port))
