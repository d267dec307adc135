"""One ledger of all that is written, with what commands of weeks said so far; records get revisions, the
site a key."""

import json

RECORDS = (
    "site", "area", "way", "craft", "tool", "asset", "asset_window", "person",
    "shift_pattern", "roster_line", "absence", "extra_shift", "loan", "overtime_offer",
    "work_order", "account", "saved_mapping",
)  # fmt: skip
STATEMENTS = (
    *(f"ALTER TABLE `{t}` ADD COLUMN `revision` INTEGER NOT NULL DEFAULT 1 AFTER `id`" for t in RECORDS),
    *(f"ALTER TABLE `{t}` ALTER COLUMN `revision` DROP DEFAULT" for t in RECORDS),
    "ALTER TABLE `site` ADD COLUMN `key` VARCHAR(40) COLLATE utf8mb4_nopad_bin NOT NULL DEFAULT 'site' "
    "AFTER `revision`",
    "ALTER TABLE `site` ALTER COLUMN `key` DROP DEFAULT",
    "CREATE UNIQUE INDEX `site_key` ON `site` (`key`)",
    "ALTER TABLE `site` DROP COLUMN `people_revision`, DROP COLUMN `work_revision`",
    "CREATE TABLE `ledger_entry` (`id` BIGINT AUTO_INCREMENT NOT NULL PRIMARY KEY, "
    "`stream` VARCHAR(80) COLLATE utf8mb4_nopad_bin NOT NULL, `seq` INTEGER, `account_id` INTEGER, "
    "`at` DATETIME(6) NOT NULL, `kind` VARCHAR(20) NOT NULL, `label` VARCHAR(300) NOT NULL, "
    "`touches` LONGTEXT NOT NULL, "
    "`undoes` INTEGER, `redoes` INTEGER, `people` BOOL NOT NULL, `work` BOOL NOT NULL, "
    "FOREIGN KEY (`account_id`) REFERENCES `account` (`id`) ON DELETE RESTRICT)",
    "CREATE INDEX `ledger_entry_account_id` ON `ledger_entry` (`account_id`)",
    "CREATE INDEX `ledger_entry_at` ON `ledger_entry` (`at`)",
    "CREATE UNIQUE INDEX `ledger_entry_stream_seq` ON `ledger_entry` (`stream`, `seq`)",
    "CREATE INDEX `ledger_entry_people_id` ON `ledger_entry` (`people`, `id`)",
    "CREATE INDEX `ledger_entry_work_id` ON `ledger_entry` (`work`, `id`)",
    "CREATE TABLE `ledger_change` (`id` BIGINT AUTO_INCREMENT NOT NULL PRIMARY KEY, "
    "`entry_id` BIGINT NOT NULL, "
    "`noun` VARCHAR(20) NOT NULL, `key` VARCHAR(255) COLLATE utf8mb4_nopad_bin NOT NULL, `before` LONGTEXT, "
    "`after` LONGTEXT, "
    "`derived` BOOL NOT NULL, `revision` INTEGER, "
    "FOREIGN KEY (`entry_id`) REFERENCES `ledger_entry` (`id`) ON DELETE RESTRICT)",
    "CREATE INDEX `ledger_change_entry_id` ON `ledger_change` (`entry_id`)",
    "CREATE INDEX `ledger_change_noun_key` ON `ledger_change` (`noun`, `key`)",
)
ENTRY = (
    "INSERT INTO ledger_entry (stream, seq, account_id, at, kind, label, touches, undoes, redoes, people, "
    "work) "
    "VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s, 0, 0)"
)
CHANGE = (
    "INSERT INTO ledger_change (entry_id, noun, `key`, `before`, `after`, derived, revision) "
    "VALUES (%s, %s, %s, %s, %s, 0, NULL)"
)
NOUN_OF = {"order": "work order"}
COMMANDS = (
    "SELECT w.name, c.seq, c.account_id, c.at, c.kind, c.label, c.touches, c.undoes, c.undone, c.changes "
    "FROM command c JOIN week w ON w.id = c.week_id ORDER BY c.week_id, c.seq"
)


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
    db.in_one(_carry_over)
    db.execute_sql("DROP TABLE `command`")


def _carry_over(db):
    """Each command becomes a deed of its week. What is now told by a deed that takes another back was a
    mark on that other."""
    undos = {}
    for name, seq, account, at, kind, label, touches, undoes, undone, changes in list(
        db.execute_sql(COMMANDS)
    ):
        redoes = None
        mine = undos.setdefault((name, account), [])
        if kind == "redo" and mine:
            redoes = mine.pop()
        if undoes is not None and undone:
            mine.append(seq)
        given = (f"week {name}", seq, account, at, kind, label, touches, undoes, redoes)
        cursor = db.execute_sql(ENTRY, given)
        entry = cursor.lastrowid
        rows = [
            (
                entry,
                NOUN_OF.get(c["entity"], c["entity"]),
                _text(c["id"]),
                _text(c["before"]),
                _text(c["after"]),
            )
            for c in json.loads(changes)
        ]
        for n in range(0, len(rows), 500):
            with db.connection().cursor() as many:
                many.executemany(CHANGE, rows[n : n + 500])


def _text(value):
    return None if value is None else json.dumps(value, ensure_ascii=False, separators=(",", ":"))
