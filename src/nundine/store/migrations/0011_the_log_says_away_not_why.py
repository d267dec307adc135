"""The log, which all may read, says that somebody was away; why is known to supervisors and schedulers
alone."""

STATEMENTS = tuple(
    f"UPDATE `command` SET `label` = REPLACE(`label`, ' {reason} on ', "
    "' is away on ') WHERE `kind` = 'absence'"
    for reason in ("sick", "leave", "training", "other")
)


def up(migrator, db):
    for statement in STATEMENTS:
        db.execute_sql(statement)
