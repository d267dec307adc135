"""The worker process: takes runs off the queue, at low priority, until it is told to end."""

from __future__ import annotations

import os

from nundine.jobs import engine
from nundine.jobs.queue import hand_over_waiting, look_after, queue
from nundine.local.database import connect
from nundine.settings import settings


def _step_back() -> None:
    """Low priority, but never none: a worker that starves in the middle of a transaction would hold up those
    who wait for it.

    Builds themselves stand aside while requests are worked on.
    """
    os.nice(15)


def work() -> None:
    """Take runs until told to end. The database is connected to."""
    _step_back()
    engine.get_ready_in_background()
    hand_over_waiting()
    look_after()
    queue().huey.create_consumer(
        workers=3,
        worker_type="thread",
        initial_delay=0.05,
        max_delay=0.3,
        periodic=True,
        check_worker_health=True,
    ).run()


def main() -> None:
    connect(settings())
    work()


if __name__ == "__main__":
    main()
