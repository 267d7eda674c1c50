"""Readings and cautions in plain words: short, and never more certain than the numbers."""

from __future__ import annotations

import re
from collections.abc import Sequence

from yarrowdew.core.equation import number_text
from yarrowdew.tables.table import Variable

GAP = "\u00a0"
"""Before a unit: in the figure's font a fifth of an em, and never broken."""
MINUS = "−"
_RAISED = re.compile(r"\^\{([^}]*)\}")
_SUPERSCRIPTS = str.maketrans("−0123456789", "⁻⁰¹²³⁴⁵⁶⁷⁸⁹")
_MOST_DECIMALS = 8
NOTHING = 1e-9
"""Of the larger end of an interval: an end that is smaller is zero but for rounding."""


def in_sentence(variable: Variable) -> str:
    """Name a variable inside a sentence: its label, without the capital that it starts with."""
    label = variable.label
    first = label.split(" ", 1)[0].split("-", 1)[0]
    plain = len(first) > 1 and first[0].isupper() and first[1:].islower()
    return label[0].lower() + label[1:] if plain else label


_SAYS_HOW = frozenset(
    "mean median sum total count number share rate ratio least most minimum maximum min max "
    "log ln change difference square rank standardised the a an of".split()
)
"""Words that say how something was measured, and not what."""


def _alike(parts: Sequence[Sequence[str]]) -> int:
    """How many words all begin with, leaving each at least one of its own."""
    fewest = min(len(words) for words in parts) - 1
    count = 0
    while count < fewest and len({words[count] for words in parts}) == 1:
        count += 1
    return count


def _split(labels: Sequence[str]) -> tuple[str, list[str]]:
    """Part labels into the words that all begin or all end with, and what is each one's own."""
    parts = [label.split() for label in labels]
    if len(set(labels)) < max(2, len(labels)) or not all(parts):
        return "", list(labels)
    if ahead := _alike(parts):
        stem, rest = parts[0][:ahead], [words[ahead:] for words in parts]
    elif behind := _alike([words[::-1] for words in parts]):
        stem, rest = parts[0][-behind:], [words[:-behind] for words in parts]
    else:
        return "", list(labels)
    if all(word.lower() in _SAYS_HOW for word in stem):
        return "", list(labels)
    said = " ".join(stem)
    return said[0].upper() + said[1:], [" ".join(words) for words in rest]


def stem_of(labels: Sequence[str]) -> str:
    """What labels have in common, as a label: "Mortality" of "Mortality vole", "Mortality
    shrew".
    """
    return _split(labels)[0]


def rest_of(labels: Sequence[str]) -> list[str]:
    """What labels have of their own beside their stem."""
    return _split(labels)[1]


def joined(words: Sequence[str]) -> str:
    """Join words as a sentence does: with commas, and "and" before the last."""
    if len(words) < 2:
        return "".join(words)
    return f"{', '.join(words[:-1])} and {words[-1]}"


def with_unit(text: str, unit: str) -> str:
    """Put a unit after a number, behind a thin space."""
    return f"{text}{GAP}{unit}" if unit else text


def raised(text: str) -> str:
    """Write powers by raised digits, as they are read where nothing is marked up."""
    return _RAISED.sub(lambda found: found[1].translate(_SUPERSCRIPTS), text)


def number(value: float, decimals: int) -> str:
    """Write a number with so many decimals and a true minus sign; never minus zero."""
    if abs(value) >= 1e6 or (value and abs(value) < 1e-4):
        return raised(number_text(value, 3))
    text = f"{value:.{decimals}f}"
    if not text.strip("-0."):
        text = text.lstrip("-")
    return text.replace("-", MINUS)


def statistic(value: float) -> str:
    """Write the value of a test, with two decimals; one near zero as 0.00."""
    return number(value, 2) if value >= 1e-4 else "0.00"


def ends(low: float, high: float, decimals: int) -> str:
    """Write both ends of an interval alike; an end that is not zero is not rounded onto it."""
    largest = max(abs(low), abs(high))
    if largest >= 1e6 or 0 < largest < 1e-4:
        return f"{number(low, decimals)} to {number(high, decimals)}"
    # What rounding leaves of zero is zero.
    low, high = (0.0 if abs(end) < NOTHING * largest else end for end in (low, high))
    told = [end for end in (low, high) if end]
    while decimals < _MOST_DECIMALS and any(round(end, decimals) == 0 for end in told):
        decimals += 1
    written = (f"{end:.{decimals}f}".replace("-", MINUS) for end in (low, high))
    return " to ".join(written)


TELLING = 0.05
"""Below it a p value is said to tell of more than chance."""


def p_text(p: float) -> str:
    """Write a p value; a very small one as below a bound, never as zero.

    Never rounded onto 0.05, by which it is judged.
    """
    if p < 0.0001:
        return "p < 0.0001"
    decimals = 4 if p < 0.01 else 3 if p < 0.1 else 2
    while decimals < 8 and p != TELLING and round(p, decimals) == TELLING:
        decimals += 1
    return f"p = {p:.{decimals}f}"


def count_of(n: int, what: str) -> str:
    """Write a count with its noun in the right number."""
    return f"{n:,} {what}" if n == 1 else f"{n:,} {what}s"


def percent(share: float) -> str:
    """Write a share in percent; near an end with a decimal, and never rounded onto it."""
    value = 100 * share
    if 0 < value < 1 or 99 < value < 100:
        value = min(max(value, 0.1), 99.9)
        return f"{value:.1f}{GAP}%"
    return f"{value:.0f}{GAP}%"
