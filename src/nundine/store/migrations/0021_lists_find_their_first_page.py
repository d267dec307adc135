"""The list of WOs finds its first page and its sums in indexes."""


def up(migrator, db):
    db.execute_sql("ALTER TABLE `work_order` ADD INDEX `work_order_site_id_priority` (`site_id`, `priority`)")
    db.execute_sql(
        "ALTER TABLE `work_order` ADD INDEX `work_order_site_id_state_hours` (`site_id`, `state`, `hours`)"
    )
