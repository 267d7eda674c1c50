"""From the headers of a file to names, labels and units."""

from __future__ import annotations

import re

_BRACKETED = re.compile(r"^(?P<name>.*\S)\s*(?:\((?P<round>[^()]*)\)|\[(?P<square>[^\[\]]*)\])$")
_AFTER_MARK = re.compile(r"^(?P<name>.*?\S)\s*(?:,\s*|\s/\s*|(?<=\w)/(?=\w))(?P<unit>\S.*)$")

_SYMBOLS = (
    "m|g|s|A|K|mol|cd|L|l|h|min|d|yr|a|t|Pa|bar|atm|J|W|N|V|F|C|Hz|T|Wb|S|lm|lx|Bq|Gy|Sv|eV|Ω|ohm|"
    "cal|ha|ppm|ppb|rad|sr|dB|M|rpm|oktas?|days?|weeks?|months?|years?|hours?|minutes?|seconds?|"
    "night|rows?|count|USD|EUR|GBP|CHF|JPY"
)
_PREFIXES = "da|[YZEPTGMkhdcmµμunpf]"
_ATOM = rf"(?:(?:{_PREFIXES})?(?:{_SYMBOLS})(?:\^?[−-]?\d|[²³¹⁻]+)?|°[CF]?|%|‰|[$€£¥]|1)"
_UNIT = re.compile(rf"^{_ATOM}(?:\s*(?:[·*/ ]|\sper\s)\s*{_ATOM})*$")


def looks_like_a_unit(text: str) -> bool:
    """Whether a text can be read as units of measurement, alone or multiplied and divided."""
    return bool(_UNIT.match(text.strip()))


def split_header(header: str) -> tuple[str, str]:
    """Split a header into name and unit; the unit is empty where none is given.

    A unit stands in brackets at the end, or after a comma or slash. In brackets anything short
    that is not a number is taken; after a mark only what looks like a unit.
    """
    header = " ".join(header.split())
    bracketed = _BRACKETED.match(header)
    if bracketed:
        unit = (bracketed["round"] or bracketed["square"] or "").strip()
        if unit and (looks_like_a_unit(unit) or len(unit) <= 12) and not unit.isdigit():
            return bracketed["name"], unit
        return header, ""
    marked = _AFTER_MARK.match(header)
    if marked and looks_like_a_unit(marked["unit"]):
        return marked["name"], marked["unit"].strip()
    return header, ""


_TRAILING = re.compile(r"^(?P<name>.+?)_(?P<unit>[A-Za-z]+)$")
_TRAILING_UNITS = {
    unit: unit
    for unit in "mm cm dm km nm mg kg ng mL dL ms min kPa hPa kW mV kV Hz kHz MHz ppm ppb ha".split()
} | {
    "um": "µm", "ug": "µg", "ml": "mL", "dl": "dL", "ul": "µL", "uL": "µL", "pct": "%",
    "percent": "%", "hr": "h", "hrs": "h", "sec": "s", "secs": "s", "mins": "min", "kpa": "kPa",
    "hpa": "hPa", "kw": "kW", "mv": "mV", "kv": "kV", "hz": "Hz", "khz": "kHz", "degC": "°C",
    "degc": "°C", "degF": "°F", "deg": "°", "celsius": "°C", "usd": "USD", "eur": "EUR",
}  # fmt: skip
_OF_LETTERS = (
    (re.compile(r"(?:length|height|depth|width|altitude|elevation|distance|dist|range|radius)$", re.I), {"m": "m"}),
    (re.compile(r"(?:mass|weight|wt|biomass)$", re.I), {"g": "g"}),
    (re.compile(r"(?:time|duration|delay|elapsed|age|period)$", re.I), {"s": "s", "h": "h", "d": "d"}),
    (re.compile(r"(?:temp|temperature)$", re.I), {"c": "°C", "f": "°F", "k": "K"}),
    (re.compile(r"(?:volume|vol)$", re.I), {"l": "L"}),
)  # fmt: skip
"""Single letters are units only after what is measured in them."""


def trailing_unit(name: str) -> tuple[str, str] | None:
    """Split `length_mm` into what is measured and its unit; None where no unit stands at the end."""
    found = _TRAILING.match(name)
    if found is None:
        return None
    stem, last = found["name"], found["unit"]
    unit = _TRAILING_UNITS.get(last)
    if unit is None:
        unit = next(
            (
                units[last.lower()]
                for of, units in _OF_LETTERS
                if of.search(stem) and last.lower() in units
            ),
            None,
        )
    return None if unit is None else (stem, unit)


LONGEST_NAME = 200
LONGEST_LABEL = 500


def label_of(name: str) -> str:
    """Make the label that a name starts with: its first letter raised, if it is a plain word."""
    label = name.replace("_", " ")[:LONGEST_LABEL]
    word = label.split(" ", 1)[0]
    return label[0].upper() + label[1:] if len(word) > 1 and word.islower() else label


def distinct_names(names: list[str]) -> list[str]:
    """Give every column a name of its own that can stand in a document and in an address.

    Empty ones are named by their place, repeated ones numbered, and very long ones cut.
    """
    shorter = [
        _shortened(given) if given not in ("", ".", "..") else f"column {place}"
        for place, given in enumerate(names, 1)
    ]
    wanted = set(shorter)
    taken: set[str] = set()
    last: dict[str, int] = {}
    out = []
    for stem in shorter:
        name, again = stem, last.get(stem, 1)
        while name in taken or (again > 1 and name in wanted):
            again += 1
            name = f"{stem[: LONGEST_NAME - 8]} {again}"
        taken.add(name)
        last[stem] = again
        out.append(name)
    return out


def _shortened(name: str) -> str:
    return name if len(name) <= LONGEST_NAME else f"{name[: LONGEST_NAME - 1]}…"
