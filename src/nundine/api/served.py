"""`python -m nundine.api.served`: the application on its port, connected to the private database."""

from __future__ import annotations

import gc

import uvicorn

from nundine.api.app import create_app
from nundine.api.connections import PatientProtocol
from nundine.local.database import connect
from nundine.settings import settings


def main() -> None:
    # Plans and problems are many small, long-lived objects: looking through all of them often costs more than it frees.
    gc.set_threshold(50_000, 25, 50)
    here = settings()
    connect(here)
    uvicorn.run(
        create_app(),
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


if __name__ == "__main__":
    main()
