"""How many examples a property is tried on: fewer in a quick run."""

from __future__ import annotations

import os

from hypothesis import HealthCheck, settings

QUICK = "NUNDINE_FEW_EXAMPLES" in os.environ
SHARE, FEWEST = 5, 4
"""A quick run takes one example of so many, and no fewer than that."""


def examples(most: int) -> settings:
    """A property takes its time, for it builds whole weeks or asks a database."""
    return settings(
        max_examples=max(FEWEST, most // SHARE) if QUICK else most,
        deadline=None,
        suppress_health_check=list(HealthCheck),
    )
