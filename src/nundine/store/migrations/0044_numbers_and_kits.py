"""WOs are found by their numbers and kits by their places, whichever table a question begins with."""

STATEMENTS = (
    "CREATE INDEX `work_order_number_site_id` ON `work_order` (`number`, `site_id`)",
    "CREATE INDEX `work_order_site_id_kit` ON `work_order` (`site_id`, `kit`)",
)


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
