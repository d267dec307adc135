"""Records in files: brought in all or nothing, taken out, and exports of other systems."""
