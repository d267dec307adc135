"""Tolerances of preventive plans may be a share of the interval; the days of them are computed."""

STATEMENTS = (
    "ALTER TABLE `preventive_plan` MODIFY `before` VARCHAR(8) NOT NULL, MODIFY `behind` VARCHAR(8) NOT NULL",
    "ALTER TABLE `preventive_plan` ADD COLUMN `days_before` INT NOT NULL DEFAULT 0,"
    " ADD COLUMN `days_behind` INT NOT NULL DEFAULT 0",
    "UPDATE `preventive_plan` SET `days_before` = CAST(`before` AS INT), "
    "`days_behind` = CAST(`behind` AS INT)",
    "ALTER TABLE `preventive_plan` ALTER COLUMN `days_before` DROP DEFAULT,"
    " ALTER COLUMN `days_behind` DROP DEFAULT",
)


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
