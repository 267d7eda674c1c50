"""The tables of docs/statistics.md, written from what stands beside the code."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from yarrowdew.core.register import Chapter, methods_of
from yarrowdew.core.trends import FAMILIES
from yarrowdew.figures import kinds

_LOADED = (kinds,)
"""Each module declares what it finds where it is loaded."""

_HEADS: dict[Chapter, tuple[str, str, str]] = {
    "groups of lines": ("number", "by", "exact?"),
    "distributions": ("number", "by", "exact?"),
    "pairs": ("number", "by", "exact?"),
    "cautions": ("caution", "found by", "how often on clean data"),
}


def trends_table() -> str:
    """Write a row for each family; those with the same sources share one."""
    names: dict[tuple[str, str, str], list[str]] = {}
    for family in FAMILIES.values():
        entry = family.entry
        names.setdefault((entry.method, entry.intervals, entry.exactness), []).append(family.label)
    rows = [(", ".join(labels), *texts) for texts, labels in names.items()]
    return _table(("trend", "fitted by", "intervals", "exact?"), rows)


def chapter_table(chapter: Chapter) -> str:
    """Write a row for each number, test or caution of a chapter."""
    rows = [(one.of, one.by, one.exactness) for one in methods_of(chapter)]
    return _table(_HEADS[chapter], rows)


def _table(head: tuple[str, ...], rows: Sequence[tuple[str, ...]]) -> str:
    lines = [head, ("---",) * len(head), *rows]
    return "\n".join(f"| {' | '.join(cells)} |" for cells in lines)


def with_tables(page: str) -> str:
    """Put the tables into the page, each between its two marks."""
    tables: dict[str, Callable[[], str]] = {"trends": trends_table}
    for chapter in _HEADS:
        tables[chapter] = lambda chapter=chapter: chapter_table(chapter)  # type: ignore[misc]
    for name, write in tables.items():
        begin, end = f"<!-- {name}: begin -->", f"<!-- {name}: end -->"
        before, rest = page.split(begin)
        _, after = rest.split(end)
        page = f"{before}{begin}\n{write()}\n{end}{after}"
    return page
