"""The day for which the priorities of WOs were computed last."""

STATEMENTS = ("ALTER TABLE `site` ADD COLUMN `aged` DATE",)


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
