"""Random numbers of our own: splitmix64 (Steele, Lea, Flood 2014), so that the compiled search rolls the
same."""

from __future__ import annotations

WORD = (1 << 64) - 1


class Dice:
    """A stream of 64-bit numbers from a seed."""

    def __init__(self, seed: int) -> None:
        self.state = seed & WORD

    def roll(self) -> int:
        self.state = (self.state + 0x9E3779B97F4A7C15) & WORD
        z = self.state
        z = ((z ^ (z >> 30)) * 0xBF58476D1CE4E5B9) & WORD
        z = ((z ^ (z >> 27)) * 0x94D049BB133111EB) & WORD
        return z ^ (z >> 31)

    def unit(self) -> float:
        """At least 0 and less than 1, in steps of 2**-53."""
        return (self.roll() >> 11) * (1.0 / 9007199254740992.0)

    def below(self, n: int) -> int:
        return self.roll() % n
