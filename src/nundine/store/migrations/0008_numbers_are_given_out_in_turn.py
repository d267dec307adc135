"""Counters, so that two WOs made at one moment get two numbers."""

STATEMENTS = (
    "CREATE TABLE `counter` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, "
    "`name` VARCHAR(40) NOT NULL, `last` INTEGER NOT NULL)",
    "CREATE UNIQUE INDEX `counter_name` ON `counter` (`name`)",
)


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
