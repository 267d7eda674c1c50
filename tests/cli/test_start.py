"""What a command loads, it loads when it is run: nobody waits for what is not needed."""

from __future__ import annotations

import json
import subprocess
import sys
from importlib import import_module
from pathlib import Path

import pytest

from yarrowdew.cli.app import COMMANDS

WATCHED = (
    "numpy",
    "scipy",
    "scipy.stats",
    "polars",
    "pydantic",
    "sqlalchemy",
    "fastapi",
    "uvicorn",
    "yarrowdew.figures.datasets.view",
    "yarrowdew.figures.document.plate",
    "yarrowdew.tables.datasets",
)


def loaded(*arguments: object) -> set[str]:
    """Which of the heavy packages a run of the command line has loaded."""
    script = (
        "import json, sys\n"
        "from yarrowdew.cli import main\n"
        f"sys.argv = {['yarrowdew', *map(str, arguments)]!r}\n"
        "try:\n    main()\nexcept SystemExit as ended:\n    assert not ended.code\n"
        f"print('\\n' + json.dumps([name for name in {WATCHED!r} if name in sys.modules]))"
    )
    ran = subprocess.run(  # noqa: S603 (our own command)
        [sys.executable, "-c", script], capture_output=True, text=True, check=True
    )
    return set(json.loads(ran.stdout.splitlines()[-1]))


@pytest.mark.parametrize("arguments", [["--help"], []])
def test_what_there_is_is_said_without_loading_it(arguments: list[str]) -> None:
    assert loaded(*arguments) == set()


def test_fitting_loads_no_server_and_no_records(tmp_path: Path) -> None:
    file = tmp_path / "two.csv"
    file.write_text("a,b\n1,2\n3,4\n5,7\n")
    found = loaded("fit", file, "--x", "a", "--y", "b")
    assert {"numpy", "polars"} <= found
    assert found.isdisjoint({"fastapi", "uvicorn", "sqlalchemy", "scipy.stats"})


def test_drawing_a_file_loads_nothing_of_datasets_or_plates(tmp_path: Path) -> None:
    file = tmp_path / "two.csv"
    file.write_text("a,b\n1,2\n3,4\n5,7\n")
    out = tmp_path / "two.svg"
    assert loaded("draw", file, "--x", "a", "--y", "b", "--trend", "straight", "-o", out) == {
        "numpy",
        "scipy",
        "polars",
        "pydantic",
    }


def test_a_server_prints_its_address_before_it_loads_what_it_answers_with(tmp_path: Path) -> None:
    script = (
        "import json, sys, uvicorn\n"
        "from yarrowdew.cli import main\n"
        f"seen = lambda *_, **__: print(json.dumps([n for n in {WATCHED!r} if n in sys.modules]))\n"
        "uvicorn.Server.run = seen\n"
        f"sys.argv = ['yarrowdew', 'serve', '--port', '0', '--data', {str(tmp_path)!r}]\n"
        "main()"
    )
    ran = subprocess.run(  # noqa: S603 (our own command)
        [sys.executable, "-c", script], capture_output=True, text=True, check=True
    )
    assert json.loads(ran.stdout.splitlines()[-1]) == ["pydantic", "uvicorn"]


def test_a_folder_of_no_studies_is_said_in_one_line(tmp_path: Path) -> None:
    (tmp_path / "studies.sqlite").write_text("What is no database.")
    ran = subprocess.run(  # noqa: S603 (our own command)
        [sys.executable, "-m", "yarrowdew.cli", "serve", "--port", "0", "--data", str(tmp_path)],
        capture_output=True,
        text=True,
        check=False,
        timeout=60,
    )
    assert ran.returncode == 2
    assert ran.stderr.splitlines() == [
        "yarrowdew: The file that holds the studies is no database of this program. "
        "Choose another data folder with --data."
    ]


@pytest.mark.parametrize("arguments", [["describe"], ["pairs"]])
def test_saying_what_a_file_holds_loads_no_server(tmp_path: Path, arguments: list[str]) -> None:
    file = tmp_path / "two.csv"
    file.write_text("a,b\n1,2\n3,4\n5,7\n")
    assert loaded(*arguments, file).isdisjoint({"fastapi", "uvicorn", "sqlalchemy", "scipy.stats"})


@pytest.mark.parametrize("name", COMMANDS)
def test_a_command_says_the_same_in_the_list_and_by_itself(name: str) -> None:
    module, function, says, *_ = COMMANDS[name]
    loaded_module = import_module(f"yarrowdew.cli.{module}")
    assert getattr(loaded_module, function).__doc__.strip() == says
