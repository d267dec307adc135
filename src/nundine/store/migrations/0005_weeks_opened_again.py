"""A closed week may be opened and closed again: its closings are kept, and one that no longer holds says
since when."""

STATEMENTS = (
    "ALTER TABLE `closing` ADD COLUMN `reopened` DATETIME(6)",
    "ALTER TABLE `closing` DROP FOREIGN KEY `closing_ibfk_1`",
    "DROP INDEX `closing_week_id` ON `closing`",
    "CREATE INDEX `closing_week_id` ON `closing` (`week_id`)",
    "ALTER TABLE `closing` ADD FOREIGN KEY (`week_id`) REFERENCES `week` (`id`) ON DELETE RESTRICT",
)


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
