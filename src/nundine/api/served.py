"""`python -m nundine.api.served`: the application on its port, connected to the private database."""

from __future__ import annotations

import gc
import sys

import uvicorn
from fastapi import FastAPI

from nundine.api.app import create_app
from nundine.api.connections import PatientProtocol
from nundine.local.database import connect
from nundine.settings import Settings, settings

WHEN_TOLD = "when-told"


def served(app: FastAPI, here: Settings) -> uvicorn.Config:
    """How the application is served. Where a request comes from is believed of our own proxies alone."""
    return uvicorn.Config(
        app,
        host=here.host,
        port=here.port,
        http=PatientProtocol,
        access_log=False,
        server_header=False,
        timeout_graceful_shutdown=2,
        proxy_headers=here.behind_proxy,
        forwarded_allow_ips=here.proxies,
        ssl_certfile=here.certificate,
        ssl_keyfile=here.key,
    )


def serve(app: FastAPI, here: Settings) -> None:
    """Answer until told to end. The database is connected to."""
    # Plans and problems are many small, long-lived objects: looking through all of them often costs more than
    # it frees.
    gc.set_threshold(50_000, 25, 50)
    # An edit waits for the database some thirty times; beside a question that computes it should not wait
    # five milliseconds more each time until it may go on.
    sys.setswitchinterval(0.001)
    uvicorn.Server(served(app, here)).run()


def main() -> None:
    """With `when-told` all is made ready that needs no database, and a line awaited before the rest."""
    app, here = create_app(), settings()
    if WHEN_TOLD in sys.argv and not sys.stdin.readline():
        return
    connect(here)
    serve(app, here)


if __name__ == "__main__":
    main()
