"""Crafts have a cost an hour; a WO shares its cost among assets, "
"and keeps what was charged when it is closed."""

STATEMENTS = (
    "ALTER TABLE `craft` ADD COLUMN `rate` DOUBLE PRECISION NOT NULL DEFAULT 0 CHECK (rate >= 0)",
    "ALTER TABLE `craft` ALTER COLUMN `rate` DROP DEFAULT",
    "ALTER TABLE `work_order` "
    "ADD COLUMN `shares` LONGTEXT NOT NULL DEFAULT '[]' AFTER `correction`, "
    "ADD COLUMN `cost_planned` INTEGER AFTER `shares`, "
    "ADD COLUMN `cost_actual` INTEGER AFTER `cost_planned`, "
    "ADD COLUMN `charges` LONGTEXT AFTER `cost_actual`",
    "ALTER TABLE `work_order` ALTER COLUMN `shares` DROP DEFAULT",
)


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
