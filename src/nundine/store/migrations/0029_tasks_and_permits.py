"""Tasks have a long text, people of other firms and checklists; permits are of kinds, asked for and given;
crafts have a time and a price of overtime, areas a planning team; job plans may serve other sites."""

import json

STATEMENTS = (
    "ALTER TABLE `area` ADD COLUMN `planning_team` VARCHAR(60) NOT NULL DEFAULT ''",
    "ALTER TABLE `area` ALTER COLUMN `planning_team` DROP DEFAULT",
    "ALTER TABLE `craft` ADD COLUMN `overtime_rate` DOUBLE PRECISION CHECK (overtime_rate >= 0), "
    "ADD COLUMN `valid_from` DATE, ADD COLUMN `valid_to` DATE",
    "ALTER TABLE `tool` ADD COLUMN `vehicle` BOOL NOT NULL DEFAULT 0",
    "ALTER TABLE `tool` ALTER COLUMN `vehicle` DROP DEFAULT",
    *(
        statement
        for table in ("work_order", "job_plan")
        for statement in (
            f"ALTER TABLE `{table}` ADD COLUMN `permits` LONGTEXT NOT NULL DEFAULT '[]', "
            "ADD COLUMN `isolation` LONGTEXT NOT NULL DEFAULT '[]'",
            f"ALTER TABLE `{table}` ALTER COLUMN `permits` DROP DEFAULT, "
            "ALTER COLUMN `isolation` DROP DEFAULT",
        )
    ),
    "ALTER TABLE `job_plan` ADD COLUMN `sites` LONGTEXT NOT NULL DEFAULT '[]'",
    "ALTER TABLE `job_plan` ALTER COLUMN `sites` DROP DEFAULT",
    *(
        statement
        for table in ("task", "plan_task")
        for statement in (
            f"ALTER TABLE `{table}` ADD COLUMN `text` TEXT NOT NULL DEFAULT '', "
            "ADD COLUMN `outside` LONGTEXT NOT NULL DEFAULT '[]', "
            "ADD COLUMN `checklist` LONGTEXT NOT NULL DEFAULT '[]'",
            f"ALTER TABLE `{table}` ALTER COLUMN `text` DROP DEFAULT, "
            "ALTER COLUMN `outside` DROP DEFAULT, ALTER COLUMN `checklist` DROP DEFAULT",
        )
    ),
    "ALTER TABLE `task` ADD COLUMN `answers` LONGTEXT",
    "CREATE FULLTEXT INDEX `work_order_words` ON `work_order` (`title`)",
    "CREATE FULLTEXT INDEX `task_words` ON `task` (`title`, `text`)",
    "CREATE TABLE `permit_kind` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, `revision` INTEGER NOT "
    "NULL, `site_id` INTEGER NOT NULL, `key` VARCHAR(40) COLLATE utf8mb4_nopad_bin NOT NULL, "
    "`name` VARCHAR(120) NOT "
    "NULL, `asks` VARCHAR(400) NOT NULL, FOREIGN KEY (`site_id`) REFERENCES `site` (`id`) ON DELETE "
    "RESTRICT)",
    "CREATE INDEX `permit_kind_site_id` ON `permit_kind` (`site_id`)",
    "CREATE UNIQUE INDEX `permit_kind_site_id_key` ON `permit_kind` (`site_id`, `key`)",
    "CREATE TABLE `permit` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, `revision` INTEGER NOT NULL, "
    "`site_id` INTEGER NOT NULL, `work_order_id` INTEGER NOT NULL, `kind` VARCHAR(40) COLLATE "
    "utf8mb4_nopad_bin NOT NULL, `state` VARCHAR(12) NOT NULL, `valid_from` DATETIME(6), `valid_to` "
    "DATETIME(6), `by` VARCHAR(120) NOT NULL, `at` DATETIME(6), `remark` VARCHAR(400) NOT NULL, FOREIGN KEY "
    "(`site_id`) REFERENCES `site` (`id`) ON DELETE RESTRICT, FOREIGN KEY (`work_order_id`) REFERENCES "
    "`work_order` (`id`) ON DELETE CASCADE)",
    "CREATE INDEX `permit_site_id` ON `permit` (`site_id`)",
    "CREATE INDEX `permit_work_order_id` ON `permit` (`work_order_id`)",
    "CREATE UNIQUE INDEX `permit_work_order_id_kind` ON `permit` (`work_order_id`, `kind`)",
)
MAY_PERMIT = ("scheduler", "operations")


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
    db.in_one(_permit)


def _permit(db):
    for role, rights in db.execute_sql("SELECT name, rights FROM role").fetchall():
        if role in MAY_PERMIT:
            with_it = json.dumps([*json.loads(rights), "permit"])
            db.execute_sql("UPDATE role SET rights = %s WHERE name = %s", (with_it, role))
