"""A file that is brought in keeps how it differs from what is here, as it was last compared."""


def up(migrator, db):
    db.execute_sql("ALTER TABLE `bringing` ADD COLUMN `differs` LONGTEXT")
