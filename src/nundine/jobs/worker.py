"""The worker process: takes builds off the queue, at low priority, until it is told to end."""

from __future__ import annotations

import contextlib
import os

from nundine.core.week.build import compiled
from nundine.jobs.queue import queue
from nundine.local.database import connect
from nundine.settings import settings


def _step_back() -> None:
    """Run only where nobody else wants the processor, so that edits answer while a week is built."""
    os.nice(19)
    with contextlib.suppress(OSError, AttributeError):
        os.sched_setscheduler(0, os.SCHED_IDLE, os.sched_param(0))


def main() -> None:
    _step_back()
    compiled.load_in_background()
    connect(settings())
    queue().huey.create_consumer(workers=2, worker_type="thread", initial_delay=0.05, max_delay=0.3, periodic=False, check_worker_health=True).run()


if __name__ == "__main__":
    main()
