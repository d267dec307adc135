"""The first tables."""

STATEMENTS = (
    "CREATE TABLE `site` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, `name` VARCHAR(120) NOT NULL, "
    "`timezone` VARCHAR(60) NOT NULL, `settings` LONGTEXT NOT NULL, `people_revision` INTEGER NOT NULL, "
    "`work_revision` INTEGER NOT NULL)",
    "CREATE TABLE `area` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, `key` VARCHAR(40) NOT NULL, "
    "`name` VARCHAR(120) NOT NULL)",
    "CREATE UNIQUE INDEX `area_key` ON `area` (`key`)",
    "CREATE TABLE `craft` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, `key` VARCHAR(40) NOT NULL, "
    "`name` VARCHAR(120) NOT NULL, `held_back` DOUBLE PRECISION NOT NULL CHECK (held_back >= 0 AND "
    "held_back <= 1))",
    "CREATE UNIQUE INDEX `craft_key` ON `craft` (`key`)",
    "CREATE TABLE `tool` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, `key` VARCHAR(40) NOT NULL, "
    "`name` VARCHAR(120) NOT NULL, `count` INTEGER NOT NULL CHECK (`count` >= 0))",
    "CREATE UNIQUE INDEX `tool_key` ON `tool` (`key`)",
    "CREATE TABLE `asset` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, `key` VARCHAR(60) NOT NULL, "
    "`name` VARCHAR(160) NOT NULL, `area_id` INTEGER NOT NULL, `parent_id` INTEGER, "
    "`criticality` INTEGER NOT NULL CHECK (criticality BETWEEN 1 AND 10), `limited` BOOL NOT NULL, "
    "`one_job_at_a_time` BOOL NOT NULL, FOREIGN KEY (`area_id`) REFERENCES `area` (`id`) ON DELETE "
    "RESTRICT, FOREIGN KEY (`parent_id`) REFERENCES `asset` (`id`) ON DELETE RESTRICT)",
    "CREATE UNIQUE INDEX `asset_key` ON `asset` (`key`)",
    "CREATE INDEX `asset_area_id` ON `asset` (`area_id`)",
    "CREATE INDEX `asset_parent_id` ON `asset` (`parent_id`)",
    "CREATE TABLE `asset_window` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, "
    "`asset_id` INTEGER NOT NULL, `kind` VARCHAR(8) NOT NULL CHECK (kind IN ('work','run')), "
    "`start` DATETIME(6) NOT NULL, `end` DATETIME(6) NOT NULL, `answer` VARCHAR(8), "
    "`answer_by` VARCHAR(120), `remark` VARCHAR(300), "
    "FOREIGN KEY (`asset_id`) REFERENCES `asset` (`id`) ON DELETE CASCADE)",
    "CREATE INDEX `asset_window_asset_id` ON `asset_window` (`asset_id`)",
    "CREATE INDEX `asset_window_start` ON `asset_window` (`start`)",
    "CREATE UNIQUE INDEX `asset_window_asset_id_kind_start` ON `asset_window` (`asset_id`, `kind`, `start`)",
    "CREATE TABLE `person` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, `key` VARCHAR(40) NOT NULL, "
    "`name` VARCHAR(120) NOT NULL, `area_id` INTEGER, `crew` VARCHAR(60), "
    "FOREIGN KEY (`area_id`) REFERENCES `area` (`id`) ON DELETE RESTRICT)",
    "CREATE UNIQUE INDEX `person_key` ON `person` (`key`)",
    "CREATE INDEX `person_area_id` ON `person` (`area_id`)",
    "CREATE TABLE `person_craft` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, "
    "`person_id` INTEGER NOT NULL, `craft_id` INTEGER NOT NULL, "
    "`level` INTEGER NOT NULL CHECK (level BETWEEN 1 AND 3), `rank` INTEGER NOT NULL, "
    "FOREIGN KEY (`person_id`) REFERENCES `person` (`id`) ON DELETE CASCADE, "
    "FOREIGN KEY (`craft_id`) REFERENCES `craft` (`id`) ON DELETE RESTRICT)",
    "CREATE INDEX `person_craft_person_id` ON `person_craft` (`person_id`)",
    "CREATE INDEX `person_craft_craft_id` ON `person_craft` (`craft_id`)",
    "CREATE UNIQUE INDEX `person_craft_person_id_craft_id` ON `person_craft` (`person_id`, `craft_id`)",
    "CREATE TABLE `person_certificate` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, "
    "`person_id` INTEGER NOT NULL, `certificate` VARCHAR(40) NOT NULL, `until` DATE, "
    "FOREIGN KEY (`person_id`) REFERENCES `person` (`id`) ON DELETE CASCADE)",
    "CREATE INDEX `person_certificate_person_id` ON `person_certificate` (`person_id`)",
    "CREATE UNIQUE INDEX `person_certificate_person_id_certificate` ON `person_certificate` (`person_id`, "
    "`certificate`)",
    "CREATE TABLE `shift_pattern` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, "
    "`key` VARCHAR(40) NOT NULL, `cycle_days` INTEGER NOT NULL CHECK (cycle_days >= 1))",
    "CREATE UNIQUE INDEX `shift_pattern_key` ON `shift_pattern` (`key`)",
    "CREATE TABLE `pattern_shift` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, "
    "`pattern_id` INTEGER NOT NULL, `day_index` INTEGER NOT NULL, `start` TIME NOT NULL, "
    "`end` TIME NOT NULL, `standing_minutes` INTEGER NOT NULL CHECK (standing_minutes >= 0), "
    "FOREIGN KEY (`pattern_id`) REFERENCES `shift_pattern` (`id`) ON DELETE CASCADE)",
    "CREATE INDEX `pattern_shift_pattern_id` ON `pattern_shift` (`pattern_id`)",
    "CREATE UNIQUE INDEX `pattern_shift_pattern_id_day_index_start` ON `pattern_shift` (`pattern_id`, "
    "`day_index`, `start`)",
    "CREATE TABLE `roster_line` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, "
    "`person_id` INTEGER NOT NULL, `pattern_id` INTEGER NOT NULL, `first` DATE NOT NULL, `last` DATE, "
    "FOREIGN KEY (`person_id`) REFERENCES `person` (`id`) ON DELETE CASCADE, "
    "FOREIGN KEY (`pattern_id`) REFERENCES `shift_pattern` (`id`) ON DELETE RESTRICT)",
    "CREATE INDEX `roster_line_person_id` ON `roster_line` (`person_id`)",
    "CREATE INDEX `roster_line_pattern_id` ON `roster_line` (`pattern_id`)",
    "CREATE UNIQUE INDEX `roster_line_person_id_first` ON `roster_line` (`person_id`, `first`)",
    "CREATE TABLE `absence` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, "
    "`person_id` INTEGER NOT NULL, `start` DATETIME(6) NOT NULL, `end` DATETIME(6) NOT NULL, "
    "`reason` VARCHAR(40) NOT NULL, FOREIGN KEY (`person_id`) REFERENCES `person` (`id`) ON DELETE CASCADE)",
    "CREATE INDEX `absence_person_id` ON `absence` (`person_id`)",
    "CREATE INDEX `absence_start` ON `absence` (`start`)",
    "CREATE UNIQUE INDEX `absence_person_id_start` ON `absence` (`person_id`, `start`)",
    "CREATE TABLE `overtime_offer` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, "
    "`person_id` INTEGER NOT NULL, `start` DATETIME(6) NOT NULL, `end` DATETIME(6) NOT NULL, "
    "FOREIGN KEY (`person_id`) REFERENCES `person` (`id`) ON DELETE CASCADE)",
    "CREATE INDEX `overtime_offer_person_id` ON `overtime_offer` (`person_id`)",
    "CREATE INDEX `overtime_offer_start` ON `overtime_offer` (`start`)",
    "CREATE UNIQUE INDEX `overtime_offer_person_id_start` ON `overtime_offer` (`person_id`, `start`)",
    "CREATE TABLE `work_order` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, "
    "`number` VARCHAR(40) NOT NULL, `title` VARCHAR(200) NOT NULL, `asset_id` INTEGER NOT NULL, "
    "`kind` VARCHAR(20) NOT NULL, `state` VARCHAR(12) NOT NULL, `raised` DATE NOT NULL, "
    "`priority` DOUBLE PRECISION NOT NULL, `must` BOOL NOT NULL, `divisible` BOOL NOT NULL, "
    "`earliest` DATETIME(6), `due` DATETIME(6), `latest` DATETIME(6), `parts_ready` DATE, "
    "`parts_unknown` BOOL NOT NULL, `permit` VARCHAR(12) NOT NULL, `description` TEXT NOT NULL, "
    "`hours` DOUBLE PRECISION NOT NULL, `planned` BOOL NOT NULL, `staffed` BOOL NOT NULL, "
    "`needs_stop` BOOL NOT NULL, FOREIGN KEY (`asset_id`) REFERENCES `asset` (`id`) ON DELETE RESTRICT)",
    "CREATE UNIQUE INDEX `work_order_number` ON `work_order` (`number`)",
    "CREATE INDEX `work_order_asset_id` ON `work_order` (`asset_id`)",
    "CREATE INDEX `work_order_kind` ON `work_order` (`kind`)",
    "CREATE INDEX `work_order_priority` ON `work_order` (`priority`)",
    "CREATE INDEX `work_order_due` ON `work_order` (`due`)",
    "CREATE INDEX `work_order_hours` ON `work_order` (`hours`)",
    "CREATE TABLE `task` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, "
    "`work_order_id` INTEGER NOT NULL, `number` VARCHAR(20) NOT NULL, `title` VARCHAR(200) NOT NULL, "
    "`hours` DOUBLE PRECISION NOT NULL CHECK (hours > 0), `asset_state` VARCHAR(8) NOT NULL, "
    "`splittable` BOOL NOT NULL, `min_portion` DOUBLE PRECISION NOT NULL, `state` VARCHAR(12) NOT NULL, "
    "`hours_spent` DOUBLE PRECISION NOT NULL CHECK (hours_spent >= 0), `hours_left` DOUBLE PRECISION, "
    "FOREIGN KEY (`work_order_id`) REFERENCES `work_order` (`id`) ON DELETE CASCADE)",
    "CREATE INDEX `task_work_order_id` ON `task` (`work_order_id`)",
    "CREATE INDEX `task_state` ON `task` (`state`)",
    "CREATE UNIQUE INDEX `task_work_order_id_number` ON `task` (`work_order_id`, `number`)",
    "CREATE TABLE `crew_need` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, "
    "`task_id` INTEGER NOT NULL, `position` INTEGER NOT NULL, `craft_id` INTEGER NOT NULL, "
    "`level` INTEGER NOT NULL, `people` INTEGER NOT NULL CHECK (people >= 1), `certificate` VARCHAR(40), "
    "FOREIGN KEY (`task_id`) REFERENCES `task` (`id`) ON DELETE CASCADE, "
    "FOREIGN KEY (`craft_id`) REFERENCES `craft` (`id`) ON DELETE RESTRICT)",
    "CREATE INDEX `crew_need_task_id` ON `crew_need` (`task_id`)",
    "CREATE INDEX `crew_need_craft_id` ON `crew_need` (`craft_id`)",
    "CREATE UNIQUE INDEX `crew_need_task_id_position` ON `crew_need` (`task_id`, `position`)",
    "CREATE TABLE `task_after` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, "
    "`task_id` INTEGER NOT NULL, `before_id` INTEGER NOT NULL, `lag` DOUBLE PRECISION NOT NULL, "
    "FOREIGN KEY (`task_id`) REFERENCES `task` (`id`) ON DELETE CASCADE, "
    "FOREIGN KEY (`before_id`) REFERENCES `task` (`id`) ON DELETE CASCADE)",
    "CREATE INDEX `task_after_task_id` ON `task_after` (`task_id`)",
    "CREATE INDEX `task_after_before_id` ON `task_after` (`before_id`)",
    "CREATE UNIQUE INDEX `task_after_task_id_before_id` ON `task_after` (`task_id`, `before_id`)",
    "CREATE TABLE `task_tool` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, "
    "`task_id` INTEGER NOT NULL, `tool_id` INTEGER NOT NULL, "
    "FOREIGN KEY (`task_id`) REFERENCES `task` (`id`) ON DELETE CASCADE, "
    "FOREIGN KEY (`tool_id`) REFERENCES `tool` (`id`) ON DELETE RESTRICT)",
    "CREATE INDEX `task_tool_task_id` ON `task_tool` (`task_id`)",
    "CREATE INDEX `task_tool_tool_id` ON `task_tool` (`tool_id`)",
    "CREATE UNIQUE INDEX `task_tool_task_id_tool_id` ON `task_tool` (`task_id`, `tool_id`)",
    "CREATE TABLE `account` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, `name` VARCHAR(60) NOT NULL, "
    "`full_name` VARCHAR(120) NOT NULL, `password_hash` VARCHAR(200) NOT NULL, `role` VARCHAR(20) NOT NULL, "
    "`active` BOOL NOT NULL)",
    "CREATE UNIQUE INDEX `account_name` ON `account` (`name`)",
    "CREATE TABLE `signed_in` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, "
    "`token_hash` VARCHAR(64) NOT NULL, `account_id` INTEGER NOT NULL, `expires` DATETIME(6) NOT NULL, "
    "FOREIGN KEY (`account_id`) REFERENCES `account` (`id`) ON DELETE CASCADE)",
    "CREATE UNIQUE INDEX `signed_in_token_hash` ON `signed_in` (`token_hash`)",
    "CREATE INDEX `signed_in_account_id` ON `signed_in` (`account_id`)",
    "CREATE INDEX `signed_in_expires` ON `signed_in` (`expires`)",
    "CREATE TABLE `sign_in_attempt` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, "
    "`name` VARCHAR(60) NOT NULL, `address` VARCHAR(60) NOT NULL, `at` DATETIME(6) NOT NULL)",
    "CREATE INDEX `sign_in_attempt_name` ON `sign_in_attempt` (`name`)",
    "CREATE INDEX `sign_in_attempt_address` ON `sign_in_attempt` (`address`)",
    "CREATE INDEX `sign_in_attempt_at` ON `sign_in_attempt` (`at`)",
    "CREATE TABLE `week` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, `name` VARCHAR(8) NOT NULL, "
    "`status` VARCHAR(12) NOT NULL CHECK (status IN ('drafting','agreed','published','closed')), "
    "`edits` INTEGER NOT NULL, `bound` DOUBLE PRECISION, `bound_of` VARCHAR(60))",
    "CREATE UNIQUE INDEX `week_name` ON `week` (`name`)",
    "CREATE TABLE `placement` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, "
    "`week_id` INTEGER NOT NULL, `task_id` INTEGER NOT NULL, `portion` INTEGER NOT NULL, "
    "`day` DATE NOT NULL, `start` DATETIME(6), `end` DATETIME(6), `hours` DOUBLE PRECISION, "
    "`pinned` BOOL NOT NULL, `hand` BOOL NOT NULL, `answer` VARCHAR(8), `answer_by` VARCHAR(120), "
    "`remark` VARCHAR(300), FOREIGN KEY (`week_id`) REFERENCES `week` (`id`) ON DELETE CASCADE, "
    "FOREIGN KEY (`task_id`) REFERENCES `task` (`id`) ON DELETE RESTRICT)",
    "CREATE INDEX `placement_week_id` ON `placement` (`week_id`)",
    "CREATE INDEX `placement_task_id` ON `placement` (`task_id`)",
    "CREATE UNIQUE INDEX `placement_week_id_task_id_portion` ON `placement` (`week_id`, `task_id`, "
    "`portion`)",
    "CREATE TABLE `seat` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, "
    "`placement_id` INTEGER NOT NULL, `position` INTEGER NOT NULL, `craft_id` INTEGER NOT NULL, "
    "`person_id` INTEGER, FOREIGN KEY (`placement_id`) REFERENCES `placement` (`id`) ON DELETE CASCADE, "
    "FOREIGN KEY (`craft_id`) REFERENCES `craft` (`id`) ON DELETE RESTRICT, "
    "FOREIGN KEY (`person_id`) REFERENCES `person` (`id`) ON DELETE RESTRICT)",
    "CREATE INDEX `seat_placement_id` ON `seat` (`placement_id`)",
    "CREATE INDEX `seat_craft_id` ON `seat` (`craft_id`)",
    "CREATE INDEX `seat_person_id` ON `seat` (`person_id`)",
    "CREATE UNIQUE INDEX `seat_placement_id_position` ON `seat` (`placement_id`, `position`)",
    "CREATE TABLE `command` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, `week_id` INTEGER NOT NULL, "
    "`seq` INTEGER NOT NULL, `account_id` INTEGER NOT NULL, `at` DATETIME(6) NOT NULL, "
    "`kind` VARCHAR(20) NOT NULL, `label` VARCHAR(300) NOT NULL, `changes` LONGTEXT NOT NULL, "
    "`touches` LONGTEXT NOT NULL, `undoes` INTEGER, `undone` BOOL NOT NULL, "
    "FOREIGN KEY (`week_id`) REFERENCES `week` (`id`) ON DELETE CASCADE, "
    "FOREIGN KEY (`account_id`) REFERENCES `account` (`id`) ON DELETE RESTRICT)",
    "CREATE INDEX `command_week_id` ON `command` (`week_id`)",
    "CREATE INDEX `command_account_id` ON `command` (`account_id`)",
    "CREATE UNIQUE INDEX `command_week_id_seq` ON `command` (`week_id`, `seq`)",
    "CREATE TABLE `revision` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, `week_id` INTEGER NOT NULL, "
    "`number` INTEGER NOT NULL, `at` DATETIME(6) NOT NULL, `account_id` INTEGER NOT NULL, "
    "`edits` INTEGER NOT NULL, `content` LONGTEXT NOT NULL, "
    "FOREIGN KEY (`week_id`) REFERENCES `week` (`id`) ON DELETE RESTRICT, "
    "FOREIGN KEY (`account_id`) REFERENCES `account` (`id`) ON DELETE RESTRICT)",
    "CREATE INDEX `revision_week_id` ON `revision` (`week_id`)",
    "CREATE INDEX `revision_account_id` ON `revision` (`account_id`)",
    "CREATE UNIQUE INDEX `revision_week_id_number` ON `revision` (`week_id`, `number`)",
    "CREATE TABLE `build` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, `week_id` INTEGER NOT NULL, "
    "`account_id` INTEGER, `state` VARCHAR(12) NOT NULL, `asked` LONGTEXT NOT NULL, "
    "`progress` LONGTEXT NOT NULL, `result` LONGTEXT, `stop` BOOL NOT NULL, `error` VARCHAR(300), "
    "`created` DATETIME(6) NOT NULL, `heartbeat` DATETIME(6) NOT NULL, "
    "FOREIGN KEY (`week_id`) REFERENCES `week` (`id`) ON DELETE CASCADE, "
    "FOREIGN KEY (`account_id`) REFERENCES `account` (`id`) ON DELETE RESTRICT)",
    "CREATE INDEX `build_week_id` ON `build` (`week_id`)",
    "CREATE INDEX `build_account_id` ON `build` (`account_id`)",
    "CREATE TABLE `event` (`id` BIGINT AUTO_INCREMENT NOT NULL PRIMARY KEY, `week` VARCHAR(8) NOT NULL, "
    "`kind` VARCHAR(20) NOT NULL, `body` LONGTEXT NOT NULL, `at` DATETIME(6) NOT NULL)",
    "CREATE INDEX `event_week` ON `event` (`week`)",
    "CREATE INDEX `event_at` ON `event` (`at`)",
)


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
