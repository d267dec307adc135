"""Requests to buy, orders, and movements that come with an order or go straight to a WO."""

KEY = "VARCHAR(40) COLLATE utf8mb4_nopad_bin NOT NULL"
LINE = "VARCHAR(20) COLLATE utf8mb4_nopad_bin NOT NULL"
HEAD = "`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, "
RECORD = f"{HEAD}`revision` INTEGER NOT NULL, `site_id` INTEGER NOT NULL, "
WANTED = (
    f"{HEAD}`site_id` INTEGER NOT NULL, `line` {LINE}, `part_id` INTEGER, `words` VARCHAR(200) NOT NULL, "
    "`quantity` DOUBLE PRECISION NOT NULL, `price` DOUBLE PRECISION, `storeroom_id` INTEGER, `order_id` "
    "INTEGER, `day` DATE, "
)


def refers(column: str, table: str, on_delete: str) -> str:
    return f"FOREIGN KEY (`{column}`) REFERENCES `{table}` (`id`) ON DELETE {on_delete}"


def indexes(table: str, *columns: str) -> tuple[str, ...]:
    return tuple(f"CREATE INDEX `{table}_{c}` ON `{table}` (`{c}`)" for c in columns)


OF_SITE = refers("site_id", "site", "RESTRICT")
OF_WANTED = (
    f"{OF_SITE}, {refers('part_id', 'part', 'RESTRICT')}, "
    f"{refers('storeroom_id', 'storeroom', 'RESTRICT')}, {refers('order_id', 'work_order', 'SET NULL')}"
)
STATEMENTS = (
    f"CREATE TABLE `buy_request` ({RECORD}`number` {KEY}, `state` VARCHAR(12) NOT NULL, `made` DATETIME(6) "
    "NOT NULL, `by` VARCHAR(120) NOT NULL, `decided` VARCHAR(120) NOT NULL, `remark` TEXT NOT NULL, "
    f"{OF_SITE})",
    *indexes("buy_request", "site_id", "state", "made"),
    "CREATE UNIQUE INDEX `buy_request_site_id_number` ON `buy_request` (`site_id`, `number`)",
    f"CREATE TABLE `buy_line` ({WANTED}`request_id` INTEGER NOT NULL, `settled` VARCHAR(120) NOT NULL, "
    f"{OF_WANTED}, {refers('request_id', 'buy_request', 'CASCADE')})",
    *indexes("buy_line", "site_id", "part_id", "storeroom_id", "order_id", "request_id"),
    "CREATE UNIQUE INDEX `buy_line_request_id_line` ON `buy_line` (`request_id`, `line`)",
    f"CREATE TABLE `purchase` ({RECORD}`number` {KEY}, `supplier` VARCHAR(120) NOT NULL, `state` VARCHAR(12) "
    "NOT NULL, `made` DATETIME(6) NOT NULL, `placed` DATE, `by` VARCHAR(120) NOT NULL, `remark` TEXT NOT "
    f"NULL, {OF_SITE})",
    *indexes("purchase", "site_id", "state", "made"),
    "CREATE UNIQUE INDEX `purchase_site_id_number` ON `purchase` (`site_id`, `number`)",
    f"CREATE TABLE `purchase_line` ({WANTED}`purchase_id` INTEGER NOT NULL, `request_id` INTEGER, "
    f"`request_line` {LINE}, `confirmed` BOOL NOT NULL, `noted` DOUBLE PRECISION NOT NULL, "
    "`received` DOUBLE PRECISION NOT NULL, `awaited` BOOL "
    f"NOT NULL, {OF_WANTED}, {refers('purchase_id', 'purchase', 'CASCADE')}, "
    f"{refers('request_id', 'buy_request', 'SET NULL')})",
    *indexes("purchase_line", "site_id", "part_id", "storeroom_id", "order_id", "purchase_id", "request_id"),
    "CREATE UNIQUE INDEX `purchase_line_purchase_id_line` ON `purchase_line` (`purchase_id`, `line`)",
    "ALTER TABLE `movement` MODIFY COLUMN `storeroom_id` INTEGER",
    "ALTER TABLE `movement` ADD COLUMN `purchase` VARCHAR(64) COLLATE utf8mb4_nopad_bin NOT NULL DEFAULT ''",
    "ALTER TABLE `movement` ALTER COLUMN `purchase` DROP DEFAULT",
    "CREATE INDEX `movement_purchase` ON `movement` (`purchase`)",
)


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
