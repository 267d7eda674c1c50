"""What docs/api.md shows works as it stands."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

from tests.web.running import running

PAGE = Path(__file__).parents[2] / "docs" / "api.md"


def test_the_script_of_the_page_makes_a_figure_and_prints_its_readings(
    tmp_path: Path, capsys: pytest.CaptureFixture
) -> None:
    (script,) = re.findall(r"```python\n(.*?)```", PAGE.read_text(), re.DOTALL)
    with running(tmp_path) as server:
        exec(script.replace("http://127.0.0.1:8420", server.address), {})  # noqa: S102 (our own)
    said = capsys.readouterr().out
    # By hand: means 3 and 29.4, slope 97/10, so that 50 is reached at 3 + 20.6/9.7.
    assert said.startswith("y = 0.30 + 9.70 x") or said.startswith("y = 0.300 + 9.70 x")
    assert float(said.split()[-1]) == pytest.approx(3 + 20.6 / 9.7)


def test_every_address_of_the_page_is_there(schema: dict) -> None:
    paths = schema["paths"]
    known = {
        (method.upper(), re.sub(r"\{\w+\}", "{}", path))
        for path, methods in paths.items()
        for method in methods
    }
    named = re.findall(r"`(POST|GET|PUT|DELETE) (/api/[^`?]+)", PAGE.read_text())
    assert len(named) == PAGE.read_text().count("/api/") - 2  # two are about the API itself
    for method, address in named:
        assert (method, re.sub(r"\{\w+\}", "{}", address)) in known
