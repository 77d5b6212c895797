"""Names as hands and devices write them."""

import unicodedata


def spelling(name: str) -> str:
    """A name for comparing: capitals, blanks and the way a device puts accents together aside."""
    return " ".join(unicodedata.normalize("NFKC", name).casefold().split())
