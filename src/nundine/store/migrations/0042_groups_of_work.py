"""Open work is counted by asset and by kind without a look at each WO."""

STATEMENTS = (
    "CREATE INDEX `work_order_site_id_state_asset_id_kind_hours` ON `work_order` "
    "(`site_id`, `state`, `asset_id`, `kind`, `hours`)",
)


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
