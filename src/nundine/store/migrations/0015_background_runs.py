"""All background work stands in one table; builds that were made are kept, what was under way is told as
failed."""

KEY = "COLLATE utf8mb4_nopad_bin"
STATEMENTS = (
    "CREATE TABLE `run` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, `kind` VARCHAR(20) NOT NULL, "
    f"`target` VARCHAR(80) {KEY} NOT NULL, `label` VARCHAR(200) NOT NULL, `account_id` INTEGER, "
    "`state` VARCHAR(12) NOT NULL CHECK (state IN ('waiting','running','done','failed','stopped')), "
    "`outcome` VARCHAR(12), `asked` LONGTEXT NOT NULL, `progress` LONGTEXT, `result` LONGTEXT, "
    f"`error` VARCHAR(500), `stop` BOOL NOT NULL, `worker` VARCHAR(120), `holds` VARCHAR(101) {KEY}, "
    f"`lane` VARCHAR(20) {KEY}, "
    f"`slot` VARCHAR(60) {KEY}, `created` DATETIME(6) NOT NULL, `began` DATETIME(6), "
    "`heartbeat` DATETIME(6) NOT NULL, `ended` DATETIME(6), "
    "FOREIGN KEY (`account_id`) REFERENCES `account` (`id`) ON DELETE RESTRICT)",
    "CREATE INDEX `run_kind` ON `run` (`kind`)",
    "CREATE INDEX `run_account_id` ON `run` (`account_id`)",
    "CREATE INDEX `run_state` ON `run` (`state`)",
    "CREATE UNIQUE INDEX `run_holds` ON `run` (`holds`)",
    "CREATE UNIQUE INDEX `run_lane` ON `run` (`lane`)",
    "CREATE UNIQUE INDEX `run_slot` ON `run` (`slot`)",
    "CREATE INDEX `run_created` ON `run` (`created`)",
    "CREATE INDEX `run_target_kind` ON `run` (`target`, `kind`)",
    "CREATE TABLE `run_file` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, `run_id` INTEGER NOT NULL, "
    "`name` VARCHAR(200) NOT NULL, `out` BOOL NOT NULL, `content` LONGBLOB NOT NULL, "
    "FOREIGN KEY (`run_id`) REFERENCES `run` (`id`) ON DELETE CASCADE)",
    "CREATE INDEX `run_file_run_id` ON `run_file` (`run_id`)",
    "INSERT INTO `run` (`id`, `kind`, `target`, `label`, `account_id`, `state`, `outcome`, `asked`, "
    "`progress`, "
    "`result`, `error`, `stop`, `created`, `heartbeat`, `ended`) "
    "SELECT b.`id`, JSON_VALUE(b.`asked`, '$.kind'), CONCAT('week ', w.`name`), "
    "CONCAT(CASE JSON_VALUE(b.`asked`, '$.kind') WHEN 'build' THEN 'a build' WHEN 'asks' THEN 'the asks' "
    "ELSE 'a trial of prices' END, ' of week ', w.`name`), b.`account_id`, "
    "CASE WHEN b.`state` IN ('ready', 'accepted') THEN 'done' WHEN b.`state` = 'dropped' THEN 'stopped' "
    "ELSE 'failed' END, "
    "CASE WHEN b.`state` IN ('accepted', 'dropped') THEN b.`state` END, b.`asked`, b.`progress`, b.`result`, "
    "CASE WHEN b.`state` IN ('waiting', 'running') THEN 'Nundine ended in the middle of it.' ELSE b.`error` "
    "END, "
    "0, b.`created`, b.`heartbeat`, b.`heartbeat` FROM `build` b JOIN `week` w ON w.`id` = b.`week_id`",
    "DROP TABLE `build`",
    "DROP TABLE `proof`",
    "DELETE FROM `handout` WHERE `made` IS NULL",
    "ALTER TABLE `handout` DROP COLUMN `taken`",
    "DELETE FROM `bringing`",
    "ALTER TABLE `bringing` DROP COLUMN `asked`, DROP COLUMN `state`, DROP COLUMN `progress`, "
    "DROP COLUMN `stop`, DROP COLUMN `result`, DROP COLUMN `error`, DROP COLUMN `heartbeat`",
)


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
