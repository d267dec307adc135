"""WOs keep the job plan of another site that they were made of."""

STATEMENTS = (
    "ALTER TABLE `work_order` ADD COLUMN `plan_from` VARCHAR(100) NOT NULL DEFAULT ''",
    "ALTER TABLE `work_order` ALTER COLUMN `plan_from` DROP DEFAULT",
)


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
