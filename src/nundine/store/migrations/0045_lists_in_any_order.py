"""WOs and tasks are found in the order of their titles, the hours of all tasks summed, and what was raised on
an asset counted, from an index alone."""

STATEMENTS = (
    "CREATE INDEX `work_order_site_id_title` ON `work_order` (`site_id`, `title`)",
    "CREATE INDEX `task_site_id_title` ON `task` (`site_id`, `title`)",
    "CREATE INDEX `task_site_id_work_order_id_hours_hours_spent`"
    " ON `task` (`site_id`, `work_order_id`, `hours`, `hours_spent`)",
    "CREATE INDEX `work_order_asset_id_raised_kind` ON `work_order` (`asset_id`, `raised`, `kind`)",
)


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
