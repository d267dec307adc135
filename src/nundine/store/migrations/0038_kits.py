"""The place where the parts of a WO were set aside."""

STATEMENTS = (
    "ALTER TABLE `work_order` ADD COLUMN `kit` VARCHAR(60) NOT NULL DEFAULT ''",
    "ALTER TABLE `work_order` ALTER COLUMN `kit` DROP DEFAULT",
)


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
