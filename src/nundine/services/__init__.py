"""What users do, one transaction each: load, compute in the core, store, log, tell."""
