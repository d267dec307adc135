"""Understanding exports of other systems: any columns, encodings, dates and hours, through a mapping that
people see and keep."""
