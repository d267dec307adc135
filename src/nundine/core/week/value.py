"""What a job is worth before it has a place, from the site's weights (formula in docs/engine.md, "Value")."""

from __future__ import annotations

from nundine.core.week.problem import Job, Weights

LEAST_HOURS = 0.25
"""Work hours by which a job's points are divided at least, so that tiny jobs do not outrank all others."""


def rate(job: Job, weights: Weights) -> float:
    """Points for each work hour, what a whole must-job gets once aside."""
    return job.priority + (weights.must_per_hour if job.must else 0.0)


def points(job: Job, weights: Weights) -> float:
    """Points of the whole job, in time and without overtime."""
    hours = sum(t.hours * t.people for t in job.tasks)
    return rate(job, weights) * hours + (weights.must_per_job if job.must else 0.0)


def points_per_hour(job: Job, weights: Weights) -> float:
    """Most points for each work hour: who goes first where not all can."""
    return points(job, weights) / max(LEAST_HOURS, sum(t.hours * t.people for t in job.tasks))
