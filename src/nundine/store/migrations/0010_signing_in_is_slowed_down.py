"""Guessing is slowed down by name and address together instead of names being locked; proofs of bounds
stand in a row."""

STATEMENTS = (
    "DROP TABLE `sign_in_attempt`",
    "CREATE TABLE `sign_in_try` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, "
    "`key` VARCHAR(64) COLLATE utf8mb4_nopad_bin NOT NULL, `failures` INTEGER NOT NULL, "
    "`last` DATETIME(6) NOT NULL)",
    "CREATE UNIQUE INDEX `sign_in_try_key` ON `sign_in_try` (`key`)",
    "CREATE INDEX `sign_in_try_last` ON `sign_in_try` (`last`)",
    "CREATE TABLE `known_browser` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, "
    "`token_hash` VARCHAR(64) NOT NULL, "
    "`account_id` INTEGER NOT NULL, `seen` DATETIME(6) NOT NULL, "
    "FOREIGN KEY (`account_id`) REFERENCES `account` (`id`) ON DELETE CASCADE)",
    "CREATE INDEX `known_browser_account_id` ON `known_browser` (`account_id`)",
    "CREATE INDEX `known_browser_seen` ON `known_browser` (`seen`)",
    "CREATE UNIQUE INDEX `known_browser_token_hash_account_id` ON `known_browser` (`token_hash`, "
    "`account_id`)",
    "CREATE TABLE `proof` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, `week_id` INTEGER NOT NULL, "
    "`asked` DATETIME(6) NOT NULL, `running` BOOL NOT NULL, "
    "FOREIGN KEY (`week_id`) REFERENCES `week` (`id`) ON DELETE CASCADE)",
    "CREATE UNIQUE INDEX `proof_week_id` ON `proof` (`week_id`)",
)


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
