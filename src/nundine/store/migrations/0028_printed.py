"""When sheets of records were laid out for paper."""

STATEMENTS = (
    "CREATE TABLE `printing` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, `site_id` INTEGER NOT "
    "NULL, `noun` VARCHAR(20) NOT NULL, `key` VARCHAR(60) COLLATE utf8mb4_nopad_bin NOT NULL, `at` "
    "DATETIME(6) NOT NULL, `account_id` INTEGER, FOREIGN KEY (`site_id`) REFERENCES `site` (`id`) ON "
    "DELETE RESTRICT, FOREIGN KEY (`account_id`) REFERENCES `account` (`id`) ON DELETE SET NULL)",
    "CREATE INDEX `printing_site_id` ON `printing` (`site_id`)",
    "CREATE INDEX `printing_account_id` ON `printing` (`account_id`)",
    "CREATE INDEX `printing_site_id_noun_key` ON `printing` (`site_id`, `noun`, `key`)",
)


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
