"""Parts, storerooms, parts lists of assets, movements and stock; who may keep them."""

import json

KEY = "VARCHAR(40) COLLATE utf8mb4_nopad_bin NOT NULL"
HEAD = "`id` INTEGER AUTO_INCREMENT NOT NULL PRIMARY KEY, "
RECORD = f"{HEAD}`revision` INTEGER NOT NULL, `site_id` INTEGER NOT NULL, "
ROW = f"{HEAD}`site_id` INTEGER NOT NULL, "
OF_SITE = "FOREIGN KEY (`site_id`) REFERENCES `site` (`id`) ON DELETE RESTRICT"
PLACE = f"`shelf` {KEY}, `lot` {KEY}"


def refers(column: str, table: str, on_delete: str) -> str:
    return f"FOREIGN KEY (`{column}`) REFERENCES `{table}` (`id`) ON DELETE {on_delete}"


def indexes(table: str, *columns: str) -> tuple[str, ...]:
    return tuple(f"CREATE INDEX `{table}_{c}` ON `{table}` (`{c}`)" for c in columns)


STATEMENTS = (
    f"CREATE TABLE `storeroom` ({RECORD}`key` {KEY}, `name` VARCHAR(120) NOT NULL, `area_id` INTEGER, "
    f"{OF_SITE}, {refers('area_id', 'area', 'RESTRICT')})",
    *indexes("storeroom", "site_id", "area_id"),
    "CREATE UNIQUE INDEX `storeroom_site_id_key` ON `storeroom` (`site_id`, `key`)",
    f"CREATE TABLE `part` ({RECORD}`key` {KEY}, `name` VARCHAR(200) NOT NULL, `unit` VARCHAR(12) NOT NULL, "
    "`group` VARCHAR(60) NOT NULL, `maker` VARCHAR(120) NOT NULL, `maker_number` VARCHAR(80) NOT NULL, "
    "`price` DOUBLE PRECISION, `valued` VARCHAR(10) NOT NULL, `lead_days` INTEGER, "
    "`minimum` DOUBLE PRECISION "
    "NOT NULL, `reorder` DOUBLE PRECISION, `alternates` LONGTEXT NOT NULL, `tracked` BOOL NOT NULL, "
    "`must_use` BOOL NOT NULL, `blocked` BOOL NOT NULL, `description` TEXT NOT NULL, `on_hand` DOUBLE "
    f"PRECISION NOT NULL, `average` DOUBLE PRECISION, {OF_SITE})",
    *indexes("part", "site_id", "group"),
    "CREATE UNIQUE INDEX `part_site_id_key` ON `part` (`site_id`, `key`)",
    f"CREATE TABLE `asset_part` ({ROW}`asset_id` INTEGER NOT NULL, `part_id` INTEGER NOT NULL, `quantity` "
    f"DOUBLE PRECISION NOT NULL, `remark` VARCHAR(200) NOT NULL, {OF_SITE}, "
    f"{refers('asset_id', 'asset', 'CASCADE')}, {refers('part_id', 'part', 'CASCADE')})",
    *indexes("asset_part", "site_id", "asset_id", "part_id"),
    "CREATE UNIQUE INDEX `asset_part_asset_id_part_id` ON `asset_part` (`asset_id`, `part_id`)",
    f"CREATE TABLE `movement` ({ROW}`number` {KEY}, `at` DATETIME(6) NOT NULL, `kind` VARCHAR(12) NOT NULL, "
    f"`part_id` INTEGER NOT NULL, `storeroom_id` INTEGER NOT NULL, {PLACE}, `quantity` DOUBLE PRECISION NOT "
    "NULL, `price` DOUBLE PRECISION, `order_id` INTEGER, `by` VARCHAR(120) NOT NULL, `reason` VARCHAR(400) "
    f"NOT NULL, {OF_SITE}, {refers('part_id', 'part', 'RESTRICT')}, "
    f"{refers('storeroom_id', 'storeroom', 'RESTRICT')}, {refers('order_id', 'work_order', 'SET NULL')})",
    *indexes("movement", "site_id", "at", "part_id", "storeroom_id", "order_id"),
    "CREATE UNIQUE INDEX `movement_site_id_number` ON `movement` (`site_id`, `number`)",
    "CREATE INDEX `movement_part_id_at` ON `movement` (`part_id`, `at`)",
    f"CREATE TABLE `stock` ({ROW}`part_id` INTEGER NOT NULL, `storeroom_id` INTEGER NOT NULL, {PLACE}, "
    f"`on_hand` DOUBLE PRECISION NOT NULL, {OF_SITE}, {refers('part_id', 'part', 'CASCADE')}, "
    f"{refers('storeroom_id', 'storeroom', 'CASCADE')})",
    *indexes("stock", "site_id", "part_id", "storeroom_id"),
    "CREATE UNIQUE INDEX `stock_part_id_storeroom_id_shelf_lot` ON `stock` "
    "(`part_id`, `storeroom_id`, `shelf`, `lot`)",
)
MAY_KEEP = ("storekeeper", "planner", "scheduler")


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
    db.in_one(_keep_stock)


def _keep_stock(db):
    for role, rights in db.execute_sql("SELECT name, rights FROM role").fetchall():
        if role in MAY_KEEP:
            with_stock = json.dumps([*json.loads(rights), "stock"])
            db.execute_sql("UPDATE role SET rights = %s WHERE name = %s", (with_stock, role))
