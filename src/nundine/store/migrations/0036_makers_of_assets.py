"""Who made an asset, which model it is, and its serial number."""

STATEMENTS = tuple(
    statement
    for column, length in (("maker", 120), ("model", 80), ("serial", 80))
    for statement in (
        f"ALTER TABLE `asset` ADD COLUMN `{column}` VARCHAR({length}) NOT NULL DEFAULT ''",
        f"ALTER TABLE `asset` ALTER COLUMN `{column}` DROP DEFAULT",
    )
)


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
