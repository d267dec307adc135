"""Parts: how many there are where, and what they are worth."""
