"""What the guide and the README show runs as it stands, on the tables that `yarrowdew sample` writes."""

from __future__ import annotations

import re
import shlex
from pathlib import Path

import pytest

from yarrowdew import cli
from yarrowdew.demo.tables import demo_tables

ROOT = Path(__file__).parents[2]
PAGES = [*sorted((ROOT / "docs" / "guide").glob("*.md")), ROOT / "README.md"]


@pytest.fixture(scope="module")
def demo(tmp_path_factory: pytest.TempPathFactory) -> Path:
    folder = tmp_path_factory.mktemp("demo")
    assert run(f"sample {folder}") == 0
    return folder


def run(line: str) -> int:
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr("sys.argv", ["yarrowdew", *shlex.split(line)])
        with pytest.raises(SystemExit) as ended:
            cli.main()
    return int(ended.value.code or 0)


def commands() -> list[object]:
    found = []
    for page in PAGES:
        if page.name == "README.md" and page.parent == ROOT:
            continue
        for block in re.findall(r"```sh\n(.*?)```", page.read_text("utf-8"), re.DOTALL):
            lines = [line for line in block.splitlines() if line.startswith("yarrowdew ")]
            if lines:
                found.append(pytest.param(lines, id=f"{page.stem}-{len(found)}"))
    return found


@pytest.mark.parametrize("lines", commands())
def test_every_command_runs(
    lines: list[str],
    demo: Path,
    monkeypatch: pytest.MonkeyPatch,
    capsys: pytest.CaptureFixture[str],
) -> None:
    monkeypatch.chdir(demo)
    for line in lines:
        assert run(line.removeprefix("yarrowdew ")) == 0, line
    assert capsys.readouterr().err == ""


@pytest.mark.parametrize(
    "code",
    [
        pytest.param(block, id=f"{page.stem}-{k}")
        for page in PAGES
        for k, block in enumerate(
            re.findall(r"```python\n(.*?)```", page.read_text("utf-8"), re.DOTALL)
        )
    ],
)
def test_every_script_runs(
    code: str, demo: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    monkeypatch.chdir(demo)
    # The last line of the README opens the figure in a running app.
    exec(code.replace("figure.open()", ""), {})  # noqa: S102 (our own)
    assert capsys.readouterr().out.strip()


def test_numbers_that_the_guide_tells_are_those_of_the_demo(
    demo: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    monkeypatch.chdir(demo)
    run("fit nights.csv --x humidity --y yield --by valley")
    told = "Per 1 % more humidity, yield is 6.1 mL/m² higher on average (95 % interval 5.0 to 7.1)"
    assert told in capsys.readouterr().out.replace("\u00a0", " ")
    assert told in (ROOT / "docs/guide/01-two-minutes.md").read_text("utf-8")
    run(
        "fit coating-trial.csv --x dose --y 'droplets shed' --family s-curve --by coating "
        "--solve 50"
    )
    told = "silica reaches 50 % at 1.48 g/m² more than lotus film (95 % interval 1.30 to 1.66)"
    assert told in capsys.readouterr().out.replace("\u00a0", " ")
    assert told in (ROOT / "docs/guide/06-reading-off.md").read_text("utf-8")


def test_every_page_and_picture_that_is_named_is_there() -> None:
    for page in PAGES:
        for target in re.findall(r"\]\(([^)#]+)[^)]*\)", page.read_text("utf-8")):
            assert (page.parent / target).exists(), f"{page.name}: {target}"


def test_the_tables_of_the_guide_are_those_of_the_demo() -> None:
    assert [table.name for table in demo_tables()] == [
        "nights",
        "stations",
        "coating trial",
        "cistern",
    ]
