"""Tasks say which parts they need; what becomes of each need is computed."""

KEY = "VARCHAR(40) COLLATE utf8mb4_nopad_bin NOT NULL"

STATEMENTS = (
    *(
        statement
        for table in ("task", "plan_task")
        for statement in (
            f"ALTER TABLE `{table}` ADD COLUMN `parts` LONGTEXT NOT NULL DEFAULT '[]'",
            f"ALTER TABLE `{table}` ALTER COLUMN `parts` DROP DEFAULT",
        )
    ),
    "CREATE TABLE `part_need` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, `site_id` INTEGER NOT NULL, "
    "`order_id` INTEGER NOT NULL, `task` VARCHAR(20) COLLATE utf8mb4_nopad_bin NOT NULL, `part_id` INTEGER "
    "NOT NULL, `quantity` DOUBLE PRECISION NOT NULL, `storeroom_id` INTEGER, `must` BOOL NOT NULL, `given` "
    "DOUBLE PRECISION NOT NULL, `reserved` DOUBLE PRECISION NOT NULL, `day` DATE, "
    "`how` VARCHAR(12) NOT NULL, "
    "`name` VARCHAR(60) NOT NULL, FOREIGN KEY (`site_id`) REFERENCES `site` (`id`) ON DELETE RESTRICT, "
    "FOREIGN KEY (`order_id`) REFERENCES `work_order` (`id`) ON DELETE CASCADE, "
    "FOREIGN KEY (`part_id`) REFERENCES `part` (`id`) ON DELETE RESTRICT, "
    "FOREIGN KEY (`storeroom_id`) REFERENCES `storeroom` (`id`) ON DELETE SET NULL)",
    "CREATE INDEX `part_need_site_id` ON `part_need` (`site_id`)",
    "CREATE INDEX `part_need_order_id` ON `part_need` (`order_id`)",
    "CREATE INDEX `part_need_part_id` ON `part_need` (`part_id`)",
    "CREATE INDEX `part_need_storeroom_id` ON `part_need` (`storeroom_id`)",
    "CREATE UNIQUE INDEX `part_need_order_id_task_part_id` ON `part_need` (`order_id`, `task`, `part_id`)",
)


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
