"""Several sites: every row says of which it is. What there is belongs to the one site that there was;
deeds on accounts, and what is shared, belong to none."""

OF_ONE = (
    "area", "way", "asset", "asset_window", "person", "person_craft", "person_certificate", "shift_pattern",
    "pattern_shift", "roster_line", "absence", "overtime_offer", "extra_shift", "loan", "work_order", "task",
    "crew_need", "task_after", "task_tool", "week", "placement", "seat", "counter", "run", "run_file",
    "revision", "handout", "closing", "saved_mapping", "bringing", "order_change",
)  # fmt: skip
OR_SHARED = ("craft", "tool", "event", "ledger_entry", "ledger_change")
KEYS = (
    ("area", "key"), ("craft", "key"), ("tool", "key"), ("asset", "key"), ("person", "key"),
    ("shift_pattern", "key"), ("work_order", "number"), ("week", "name"), ("counter", "name"),
    ("saved_mapping", "name"), ("run", "holds"), ("run", "lane"), ("run", "slot"),
)  # fmt: skip
"""What was known by a key in the whole installation, and is so in its site now."""


def up(migrator, db):
    for table in (*OF_ONE, *OR_SHARED):
        db.execute_sql(f"ALTER TABLE `{table}` ADD COLUMN `site_id` INTEGER")
        db.execute_sql(f"UPDATE `{table}` SET `site_id` = (SELECT MIN(`id`) FROM `site`)")
        if table in OF_ONE:
            db.execute_sql(f"ALTER TABLE `{table}` MODIFY COLUMN `site_id` INTEGER NOT NULL")
        db.execute_sql(
            f"ALTER TABLE `{table}` ADD FOREIGN KEY (`site_id`) REFERENCES `site` (`id`) ON DELETE RESTRICT"
        )
        db.execute_sql(f"CREATE INDEX `{table}_site_id` ON `{table}` (`site_id`)")
    for table, key in KEYS:
        db.execute_sql(f"DROP INDEX `{table}_{key}` ON `{table}`")
        db.execute_sql(f"CREATE UNIQUE INDEX `{table}_site_id_{key}` ON `{table}` (`site_id`, `{key}`)")
    db.execute_sql("DROP INDEX `ledger_entry_stream_seq` ON `ledger_entry`")
    db.execute_sql(
        "CREATE UNIQUE INDEX `ledger_entry_site_id_stream_seq` ON `ledger_entry` (`site_id`, `stream`, `seq`)"
    )
    db.execute_sql("UPDATE `ledger_entry` SET `site_id` = NULL WHERE `stream` LIKE 'account %%'")
    db.execute_sql("UPDATE `ledger_change` SET `site_id` = NULL WHERE `noun` = 'account'")
    db.execute_sql("ALTER TABLE `account` ADD COLUMN `sites` LONGTEXT AFTER `active`")
