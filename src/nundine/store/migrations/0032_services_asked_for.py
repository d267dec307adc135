"""Preventive services that are raised as requests; who stands in for somebody who is absent."""

STATEMENTS = (
    "ALTER TABLE `preventive_plan` ADD COLUMN `raises` VARCHAR(12) NOT NULL DEFAULT 'work order'",
    "ALTER TABLE `preventive_plan` ALTER COLUMN `raises` DROP DEFAULT",
    "ALTER TABLE `occurrence` ADD COLUMN `request_id` INTEGER",
    "CREATE INDEX `occurrence_request_id` ON `occurrence` (`request_id`)",
    "ALTER TABLE `occurrence` ADD FOREIGN KEY (`request_id`) REFERENCES `work_request` (`id`) "
    "ON DELETE SET NULL",
    "ALTER TABLE `absence` ADD COLUMN `stand_in_id` INTEGER",
    "CREATE INDEX `absence_stand_in_id` ON `absence` (`stand_in_id`)",
    "ALTER TABLE `absence` ADD FOREIGN KEY (`stand_in_id`) REFERENCES `person` (`id`) ON DELETE SET NULL",
)


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
