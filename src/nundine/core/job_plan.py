"""Job plans: which assets one applies to, and what its uses teach of its hours."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from statistics import median, quantiles

from nundine.core.likeness import stems

FEWEST_USES = 3
"""So many uses before an estimate is suggested: one slow night says nothing. Common practice, no source."""
WORTH = 0.1
"""The share by which it must differ before other hours are suggested. Common practice, no source."""
OFF = 1 / 3
"""The share by which the median of the uses may differ from what is planned before it is said."""


def applies(assets: Collection[str], words: str, line: Collection[str], name: str) -> bool:
    """Whether a plan applies to an asset.

    Parameters
    ----------
    assets
        Keys of the assets that the plan names: it applies to them and to all that is below them.
    words
        A kind of asset, as words of its name; one of them is enough. With neither assets nor words a plan
        applies to whatever there is.
    line
        Keys of the asset and of all above it.
    name
        The asset's name.
    """
    wanted = stems(words)
    if not assets and not wanted:
        return True
    return bool(set(assets) & set(line) or wanted & stems(name))


@dataclass(frozen=True)
class Learned:
    """What the uses of a plan, or of one of its tasks, say of its hours: the median, and between which hours
    half of them lie (`low` and `high`, the quartiles, inclusive). All in hours."""

    planned: float
    uses: int
    median: float
    low: float
    high: float

    @property
    def suggested(self) -> float | None:
        """The median in quarters of an hour, where it rests on enough uses and says something else."""
        hours = max(0.25, round(self.median * 4) / 4)
        return hours if self.uses >= FEWEST_USES and abs(hours / self.planned - 1) >= WORTH else None

    @property
    def off(self) -> bool:
        """Whether enough uses lie more than a third from what is planned."""
        return self.uses >= FEWEST_USES and abs(self.median / self.planned - 1) > OFF


def learned(planned: float, actual: Sequence[float]) -> Learned | None:
    """What hours that were spent say of those that are planned; None without a use.

    Parameters
    ----------
    planned, actual
        In hours, all above 0.
    """
    if not actual:
        return None
    middle = median(actual)
    if len(actual) == 1:
        return Learned(planned, 1, middle, middle, middle)
    low, _, high = quantiles(actual, n=4, method="inclusive")
    return Learned(planned, len(actual), middle, low, high)
