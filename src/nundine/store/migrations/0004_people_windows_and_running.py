"""Extra shifts, people lent to other areas, areas of accounts, and how a task went."""

STATEMENTS = (
    "CREATE TABLE `extra_shift` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, "
    "`person_id` INTEGER NOT NULL, `start` DATETIME(6) NOT NULL, `end` DATETIME(6) NOT NULL, "
    "FOREIGN KEY (`person_id`) REFERENCES `person` (`id`) ON DELETE CASCADE)",
    "CREATE INDEX `extra_shift_person_id` ON `extra_shift` (`person_id`)",
    "CREATE INDEX `extra_shift_start` ON `extra_shift` (`start`)",
    "CREATE UNIQUE INDEX `extra_shift_person_id_start` ON `extra_shift` (`person_id`, `start`)",
    "CREATE TABLE `loan` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, `person_id` INTEGER NOT NULL, "
    "`area_id` INTEGER NOT NULL, `first` DATE NOT NULL, `last` DATE NOT NULL, "
    "FOREIGN KEY (`person_id`) REFERENCES `person` (`id`) ON DELETE CASCADE, "
    "FOREIGN KEY (`area_id`) REFERENCES `area` (`id`) ON DELETE RESTRICT)",
    "CREATE INDEX `loan_person_id` ON `loan` (`person_id`)",
    "CREATE INDEX `loan_area_id` ON `loan` (`area_id`)",
    "CREATE UNIQUE INDEX `loan_person_id_first` ON `loan` (`person_id`, `first`)",
    "ALTER TABLE `account` ADD COLUMN `areas` LONGTEXT",
    "ALTER TABLE `task` ADD COLUMN `reason` VARCHAR(80), ADD COLUMN `done_by` LONGTEXT, "
    "ADD COLUMN `ended` DATETIME(6)",
)


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
