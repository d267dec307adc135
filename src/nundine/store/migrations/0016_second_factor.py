"""An account may have a second factor; a session ends after a time in which nothing was asked."""

STATEMENTS = (
    "ALTER TABLE `account` ADD COLUMN `factor` VARCHAR(64) AFTER `one_time`, "
    "ADD COLUMN `factor_step` BIGINT AFTER `factor`",
    "ALTER TABLE `signed_in` ADD COLUMN `seen` DATETIME(6)",
    "UPDATE `signed_in` SET `seen` = `began`",
)


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
