"""Questions to lists are kept as views."""

STATEMENTS = (
    "CREATE TABLE `view` (`id` INTEGER NOT NULL AUTO_INCREMENT PRIMARY KEY, `revision` INTEGER NOT NULL, "
    "`site_id` INTEGER NOT NULL, `key` VARCHAR(16) COLLATE utf8mb4_nopad_bin NOT NULL, "
    "`list` VARCHAR(40) COLLATE utf8mb4_nopad_bin NOT NULL, `title` VARCHAR(80) NOT NULL, "
    "`owner_id` INTEGER NOT NULL, `shared` BOOL NOT NULL, `role` VARCHAR(20), "
    "`pinned_by` LONGTEXT NOT NULL, `body` LONGTEXT NOT NULL, "
    "FOREIGN KEY (`site_id`) REFERENCES `site` (`id`) ON DELETE RESTRICT, "
    "FOREIGN KEY (`owner_id`) REFERENCES `account` (`id`) ON DELETE CASCADE)",
    "CREATE INDEX `view_site_id` ON `view` (`site_id`)",
    "CREATE INDEX `view_list` ON `view` (`list`)",
    "CREATE INDEX `view_owner_id` ON `view` (`owner_id`)",
    "CREATE UNIQUE INDEX `view_site_id_key` ON `view` (`site_id`, `key`)",
)


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
