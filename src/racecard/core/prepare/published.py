"""Two published sets of days to emergence, which must never be merged.

HEAT_SUMS: base temperature °C and heat sum °C·d, Bierhuizen and Wagenvoort (1974), Sci. Hortic.
2:213-219; valid from about Tb + 2 to 25 °C. DAYS: Harrington and Minges (1954), days at a constant
soil temperature, seed 1.3 cm deep. Both recalled from memory.
"""

HEAT_SUMS = {
    "leek": (1.7, 222), "onion": (1.4, 219), "lettuce": (3.5, 71), "endive": (2.2, 93), "chicory": (5.3, 85),
    "scorzonera": (2.0, 90), "spinach": (0.1, 111), "beet": (2.1, 119), "carrot": (1.3, 170), "celery": (4.6, 237),
    "parsley": (0.0, 268), "cabbage": (1.0, 106), "red cabbage": (1.3, 104), "savoy": (1.9, 95), "cauliflower": (1.3, 112),
    "Brussels sprouts": (1.1, 108), "kale": (1.2, 103), "turnip": (1.4, 97), "radish": (1.2, 75), "cress": (1.0, 64),
    "broad bean": (0.4, 148), "pea": (3.2, 86), "snap bean": (7.7, 130), "cucumber": (12.1, 108), "melon": (12.2, 108),
    "tomato": (8.7, 88), "aubergine": (12.1, 93), "purslane": (11.0, 48), "corn salad": (0.0, 161),
}  # fmt: skip
AT_CELSIUS = (0, 5, 10, 15, 20, 25, 30, 35, 40)
NEVER = 0.0
"""Published as "none came up"; None stands where nothing is published."""
DAYS: dict[str, tuple[float | None, ...]] = {
    "asparagus": (NEVER, NEVER, 52.8, 24.0, 14.6, 10.3, 11.5, 19.3, 28.4),
    "lima bean": (None, None, NEVER, 30.5, 17.6, 6.5, 6.7, NEVER, None),
    "snap bean": (NEVER, NEVER, NEVER, 16.1, 11.4, 8.1, 6.4, 6.2, NEVER),
    "beet": (None, 42.0, 16.7, 9.7, 6.2, 5.0, 4.5, 4.6, None),
    "cabbage": (None, None, 14.6, 8.7, 5.8, 4.5, 3.5, None, None),
    "carrot": (NEVER, 50.6, 17.3, 10.1, 6.9, 6.2, 6.0, 8.6, NEVER),
    "cauliflower": (None, None, 19.5, 9.9, 6.2, 5.2, 4.7, None, None),
    "celery": (NEVER, 41.0, 16.0, 12.0, 7.0, NEVER, NEVER, NEVER, None),
    "sweet corn": (NEVER, NEVER, 21.6, 12.4, 6.9, 4.0, 3.7, 3.4, NEVER),
    "cucumber": (NEVER, NEVER, NEVER, 13.0, 6.2, 4.0, 3.1, 3.0, None),
    "aubergine": (None, None, None, None, 13.1, 8.1, 5.3, None, None),
    "lettuce": (49.0, 14.9, 7.0, 3.9, 2.6, 2.2, 2.6, NEVER, NEVER),
    "melon": (None, None, None, None, 8.4, 4.0, 3.1, None, None),
    "okra": (NEVER, NEVER, NEVER, 27.2, 17.4, 12.5, 6.8, 6.4, 6.7),
    "onion": (135.8, 30.6, 13.4, 7.1, 4.6, 3.6, 3.9, 12.5, NEVER),
    "parsley": (None, None, 29.0, 17.0, 14.0, 13.0, 12.3, None, None),
    "parsnip": (171.7, 56.7, 26.6, 19.3, 13.6, 14.9, 31.6, NEVER, NEVER),
    "pea": (None, 36.0, 13.5, 9.4, 7.5, 6.2, 5.9, None, None),
    "pepper": (NEVER, NEVER, NEVER, 25.0, 12.5, 8.4, 7.6, 8.8, NEVER),
    "radish": (NEVER, 29.0, 11.2, 6.3, 4.2, 3.5, 3.0, None, None),
    "spinach": (62.6, 22.5, 11.7, 6.9, 5.7, 5.1, 6.4, NEVER, NEVER),
    "tomato": (NEVER, NEVER, 42.9, 13.6, 8.2, 5.9, 5.9, 9.2, NEVER),
    "turnip": (NEVER, NEVER, 5.2, 3.0, 1.9, 1.4, 1.1, 1.2, 2.5),
    "watermelon": (None, NEVER, None, None, 11.8, 4.7, 3.5, 3.0, None),
}
