"""Recurring work: when it falls due, what a higher service takes in, what comes next after one was done."""
