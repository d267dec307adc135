"""Whether Nundine may serve where it is told to: safely, and on a port that is free."""

from __future__ import annotations

import os

from nundine.local.database import port_free
from nundine.local.errors import CannotStart
from nundine.settings import EVERYWHERE, Settings


def need_safe_host(settings: Settings) -> None:
    """Raises CannotStart where passwords would cross a network in plain text, or nobody could say by which
    name to call."""
    if settings.certificate is not None:
        for what, file in (("NUNDINE_CERTIFICATE", settings.certificate), ("NUNDINE_KEY", settings.key)):
            if file is None or not os.access(file, os.R_OK):
                raise CannotStart(
                    f"{what} must name a file in PEM that can be read; it is {file or 'not set'}."
                )
    if settings.behind_proxy and not settings.names:
        raise CannotStart(
            "NUNDINE_BEHIND_PROXY is set: say in NUNDINE_NAMES by which names browsers call, with "
            "commas between."
        )
    if settings.on_loopback:
        return
    if not settings.secure:
        raise CannotStart(
            f"Nundine does not serve {settings.host} without TLS: passwords could be read on the "
            "way. Set NUNDINE_CERTIFICATE and "
            "NUNDINE_KEY, or NUNDINE_BEHIND_PROXY=1 if a proxy before it speaks TLS (see docs/deploy.md)."
        )
    if settings.host in EVERYWHERE and not settings.names:
        raise CannotStart(
            f"Nundine is to serve {settings.host}, all addresses of this machine: say in "
            "NUNDINE_NAMES by which names browsers "
            "call it, with commas between."
        )


def need_port(settings: Settings) -> None:
    if not port_free(settings.port):
        raise CannotStart(
            f"Port {settings.port} is taken. Choose another:  NUNDINE_PORT={settings.port + 1} ./nundine ..."
        )
