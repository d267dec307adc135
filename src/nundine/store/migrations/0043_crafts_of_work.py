"""Which crafts a WO needs stands in its row, so that lists are filtered by them at once."""

STATEMENTS = (
    "ALTER TABLE `work_order` ADD COLUMN `crafts` VARCHAR(400) NOT NULL DEFAULT ''",
    "ALTER TABLE `work_order` ALTER COLUMN `crafts` DROP DEFAULT",
    "UPDATE `work_order` w JOIN (SELECT t.`work_order_id`, "
    "CONCAT(',', GROUP_CONCAT(DISTINCT n.`craft_id` ORDER BY n.`craft_id` SEPARATOR ','), ',') AS crafts "
    "FROM `task` t JOIN `crew_need` n ON n.`task_id` = t.`id` GROUP BY t.`work_order_id`) x "
    "ON x.`work_order_id` = w.`id` SET w.`crafts` = x.crafts",
)


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
