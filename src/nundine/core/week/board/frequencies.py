"""How often the search does what: the plain one and the compiled one take these from here."""

MOST_VICTIMS, DISPLACE, ANY, WANT, LATER, NOISE, HASTEN = 9, 0.45, 0.1, 0.85, 0.15, 0.3, 0.2
BESIDE, BESIDE_SHARE, AFTER, AFTER_SHARE = 3, 0.12, 4, 0.15
"""How many waiting jobs are tried beside those taken out, and after a displacement, each with what chance:
most find no place, and cost time."""
FAR = 1e30
OF_PEOPLE, MOST_PEOPLE, PEOPLE_TRIES, SAME_TIME = 0.5, 3, 8, 32
"""How often a ruin takes the work of a few people, of how many at most, and how near in slots their work
is to the first one's."""
TRIES = 24
"""Starts at which seats are tried before a fit gives up."""
FLUSH, SNUG, AROUND = 0.2, 0.7, 40
"""How often a portion goes where it fills a free stretch, how often to the people of whose free stretch it
leaves least; slots from which on more is no matter."""
STARTS, STARTS_OF_STRETCH, MOST_LATER = 4, 2, 7
"""Where loose ends cost something: starts at which a job is tried before the best of them counts, in one
of its asset's stretches, and tasks to come up to which it counts that a person can do more of them."""
TIDY = 0.15
"""How often a job with loose ends is placed anew, where they cost something."""
