"""What goes over the wire."""

from nundine.api.admin.schemas import *  # noqa: F403
from nundine.api.exchange.foreign_schemas import *  # noqa: F403
from nundine.api.exchange.schemas import *  # noqa: F403
from nundine.api.job_plans.schemas import *  # noqa: F403
from nundine.api.ledger.schemas import *  # noqa: F403
from nundine.api.preventive.schemas import *  # noqa: F403
from nundine.api.requests.schemas import *  # noqa: F403
from nundine.api.runs.schemas import *  # noqa: F403
from nundine.api.week.edit_schemas import *  # noqa: F403
from nundine.api.week.engine_schemas import *  # noqa: F403
from nundine.api.week.schemas import *  # noqa: F403
from nundine.api.week.step_schemas import *  # noqa: F403
from nundine.api.work_orders.schemas import *  # noqa: F403
