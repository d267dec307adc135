"""How work stood at the planning desk as each week began."""

STATEMENTS = (
    "CREATE TABLE `desk_week` (`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, `site_id` INTEGER NOT NULL, "
    "`monday` DATE NOT NULL, `craft_id` INTEGER NOT NULL, `being_planned` DOUBLE PRECISION NOT NULL, "
    "`ready` DOUBLE PRECISION NOT NULL, `placed` DOUBLE PRECISION NOT NULL, "
    "FOREIGN KEY (`site_id`) REFERENCES `site` (`id`) ON DELETE RESTRICT, "
    "FOREIGN KEY (`craft_id`) REFERENCES `craft` (`id`) ON DELETE CASCADE)",
    "CREATE INDEX `desk_week_site_id` ON `desk_week` (`site_id`)",
    "CREATE INDEX `desk_week_craft_id` ON `desk_week` (`craft_id`)",
    "CREATE UNIQUE INDEX `desk_week_site_id_monday_craft_id` ON `desk_week` (`site_id`, `monday`, "
    "`craft_id`)",
)


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
