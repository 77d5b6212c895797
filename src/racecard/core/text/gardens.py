"""Returns of many gardens, in words."""


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
