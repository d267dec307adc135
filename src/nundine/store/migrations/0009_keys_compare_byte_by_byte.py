"""Keys compare byte by byte: ABC-1 and abc-1 are two records, and so are two emoji. Names may be alike."""

STATEMENTS = (
    "ALTER TABLE `account` MODIFY `name` VARCHAR(60) COLLATE utf8mb4_nopad_bin NOT NULL",
    "ALTER TABLE `asset` MODIFY `key` VARCHAR(60) COLLATE utf8mb4_nopad_bin NOT NULL",
    "ALTER TABLE `saved_mapping` MODIFY `name` VARCHAR(80) COLLATE utf8mb4_nopad_bin NOT NULL",
    "ALTER TABLE `person` MODIFY `key` VARCHAR(40) COLLATE utf8mb4_nopad_bin NOT NULL",
    "ALTER TABLE `person_certificate` MODIFY `certificate` VARCHAR(40) COLLATE utf8mb4_nopad_bin NOT NULL",
    "ALTER TABLE `shift_pattern` MODIFY `key` VARCHAR(40) COLLATE utf8mb4_nopad_bin NOT NULL",
    "ALTER TABLE `area` MODIFY `key` VARCHAR(40) COLLATE utf8mb4_nopad_bin NOT NULL",
    "ALTER TABLE `craft` MODIFY `key` VARCHAR(40) COLLATE utf8mb4_nopad_bin NOT NULL",
    "ALTER TABLE `tool` MODIFY `key` VARCHAR(40) COLLATE utf8mb4_nopad_bin NOT NULL",
    "ALTER TABLE `work_order` MODIFY `number` VARCHAR(40) COLLATE utf8mb4_nopad_bin NOT NULL",
    "ALTER TABLE `task` MODIFY `number` VARCHAR(20) COLLATE utf8mb4_nopad_bin NOT NULL",
    "ALTER TABLE `crew_need` MODIFY `certificate` VARCHAR(40) COLLATE utf8mb4_nopad_bin",
)


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
