"""Ports of a test's own: nobody else on the machine is given one, not even while nothing listens on it."""

from __future__ import annotations

import socket
from random import SystemRandom

from nundine.local.database import port_free

OURS = range(20_000, 32_000)
"""Below those that Linux hands out for outgoing connections (32768 and up, unless it is told otherwise)."""
HELD_ON = "127.0.0.99"
"""Loopback too, but no address that anything of Nundine listens on: whoever has bound a port here has it on
127.0.0.1."""

held: list[socket.socket] = []


def free_port() -> int:
    """A port of 127.0.0.1 that is this process's until it ends, among all processes that ask here."""
    for port in SystemRandom().sample(OURS, len(OURS)):
        hold = socket.socket()
        try:
            hold.bind((HELD_ON, port))
        except OSError:
            hold.close()
            continue
        held.append(hold)
        if port_free(port):
            return port
    raise AssertionError(f"no port is free between {OURS.start} and {OURS.stop}")
