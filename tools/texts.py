"""List every text that a person can meet, by place, so that all can be read in one go.

`make texts` writes it to build/texts.md: the page, the server, the command line, the documentation.
"""

from __future__ import annotations

import ast
import json
import re
import subprocess
import sys
from collections.abc import Iterator
from itertools import groupby
from pathlib import Path
from typing import NamedTuple

ROOT = Path(__file__).parents[1]
_SENTENCE = re.compile(r"[A-Z“{].* .*[.!?…]$|^[A-Z{].* .*", re.DOTALL)


class Text(NamedTuple):
    """A text, and where it stands."""

    file: str
    line: int
    words: str


def of_page() -> Iterator[Text]:
    """Texts of templates, of declared controls and acts, and sentences in the code of the page."""
    made = subprocess.run(
        ["node", "checks/texts.mjs"],  # noqa: S607 (our own check)
        cwd=ROOT / "web",
        capture_output=True,
        text=True,
        check=True,
    )
    for row in map(json.loads, made.stdout.splitlines()):
        yield Text(f"web/{row['file']}", row["line"], row["text"])


def of_python(folder: str) -> Iterator[Text]:
    """Sentences in the code of a package, without its docstrings."""
    for path in sorted((ROOT / folder).rglob("*.py")):
        if "web" in path.relative_to(ROOT / "src" / "yarrowdew").parts:
            continue
        tree = ast.parse(path.read_text("utf-8"))
        docs = {id(node.value) for node in ast.walk(tree) if isinstance(node, ast.Expr)}
        inside = {
            id(part)
            for node in ast.walk(tree)
            if isinstance(node, ast.JoinedStr)
            for part in node.values
        }
        for node in ast.walk(tree):
            if id(node) in docs or id(node) in inside:
                continue
            words = _words(node)
            if words and _SENTENCE.search(words):
                line = getattr(node, "lineno", 0)
                yield Text(str(path.relative_to(ROOT)), line, " ".join(words.split()))


def _words(node: ast.AST) -> str:
    if isinstance(node, ast.Constant) and isinstance(node.value, str):
        return node.value
    if isinstance(node, ast.JoinedStr):
        return "".join(
            str(part.value) if isinstance(part, ast.Constant) else "{…}" for part in node.values
        )
    return ""


def of_docs() -> Iterator[Text]:
    """Every paragraph of what is written for people."""
    for path in [ROOT / "README.md", *sorted((ROOT / "docs").rglob("*.md"))]:
        for line, words in enumerate(path.read_text("utf-8").splitlines(), 1):
            if words.strip() and not words.startswith(("|", "```", "!")):
                yield Text(str(path.relative_to(ROOT)), line, words.strip())


def listed() -> dict[str, list[Text]]:
    """All texts by where a person meets them."""
    server = [*of_python("src/yarrowdew")]
    return {
        "The page": [*of_page()],
        "The command line": [one for one in server if "/cli/" in one.file],
        "The server": [one for one in server if "/cli/" not in one.file],
        "The documentation": [*of_docs()],
    }


def main() -> int:
    """Write the list."""
    lines = ["# Every text that a person can meet", ""]
    for place, texts in listed().items():
        lines += [f"## {place}: {len(texts):,} texts", ""]
        for file, several in groupby(texts, key=lambda one: one.file):
            lines += [f"### {file}", "", *(f"- {one.line}: {one.words}" for one in several), ""]
    (ROOT / "build").mkdir(exist_ok=True)
    (ROOT / "build" / "texts.md").write_text("\n".join(lines), encoding="utf-8")
    return 0


if __name__ == "__main__":
    sys.exit(main())
