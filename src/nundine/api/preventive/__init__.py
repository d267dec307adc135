"""Preventive plans over HTTP."""
