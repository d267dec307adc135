"""Nundine: builds, explains and publishes the weekly maintenance crew schedule."""

__version__ = "0.1.0"
