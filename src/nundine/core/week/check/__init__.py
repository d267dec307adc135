"""An independent reading of the rules of a week, slot by slot. Shares nothing with the builder but the data
classes.

Every finding names the placements that it concerns. A finding about fixed placements alone is a conflict,
which the week may have; any other is an error of the plan.
"""

from nundine.core.week.check.check import Checked, check
from nundine.core.week.check.layout import Broken

__all__ = ["Broken", "Checked", "check"]
