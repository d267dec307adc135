"""Simulated outside services and devices, which ship with the product."""
