"""The table of trends in docs/statistics.md, written from what their families declare."""

from __future__ import annotations

from yarrowdew.core.trends import FAMILIES

BEGIN, END = "<!-- trends: begin -->", "<!-- trends: end -->"


def trends_table() -> str:
    """Write a row for each family; those with the same sources share one."""
    names: dict[tuple[str, str, str], list[str]] = {}
    for family in FAMILIES.values():
        entry = family.entry
        names.setdefault((entry.method, entry.intervals, entry.exactness), []).append(family.label)
    rows = [f"| {', '.join(labels)} | {' | '.join(texts)} |" for texts, labels in names.items()]
    head = ["| trend | fitted by | intervals | exact? |", "| --- | --- | --- | --- |"]
    return "\n".join([*head, *rows])


def with_tables(page: str) -> str:
    """Put the tables into the page."""
    before, rest = page.split(BEGIN)
    _, after = rest.split(END)
    return f"{before}{BEGIN}\n{trends_table()}\n{END}{after}"
