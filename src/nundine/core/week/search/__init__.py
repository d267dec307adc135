"""The search: its plain reading, the compiled twin (`kernel/`), the exact model, second aims."""
