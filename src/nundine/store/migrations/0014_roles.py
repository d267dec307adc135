"""Roles are rows, somebody may have several and each in some areas alone; passwords given once; sessions
say since when and where."""

import json

ROLES = {
    "administrator": ["read", "import", "manage", "reopen", "administer"],
    "scheduler": ["read", "edit", "plan", "swap", "answer", "report", "import", "manage", "why"],
    "planner": ["read", "plan", "import"],
    "supervisor": ["read", "swap today", "report", "why"],
    "operations": ["read", "answer"],
    "storekeeper": ["read"],
    "technician": ["read", "report"],
    "reader": ["read"],
}
STATEMENTS = (
    "CREATE TABLE `role` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, "
    "`name` VARCHAR(20) COLLATE utf8mb4_nopad_bin NOT NULL, `rights` LONGTEXT NOT NULL, "
    "`place` INTEGER NOT NULL)",
    "CREATE UNIQUE INDEX `role_name` ON `role` (`name`)",
    "CREATE TABLE `account_role` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, "
    "`account_id` INTEGER NOT NULL, "
    "`role_id` INTEGER NOT NULL, `areas` LONGTEXT, "
    "FOREIGN KEY (`account_id`) REFERENCES `account` (`id`) ON DELETE CASCADE, "
    "FOREIGN KEY (`role_id`) REFERENCES `role` (`id`) ON DELETE RESTRICT)",
    "CREATE INDEX `account_role_account_id` ON `account_role` (`account_id`)",
    "CREATE INDEX `account_role_role_id` ON `account_role` (`role_id`)",
    "CREATE UNIQUE INDEX `account_role_account_id_role_id` ON `account_role` (`account_id`, `role_id`)",
)
AFTER = (
    "ALTER TABLE `account` DROP COLUMN `role`",
    "ALTER TABLE `account` ADD COLUMN `one_time` BOOL NOT NULL DEFAULT 0 AFTER `password_hash`",
    "ALTER TABLE `account` ALTER COLUMN `one_time` DROP DEFAULT",
    "ALTER TABLE `signed_in` ADD COLUMN `began` DATETIME(6)",
    "ALTER TABLE `signed_in` ADD COLUMN `address` VARCHAR(60) NOT NULL DEFAULT ''",
    "ALTER TABLE `signed_in` ALTER COLUMN `address` DROP DEFAULT",
)


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
    db.in_one(_fill)
    for statement in AFTER:
        db.execute_sql(statement)


def _fill(db):
    for place, (name, rights) in enumerate(ROLES.items()):
        given = (name, json.dumps(rights), place)
        db.execute_sql("INSERT INTO role (name, rights, place) VALUES (%s, %s, %s)", given)
    ids = dict(db.execute_sql("SELECT name, id FROM role").fetchall())
    for account, role, areas in db.execute_sql("SELECT id, role, areas FROM account").fetchall():
        limit = (areas or "[]") if role == "operations" else None
        given = (account, ids[role], limit)
        db.execute_sql("INSERT INTO account_role (account_id, role_id, areas) VALUES (%s, %s, %s)", given)
