"""What goes over the wire."""

from nundine.api.shapes.edits import *  # noqa: F403
from nundine.api.shapes.engine import *  # noqa: F403
from nundine.api.shapes.foreign import *  # noqa: F403
from nundine.api.shapes.orders import *  # noqa: F403
from nundine.api.shapes.steps import *  # noqa: F403
from nundine.api.shapes.week import *  # noqa: F403
