"""Preventive plans: kept, forecast, raised, and what became of them."""
