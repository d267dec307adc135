"""Job plans with tasks and editions; a WO keeps which it was made of."""

STATEMENTS = (
    "CREATE TABLE `job_plan` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, `revision` INTEGER NOT "
    "NULL, `site_id` INTEGER NOT NULL, `number` VARCHAR(40) COLLATE utf8mb4_nopad_bin NOT NULL, `title`"
    " VARCHAR(200) NOT NULL, `kind` VARCHAR(20) NOT NULL, `state` VARCHAR(16) NOT NULL, `edition` "
    "INTEGER NOT NULL, `valid_from` DATE, `assets` LONGTEXT NOT NULL, `words` VARCHAR(200) NOT NULL, "
    "`divisible` BOOL NOT NULL, `put_back` BOOL NOT NULL, `permit` VARCHAR(12) NOT NULL, `description` "
    "TEXT NOT NULL, FOREIGN KEY (`site_id`) REFERENCES `site` (`id`) ON DELETE RESTRICT)",
    "CREATE INDEX `job_plan_site_id` ON `job_plan` (`site_id`)",
    "CREATE INDEX `job_plan_state` ON `job_plan` (`state`)",
    "CREATE UNIQUE INDEX `job_plan_site_id_number` ON `job_plan` (`site_id`, `number`)",
    "CREATE TABLE `plan_task` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, `site_id` INTEGER NOT "
    "NULL, `plan_id` INTEGER NOT NULL, `number` VARCHAR(20) COLLATE utf8mb4_nopad_bin NOT NULL, `title`"
    " VARCHAR(200) NOT NULL, `hours` DOUBLE PRECISION NOT NULL CHECK (hours > 0), `asset_state` "
    "VARCHAR(8) NOT NULL, `splittable` BOOL NOT NULL, `min_portion` DOUBLE PRECISION NOT NULL, `after` "
    "LONGTEXT NOT NULL, `needs` LONGTEXT NOT NULL, `tools` LONGTEXT NOT NULL, FOREIGN KEY (`site_id`) "
    "REFERENCES `site` (`id`) ON DELETE RESTRICT, FOREIGN KEY (`plan_id`) REFERENCES `job_plan` (`id`) "
    "ON DELETE CASCADE)",
    "CREATE INDEX `plan_task_site_id` ON `plan_task` (`site_id`)",
    "CREATE INDEX `plan_task_plan_id` ON `plan_task` (`plan_id`)",
    "CREATE UNIQUE INDEX `plan_task_plan_id_number` ON `plan_task` (`plan_id`, `number`)",
    "CREATE TABLE `plan_edition` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, `site_id` INTEGER "
    "NOT NULL, `plan_id` INTEGER NOT NULL, `edition` INTEGER NOT NULL, `at` DATETIME(6) NOT NULL, `by` "
    "VARCHAR(120) NOT NULL, `body` LONGTEXT NOT NULL, FOREIGN KEY (`site_id`) REFERENCES `site` (`id`) "
    "ON DELETE RESTRICT, FOREIGN KEY (`plan_id`) REFERENCES `job_plan` (`id`) ON DELETE CASCADE)",
    "CREATE INDEX `plan_edition_site_id` ON `plan_edition` (`site_id`)",
    "CREATE INDEX `plan_edition_plan_id` ON `plan_edition` (`plan_id`)",
    "CREATE UNIQUE INDEX `plan_edition_plan_id_edition` ON `plan_edition` (`plan_id`, `edition`)",
    "ALTER TABLE `work_order` ADD COLUMN `plan_id` INTEGER, ADD COLUMN `plan_edition` INTEGER, ADD "
    "FOREIGN KEY (`plan_id`) REFERENCES `job_plan` (`id`) ON DELETE SET NULL",
    "CREATE INDEX `work_order_plan_id` ON `work_order` (`plan_id`)",
)


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
