"""Exports of other systems: mappings, files, and what is known of a WO's origin."""

STATEMENTS = (
    "ALTER TABLE `work_order` ADD COLUMN `source` VARCHAR(80), ADD COLUMN `imported` LONGTEXT",
    "CREATE INDEX `work_order_source` ON `work_order` (`source`)",
    "CREATE TABLE `saved_mapping` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, "
    "`name` VARCHAR(80) NOT NULL, `columns` LONGTEXT NOT NULL, `body` LONGTEXT NOT NULL, "
    "`at` DATETIME(6) NOT NULL)",
    "CREATE UNIQUE INDEX `saved_mapping_name` ON `saved_mapping` (`name`)",
    "CREATE TABLE `bringing` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, "
    "`account_id` INTEGER NOT NULL, `file` VARCHAR(200) NOT NULL, `content` LONGBLOB NOT NULL, "
    "`asked` LONGTEXT, `state` VARCHAR(12) NOT NULL, `progress` DOUBLE PRECISION NOT NULL, "
    "`stop` BOOL NOT NULL, `result` LONGTEXT, `error` VARCHAR(500), `at` DATETIME(6) NOT NULL, "
    "`heartbeat` DATETIME(6) NOT NULL, FOREIGN KEY (`account_id`) REFERENCES `account` (`id`) ON DELETE "
    "RESTRICT)",
    "CREATE INDEX `bringing_account_id` ON `bringing` (`account_id`)",
    "CREATE INDEX `bringing_at` ON `bringing` (`at`)",
    "CREATE TABLE `order_change` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, "
    "`work_order_id` INTEGER NOT NULL, `at` DATETIME(6) NOT NULL, `source` VARCHAR(80) NOT NULL, "
    "`changes` LONGTEXT NOT NULL, `seen` BOOL NOT NULL, "
    "FOREIGN KEY (`work_order_id`) REFERENCES `work_order` (`id`) ON DELETE CASCADE)",
    "CREATE INDEX `order_change_work_order_id` ON `order_change` (`work_order_id`)",
    "CREATE INDEX `order_change_seen` ON `order_change` (`seen`)",
)


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
