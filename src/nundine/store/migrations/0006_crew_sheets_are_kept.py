"""Crew sheets of a revision are laid out once and kept with it."""

STATEMENTS = (
    "CREATE TABLE `handout` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, `week_id` INTEGER NOT NULL, "
    "`revision` INTEGER NOT NULL, `by` VARCHAR(8) NOT NULL, `areas` VARCHAR(400) NOT NULL, "
    "`content` LONGBLOB, "
    "`asked` DATETIME(6) NOT NULL, `taken` DATETIME(6), `made` DATETIME(6), "
    "FOREIGN KEY (`week_id`) REFERENCES `week` (`id`) ON DELETE CASCADE)",
    "CREATE INDEX `handout_week_id` ON `handout` (`week_id`)",
    "CREATE UNIQUE INDEX `handout_week_id_revision_by_areas` ON `handout` "
    "(`week_id`, `revision`, `by`, `areas`)",
)


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
