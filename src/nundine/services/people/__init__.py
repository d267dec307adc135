"""People: names, hours, skills, and who covers their work."""
