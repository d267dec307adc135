"""Whether a WO's asset goes back into service between tasks, and the ways between areas."""

STATEMENTS = (
    "ALTER TABLE `work_order` ADD COLUMN `put_back` BOOL NOT NULL DEFAULT 0 AFTER `divisible`",
    "ALTER TABLE `work_order` ALTER COLUMN `put_back` DROP DEFAULT",
    "CREATE TABLE `way` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, `start_id` INTEGER NOT NULL, "
    "`end_id` INTEGER NOT NULL, "
    "`minutes` INTEGER NOT NULL CHECK (minutes >= 0), "
    "FOREIGN KEY (`start_id`) REFERENCES `area` (`id`) ON DELETE CASCADE, "
    "FOREIGN KEY (`end_id`) REFERENCES `area` (`id`) ON DELETE CASCADE)",
    "CREATE INDEX `way_start_id` ON `way` (`start_id`)",
    "CREATE INDEX `way_end_id` ON `way` (`end_id`)",
    "CREATE UNIQUE INDEX `way_start_id_end_id` ON `way` (`start_id`, `end_id`)",
)


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
