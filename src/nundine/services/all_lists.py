"""The lists that there are: loading this module declares them."""

from nundine.services.admin import accounts_list, audit_list, runs_list
from nundine.services.assets import asset_lists
from nundine.services.exchange.foreign import difference_list
from nundine.services.parts import buying_lists, kits, part_lists, picking
from nundine.services.people import people_list
from nundine.services.preventive import done_list, falls_due_list, meter_list, service_list
from nundine.services.week import change_list, task_list
from nundine.services.work import all_tasks_list, backlog_list, order_list, plan_list, request_list

DECLARING = (
    accounts_list,
    all_tasks_list,
    asset_lists,
    audit_list,
    backlog_list,
    buying_lists,
    change_list,
    difference_list,
    order_list,
    part_lists,
    kits,
    picking,
    people_list,
    plan_list,
    request_list,
    runs_list,
    done_list,
    falls_due_list,
    meter_list,
    service_list,
    task_list,
)
"""The modules in which lists are declared."""
