"""Needs that somebody reports, and files that hang on records."""

STATEMENTS = (
    "CREATE TABLE `work_request` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, `revision` INTEGER "
    "NOT NULL, `site_id` INTEGER NOT NULL, `number` VARCHAR(40) COLLATE utf8mb4_nopad_bin NOT NULL, "
    "`title` VARCHAR(200) NOT NULL, `asset_id` INTEGER, `place` VARCHAR(160) NOT NULL, `description` "
    "TEXT NOT NULL, `urgency` VARCHAR(14) NOT NULL CHECK (urgency IN ('now','this week','when it "
    "fits')), `state` VARCHAR(12) NOT NULL, `raised` DATETIME(6) NOT NULL, `reporter` VARCHAR(120) NOT "
    "NULL, `account_id` INTEGER, `order_id` INTEGER, `talk` LONGTEXT NOT NULL, FOREIGN KEY (`site_id`) "
    "REFERENCES `site` (`id`) ON DELETE RESTRICT, FOREIGN KEY (`asset_id`) REFERENCES `asset` (`id`) ON"
    " DELETE RESTRICT, FOREIGN KEY (`account_id`) REFERENCES `account` (`id`) ON DELETE SET NULL, "
    "FOREIGN KEY (`order_id`) REFERENCES `work_order` (`id`) ON DELETE SET NULL)",
    "CREATE INDEX `work_request_site_id` ON `work_request` (`site_id`)",
    "CREATE INDEX `work_request_asset_id` ON `work_request` (`asset_id`)",
    "CREATE INDEX `work_request_state` ON `work_request` (`state`)",
    "CREATE INDEX `work_request_raised` ON `work_request` (`raised`)",
    "CREATE INDEX `work_request_account_id` ON `work_request` (`account_id`)",
    "CREATE INDEX `work_request_order_id` ON `work_request` (`order_id`)",
    "CREATE UNIQUE INDEX `work_request_site_id_number` ON `work_request` (`site_id`, `number`)",
    "CREATE TABLE `attachment` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, `site_id` INTEGER NOT"
    " NULL, `noun` VARCHAR(20) NOT NULL, `key` VARCHAR(60) COLLATE utf8mb4_nopad_bin NOT NULL, `name` "
    "VARCHAR(200) NOT NULL, `media` VARCHAR(60) NOT NULL, `size` INTEGER NOT NULL, `content` LONGBLOB "
    "NOT NULL, `at` DATETIME(6) NOT NULL, `account_id` INTEGER, FOREIGN KEY (`site_id`) REFERENCES "
    "`site` (`id`) ON DELETE RESTRICT, FOREIGN KEY (`account_id`) REFERENCES `account` (`id`) ON DELETE"
    " SET NULL)",
    "CREATE INDEX `attachment_site_id` ON `attachment` (`site_id`)",
    "CREATE INDEX `attachment_account_id` ON `attachment` (`account_id`)",
    "CREATE INDEX `attachment_site_id_noun_key` ON `attachment` (`site_id`, `noun`, `key`)",
)


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
