"""Returns of many gardens, in words."""

from racecard.core.model.turnout import Turnout


def turnout_says(t: Turnout) -> str:
    """How many gardens joined, began, and sent a result; what became of the others."""
    rest = t.missing - t.silent - t.withdrawn
    said = [f"{t.enrolled} gardens joined", f"{t.started} started", f"{t.returned} sent a result"]
    said += [f"{t.silent} sent none"] if t.silent else []
    said += [f"{t.withdrawn} withdrew"] if t.withdrawn else []
    said += [f"{rest} sent what cannot be compared"] if rest > 0 else []
    return f"{', '.join(said)}."


def returns_say(enrolled: int, compared: int, silent: int, withdrawn: int, refused: int) -> str:
    """How many gardens joined, sent a result and were compared; and what silence may do.

    Args:
        enrolled: gardens the form names.
        compared: gardens with a result of every treatment.
        silent: gardens that sent none.
        withdrawn: gardens that left.
        refused: rows that could not be taken.
    """
    said = [f"{compared} of {enrolled} gardens are compared"]
    said += [f"{silent} sent no result"] if silent else []
    said += [f"{withdrawn} withdrew"] if withdrawn else []
    said += [f"{refused} {'row was' if refused == 1 else 'rows were'} refused"] if refused else []
    text = f"{', '.join(said)}."
    if enrolled and 4 * (silent + withdrawn) > enrolled:
        text += (
            " More than a quarter are missing: if those whose plants failed are the ones that kept silent, "
            "the rates here are too high."
        )
    return text
