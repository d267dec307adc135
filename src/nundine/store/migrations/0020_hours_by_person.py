"""A task keeps who spent how many hours on it."""


def up(migrator, db):
    db.execute_sql("ALTER TABLE `task` ADD COLUMN `hours_by` LONGTEXT")
