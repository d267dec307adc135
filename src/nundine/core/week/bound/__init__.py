"""A proven bound: hours as a linear programme, seats packed into shifts at prices, jobs by themselves."""
