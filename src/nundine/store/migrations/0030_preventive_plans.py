"""Preventive plans, their services on assets, and what became of them."""

STATEMENTS = (
    "CREATE TABLE `preventive_plan` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, `revision` "
    "INTEGER NOT NULL, `site_id` INTEGER NOT NULL, `number` VARCHAR(40) COLLATE utf8mb4_nopad_bin NOT "
    "NULL, `title` VARCHAR(200) NOT NULL, `state` VARCHAR(16) NOT NULL, `kind` VARCHAR(20) NOT NULL, "
    "`job_plan_id` INTEGER, `crew` VARCHAR(160) NOT NULL, `assets` LONGTEXT NOT NULL, `basis` "
    "VARCHAR(10) NOT NULL, `rungs` LONGTEXT NOT NULL, `grid` LONGTEXT NOT NULL, `season` LONGTEXT NOT "
    "NULL, `outside` VARCHAR(8) NOT NULL, `together` INTEGER NOT NULL, `before` INTEGER NOT NULL, "
    "`behind` INTEGER NOT NULL, `notice` VARCHAR(8) NOT NULL, `description` TEXT NOT NULL, FOREIGN KEY "
    "(`site_id`) REFERENCES `site` (`id`) ON DELETE RESTRICT, FOREIGN KEY (`job_plan_id`) REFERENCES "
    "`job_plan` (`id`) ON DELETE RESTRICT)",
    "CREATE INDEX `preventive_plan_site_id` ON `preventive_plan` (`site_id`)",
    "CREATE INDEX `preventive_plan_state` ON `preventive_plan` (`state`)",
    "CREATE INDEX `preventive_plan_job_plan_id` ON `preventive_plan` (`job_plan_id`)",
    "CREATE UNIQUE INDEX `preventive_plan_site_id_number` ON `preventive_plan` (`site_id`, `number`)",
    "CREATE TABLE `service` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, `site_id` INTEGER NOT "
    "NULL, `plan_id` INTEGER NOT NULL, `asset_id` INTEGER NOT NULL, `held` BOOL NOT NULL, `moved` LONGTEXT, "
    "`lasts` "
    "LONGTEXT NOT NULL, `next_due` DATE, `next_rungs` LONGTEXT NOT NULL, FOREIGN KEY (`site_id`) "
    "REFERENCES `site` (`id`) ON DELETE RESTRICT, FOREIGN KEY (`plan_id`) REFERENCES `preventive_plan` "
    "(`id`) ON DELETE CASCADE, FOREIGN KEY (`asset_id`) REFERENCES `asset` (`id`) ON DELETE RESTRICT)",
    "CREATE INDEX `service_site_id` ON `service` (`site_id`)",
    "CREATE INDEX `service_plan_id` ON `service` (`plan_id`)",
    "CREATE INDEX `service_asset_id` ON `service` (`asset_id`)",
    "CREATE INDEX `service_next_due` ON `service` (`next_due`)",
    "CREATE UNIQUE INDEX `service_plan_id_asset_id` ON `service` (`plan_id`, `asset_id`)",
    "CREATE TABLE `occurrence` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, `site_id` INTEGER NOT"
    " NULL, `plan_id` INTEGER NOT NULL, `asset_id` INTEGER NOT NULL, `due` DATE NOT NULL, `rungs` "
    "LONGTEXT NOT NULL, `state` VARCHAR(12) NOT NULL, `done` DATE, `order_id` INTEGER, `lasts` LONGTEXT"
    " NOT NULL, `reason` VARCHAR(400) NOT NULL, FOREIGN KEY (`site_id`) REFERENCES `site` (`id`) ON "
    "DELETE RESTRICT, FOREIGN KEY (`plan_id`) REFERENCES `preventive_plan` (`id`) ON DELETE CASCADE, "
    "FOREIGN KEY (`asset_id`) REFERENCES `asset` (`id`) ON DELETE RESTRICT, FOREIGN KEY (`order_id`) "
    "REFERENCES `work_order` (`id`) ON DELETE SET NULL)",
    "CREATE INDEX `occurrence_site_id` ON `occurrence` (`site_id`)",
    "CREATE INDEX `occurrence_plan_id` ON `occurrence` (`plan_id`)",
    "CREATE INDEX `occurrence_asset_id` ON `occurrence` (`asset_id`)",
    "CREATE INDEX `occurrence_due` ON `occurrence` (`due`)",
    "CREATE INDEX `occurrence_state` ON `occurrence` (`state`)",
    "CREATE INDEX `occurrence_order_id` ON `occurrence` (`order_id`)",
    "CREATE UNIQUE INDEX `occurrence_plan_id_asset_id_due` ON `occurrence` (`plan_id`, `asset_id`, `due`)",
)


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
