"""Files in and out: CSV, XLSX, iCalendar, PDF."""
