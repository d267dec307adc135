"""Rows into the core's objects: one reader an aggregate, nothing but reading."""
