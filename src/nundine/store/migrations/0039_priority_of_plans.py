"""Preventive plans correct the priority of what they raise, "
"and say how the asset stands for work typed in."""

STATEMENTS = (
    "ALTER TABLE `preventive_plan` ADD COLUMN `asset_state` VARCHAR(8) NOT NULL DEFAULT 'any',"
    " ADD COLUMN `correction` DOUBLE NOT NULL DEFAULT 0",
    "ALTER TABLE `preventive_plan` ALTER COLUMN `asset_state` DROP DEFAULT,"
    " ALTER COLUMN `correction` DROP DEFAULT",
)


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
