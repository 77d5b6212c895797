"""Numbers that run over several words, written as one, and lines with two meanings that are asked before anything is worked out."""

import re
from collections.abc import Callable

from racecard.core.prepare.vocabulary import PORTIONS, UNITS_OF_NUMBERS

_WHOLE = r"(?P<whole>\d+|" + "|".join(("an?", *UNITS_OF_NUMBERS)) + r")"
_PART = r"(?:(?P<of>a|one|two|three)[ -])?(?P<part>half|thirds?|quarters?)|(?P<over>\d+)/(?P<under>[1-9]\d*)"
_UNIT = r"(?:lit(?:re|er)s?|l|ml|millilit(?:re|er)s?|tsp|tbsp|teaspoons?|tablespoons?|pints?|gallons?|cups?|g|grams?|kg)"
_POWERS = str.maketrans("⁰¹²³⁴⁵⁶⁷⁸⁹⁻", "0123456789-")


def _sum(m: re.Match[str]) -> str:
    if m["part"]:
        part = PORTIONS[m["part"].lower()] * _count(m["of"] or "a")
    else:
        part = int(m["over"]) / int(m["under"])
    return f"{_count(m['whole']) + part:.10g}"


def _count(said: str) -> float:
    low = said.lower()
    return (
        1
        if low in ("a", "an")
        else UNITS_OF_NUMBERS[low]
        if low in UNITS_OF_NUMBERS
        else float(low)
    )


def _power(m: re.Match[str]) -> str:
    value = float(m["base"] or 1) * 10.0 ** int((m["power"] or m["raised"]).translate(_POWERS))
    return f"{value:.12f}".rstrip("0").rstrip(".")


_ONE: tuple[tuple[re.Pattern[str], Callable[[re.Match[str]], str]], ...] = (
    (re.compile(rf"\b{_WHOLE} (?P<unit>{_UNIT}) and (?:{_PART})(?= of\b)", re.I), lambda m: f"{_sum(m)} {m['unit']}"),
    (re.compile(rf"\b{_WHOLE} and (?:{_PART})(?= {_UNIT}\b)", re.I), _sum),
    (re.compile(r"(?:\b(?P<base>\d+(?:\.\d+)?) ?[x×*] ?)?\b10(?:\^(?P<power>-?\d)|(?P<raised>⁻?[⁰¹²³⁴⁵⁶⁷⁸⁹]))", re.I), _power),
    (re.compile(rf"(?<=\d)(?P<first> ?{_UNIT})/(?=\d+ ?{_UNIT}\b)", re.I), lambda m: f"{m['first']} per "),
)  # fmt: skip
"""Patterns and what stands in their place: a litre and a half, 1 and 3/4 litres, 1.5 x 10^3, 1 mL/100 mL."""


def in_one(text: str, origin: list[int]) -> tuple[str, list[int]]:
    """The line with every such number written as one.

    Args:
        text: the line in plain signs.
        origin: where each of its signs stood as it was typed.

    Returns:
        The line, and where each sign of it stood.
    """
    for pattern, written in _ONE:
        while (m := pattern.search(text)) is not None:
            put = written(m)
            put = (
                put if len(put) > 1 else f"{put}.0"
            )  # its first and its last sign tell where it stood
            text = text[: m.start()] + put + text[m.end() :]
            origin = (
                origin[: m.start()]
                + [origin[m.start()]] * (len(put) - 1)
                + [origin[m.end() - 1]]
                + origin[m.end() :]
            )
    return text, origin


_ASKS: tuple[tuple[re.Pattern[str], str], ...] = tuple(
    (re.compile(pattern, re.I), says)
    for pattern, says in (
        (r"\d+(?:\.\d+)?(?:/\d+(?:\.\d+)?){2,}", "“{0}” may be several numbers: write them with commas and “and”, or one line for each."),
        (r"\b(?:[5-9]|\d{2,})/\d+ ?(?:ml|l|g|mg|f|c|°f|°c|%|ppm)(?![\w/])", "Is “{0}” a fraction, or two numbers? Write which one is meant."),
        (r"\b\d+(?:\.\d+)?(?:, \d+(?:\.\d+)?)* and \d+(?:\.\d+)? ?m?l of", "“{0}” names several amounts: which one? Write one line for each."),
        (r"\bfrom \d+(?:\.\d+)? and \d+(?:\.\d+)? ?%", "“{0}” names two stocks: which one is used? Write 1 % or 2 %."),
        (r"\balcohol[- ]free\b", "Without alcohol the acid does not dissolve at such strengths: say K-IBA (the salt) in water, or leave “{0}” out."),
        (r"\b\d+ ?k?g of .*\b(?:liquid|solution)\b", "“{0}” weighs a liquid: say how many mL are wanted, or the stock in g by weight."),
        (r"\b\d+\+\d+ dilution of\b", "Work out the {0} first, as a line of its own; then take its strength as the stock."),
        (r"\b(?:triple|treble|quadruple) the \d+ ?\w+|\b\d+ x \d+(?:\.\d+)? ?(?:ppm|%)", "Does “{0}” raise the strength, or make several batches? Write the strength that is wanted, and how many batches each of how much."),
        (r"\b1:\d+,? then 1:\d+", "Is “{0}” 1 in so many or 1 to so many? Write 1 in 10 then 1 in 5, or 1+10 then 1+5."),
        (r"\bin (?:\d+|two|three|four) (?:lots|batches)\b", "Is the amount for all, or for each of them (“{0}”)? Write 2 lots of 200 mL."),
        (r"\b3\d ?% w/w", "“{0}” is by weight; it weighs about 1.13 kg a litre. Write the stock as % w/v: 35 % w/w is 39.5 % w/v."),
    )
)  # fmt: skip


def asked_first(text: str) -> tuple[str, tuple[int, int]] | None:
    """What has to be asked of a line with two meanings, and which part of it; None where there is none."""
    for pattern, says in _ASKS:
        if m := pattern.search(text):
            return says.format(m[0]), m.span()
    return None
