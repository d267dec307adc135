"""Closed weeks."""

STATEMENTS = (
    "CREATE TABLE `closing` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, `week_id` INTEGER NOT NULL, "
    "`at` DATETIME(6) NOT NULL, `account_id` INTEGER NOT NULL, `content` LONGTEXT NOT NULL, "
    "FOREIGN KEY (`week_id`) REFERENCES `week` (`id`) ON DELETE RESTRICT, "
    "FOREIGN KEY (`account_id`) REFERENCES `account` (`id`) ON DELETE RESTRICT)",
    "CREATE UNIQUE INDEX `closing_week_id` ON `closing` (`week_id`)",
    "CREATE INDEX `closing_account_id` ON `closing` (`account_id`)",
)


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
