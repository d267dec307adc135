"""The nouns of each room, in the order in which they may be made."""
