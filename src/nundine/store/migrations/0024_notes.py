"""Notes on records."""

STATEMENTS = (
    "CREATE TABLE `note` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, `site_id` INTEGER NOT NULL,"
    " `noun` VARCHAR(20) NOT NULL, `key` VARCHAR(60) COLLATE utf8mb4_nopad_bin NOT NULL, `text` TEXT "
    "NOT NULL, `at` DATETIME(6) NOT NULL, `account_id` INTEGER, FOREIGN KEY (`site_id`) REFERENCES "
    "`site` (`id`) ON DELETE RESTRICT, FOREIGN KEY (`account_id`) REFERENCES `account` (`id`) ON DELETE"
    " SET NULL)",
    "CREATE INDEX `note_site_id` ON `note` (`site_id`)",
    "CREATE INDEX `note_account_id` ON `note` (`account_id`)",
    "CREATE INDEX `note_site_id_noun_key` ON `note` (`site_id`, `noun`, `key`)",
)


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
