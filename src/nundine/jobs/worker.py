"""The worker process: takes builds off the queue, at low priority, until it is told to end."""

from __future__ import annotations

import os

from nundine.jobs import engine
from nundine.jobs.queue import enqueue_waiting, queue
from nundine.local.database import connect
from nundine.settings import settings


def _step_back() -> None:
    """Low priority, but never none: a worker that starves in the middle of a transaction would hold up those
    who wait for it.

    Builds themselves stand aside while requests are worked on.
    """
    os.nice(15)


def main() -> None:
    _step_back()
    engine.get_ready_in_background()
    connect(settings())
    enqueue_waiting()
    queue().huey.create_consumer(
        workers=3,
        worker_type="thread",
        initial_delay=0.05,
        max_delay=0.3,
        periodic=True,
        check_worker_health=True,
    ).run()


if __name__ == "__main__":
    main()
