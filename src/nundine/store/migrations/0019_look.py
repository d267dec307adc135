"""An account keeps how it wants the screens to look."""


def up(migrator, db):
    db.execute_sql("ALTER TABLE `account` ADD COLUMN `look` LONGTEXT")
