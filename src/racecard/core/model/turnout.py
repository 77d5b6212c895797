"""How many joined a trial of many gardens, and what became of them."""

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Turnout:
    """Gardens counted: those that joined, began, sent a result of every treatment, sent none, and left.

    A garden that joined and is in none of the last three sent something that could not be compared.
    """

    enrolled: int
    started: int
    returned: int
    silent: int
    withdrawn: int

    @property
    def missing(self) -> int:
        """Gardens that joined and are not compared."""
        return self.enrolled - self.returned
