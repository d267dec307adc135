"""Meters and their readings; shutdowns, on which WOs hang; assets in store; preventive plans whose work is
typed in."""

KEY = "VARCHAR(40) COLLATE utf8mb4_nopad_bin NOT NULL"
HEAD = "`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, "
RECORD = f"{HEAD}`revision` INTEGER NOT NULL, `site_id` INTEGER NOT NULL, "
OF_SITE = "FOREIGN KEY (`site_id`) REFERENCES `site` (`id`) ON DELETE RESTRICT"

STATEMENTS = (
    f"CREATE TABLE `meter` ({RECORD}`key` {KEY}, `name` VARCHAR(120) NOT NULL, `asset_id` INTEGER NOT NULL, "
    f"`unit` VARCHAR(12) NOT NULL, `rollover` DOUBLE PRECISION, {OF_SITE}, "
    "FOREIGN KEY (`asset_id`) REFERENCES `asset` (`id`) ON DELETE RESTRICT)",
    "CREATE INDEX `meter_site_id` ON `meter` (`site_id`)",
    "CREATE INDEX `meter_asset_id` ON `meter` (`asset_id`)",
    "CREATE UNIQUE INDEX `meter_site_id_key` ON `meter` (`site_id`, `key`)",
    f"CREATE TABLE `reading` ({HEAD}`site_id` INTEGER NOT NULL, `meter_id` INTEGER NOT NULL, `day` DATE NOT "
    "NULL, `value` DOUBLE PRECISION NOT NULL, `fresh` BOOL NOT NULL, `by` VARCHAR(120) NOT NULL, `remark` "
    f"VARCHAR(400) NOT NULL, {OF_SITE}, "
    "FOREIGN KEY (`meter_id`) REFERENCES `meter` (`id`) ON DELETE CASCADE)",
    "CREATE INDEX `reading_site_id` ON `reading` (`site_id`)",
    "CREATE INDEX `reading_meter_id` ON `reading` (`meter_id`)",
    "CREATE UNIQUE INDEX `reading_meter_id_day` ON `reading` (`meter_id`, `day`)",
    f"CREATE TABLE `shutdown` ({RECORD}`key` {KEY}, `name` VARCHAR(120) NOT NULL, `series` VARCHAR(40) NOT "
    f"NULL, `first` DATE NOT NULL, `last` DATE NOT NULL, `moves_work` BOOL NOT NULL, {OF_SITE})",
    "CREATE INDEX `shutdown_site_id` ON `shutdown` (`site_id`)",
    "CREATE UNIQUE INDEX `shutdown_site_id_key` ON `shutdown` (`site_id`, `key`)",
    "ALTER TABLE `work_order` ADD COLUMN `shutdown_id` INTEGER",
    "CREATE INDEX `work_order_shutdown_id` ON `work_order` (`shutdown_id`)",
    "ALTER TABLE `work_order` ADD FOREIGN KEY (`shutdown_id`) REFERENCES `shutdown` (`id`) ON DELETE SET "
    "NULL",
    "ALTER TABLE `asset` ADD COLUMN `in_store` BOOL NOT NULL DEFAULT 0",
    "ALTER TABLE `asset` ALTER COLUMN `in_store` DROP DEFAULT",
    "ALTER TABLE `service` ADD COLUMN `last_done` DATE",
    "ALTER TABLE `preventive_plan` ADD COLUMN `hours` DOUBLE PRECISION, "
    "ADD COLUMN `needs` LONGTEXT NOT NULL DEFAULT '[]'",
    "ALTER TABLE `preventive_plan` ALTER COLUMN `needs` DROP DEFAULT",
)


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
