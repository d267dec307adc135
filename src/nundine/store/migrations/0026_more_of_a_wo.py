"""A WO says who pays, who is answerable and who knows more; its priority may be corrected by hand."""

STATEMENTS = (
    "ALTER TABLE `asset` ADD COLUMN `cost_account` VARCHAR(40) COLLATE utf8mb4_nopad_bin",
    "ALTER TABLE `work_order` ADD COLUMN `sub_kind` VARCHAR(40) NOT NULL DEFAULT '' AFTER `imported`, "
    "ADD COLUMN `department` VARCHAR(60) NOT NULL DEFAULT '' AFTER `sub_kind`, "
    "ADD COLUMN `crew` VARCHAR(160) NOT NULL DEFAULT '' AFTER `department`, "
    "ADD COLUMN `contact` VARCHAR(120) NOT NULL DEFAULT '' AFTER `crew`, "
    "ADD COLUMN `cost_account` VARCHAR(40) COLLATE utf8mb4_nopad_bin AFTER `contact`, "
    "ADD COLUMN `correction` DOUBLE PRECISION NOT NULL DEFAULT 0 AFTER `cost_account`",
    *(
        f"ALTER TABLE `work_order` ALTER COLUMN `{name}` DROP DEFAULT"
        for name in ("sub_kind", "department", "crew", "contact", "correction")
    ),
)


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
