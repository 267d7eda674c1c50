"""The command that draws: files, standard output, saved figures, and what it says when it cannot."""

from __future__ import annotations

import io
import json
import shlex
from pathlib import Path

import pytest

from tests.cli.test_cli import run
from tests.drawing.test_making import dew
from yarrowdew.drawing.calls import command_of
from yarrowdew.drawing.images import Pictured, image_of
from yarrowdew.figures.answer import answer
from yarrowdew.figures.document.axes import Axes
from yarrowdew.figures.document.looks import SavedLook
from yarrowdew.figures.document.marks import Marks
from yarrowdew.figures.document.words import Page, Type
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.store import Store
from yarrowdew.tables.reading import read_file
from yarrowdew.tables.table import Table
from yarrowdew.tables.writing import write_table


@pytest.fixture
def trial(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    monkeypatch.chdir(tmp_path)
    monkeypatch.setenv("YARROWDEW_DATA", str(tmp_path / "studies"))
    file = tmp_path / "trial.csv"
    dew().frame.write_csv(file)
    return file


def test_a_figure_with_everything(trial: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    words = (
        "--x dose --y shed --colour coating --trend straight --by coating --level 0.9 "
        "--on-figure equation,r_squared --title Shed --width 120 --height 90 --where"
    )
    assert run(monkeypatch, "draw", trial, *words.split(), "dose > 1", "-o", "out.svg") == 0
    svg = Path("out.svg").read_text()
    assert ">Shed</text>" in svg
    assert svg.count("<use") >= 9
    assert 'width="340.16pt"' in svg


def test_to_standard_output(
    trial: Path, monkeypatch: pytest.MonkeyPatch, capfdbinary: pytest.CaptureFixture[bytes]
) -> None:
    asked = ("draw", trial, "--matrix", "dose,shed", "-o", "-")
    assert run(monkeypatch, *asked, "--format", "svg") == 0
    assert capfdbinary.readouterr().out.startswith(b"<?xml")
    assert run(monkeypatch, *asked) == 2
    assert b"has no ending" in capfdbinary.readouterr().err


def test_a_saved_figure_on_new_data(
    trial: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    asked = ("--x", "dose", "--y", "shed", "--colour", "coating", "-o")
    assert run(monkeypatch, "draw", trial, *asked, "figure.json") == 0
    assert run(monkeypatch, "draw", trial, *asked, "plain.svg") == 0
    assert run(monkeypatch, "draw", trial, "--document", "figure.json", "-o", "saved.svg") == 0
    assert Path("plain.svg").read_bytes() == Path("saved.svg").read_bytes()
    dew().frame.drop("coating").write_csv("other.csv")
    assert run(monkeypatch, "draw", "other.csv", "--document", "figure.json", "-o", "o.svg") == 2
    assert "other has no 'coating'" in capsys.readouterr().err
    assert not Path("o.svg").exists()


def test_a_look_is_found_where_it_is_kept(
    trial: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    def looks(hollow: bool) -> SavedLook:
        return SavedLook(
            name="journal", marks=Marks(hollow=hollow), axes=Axes(), type=Type(), page=Page()
        )

    def drawn() -> int:
        asked = "--x dose --y shed --look journal -o out.json".split()
        return run(monkeypatch, "draw", trial, *asked)

    assert drawn() == 2
    assert "No look is saved as 'journal'. Name a figure" in capsys.readouterr().err
    assert not Path("studies").exists()
    Path("studies").mkdir()
    store = Store(Path("studies"))
    first, second = (store.studies.create(name).id for name in ("Nights", "Nets"))
    for study in (first, second):
        store.studies.save_look(study, looks(hollow=True))
    assert drawn() == 0
    assert json.loads(Path("out.json").read_text())["marks"]["hollow"] is True
    store.studies.save_look(second, looks(hollow=False))
    assert drawn() == 2
    said = capsys.readouterr().err
    assert "Several looks are called 'journal', in 'Nets', 'Nights'." in said
    store.close()


@pytest.mark.parametrize(
    ("asked", "said"),
    [
        ("--x dose --y nothing -o a.svg", "no variable 'nothing'"),
        ("--x dose --y shed -o a.gif", "does not say in which format"),
        ("--x dose --y shed --venue moon -o a.svg", "'venue': Input should be 'screen', 'slide'"),
        ("--x dose --y shed --look mine -o a.svg", "No look is saved as 'mine'"),
        ("--x dose --y shed --trend wavy -o a.svg", "cannot be made"),
        ("--x dose --y shed --dpi 5 -o a.png", "is not offered"),
        ("--document none.json -o a.svg", "cannot be read"),
        ("--document trial.csv -o a.svg", "is not JSON"),
        ("--document figure.json --title T -o a.svg", "Leave --title out"),
        ("-o a.svg", "needs an x variable"),
    ],
)
def test_what_cannot_be_drawn_is_said(
    trial: Path,
    monkeypatch: pytest.MonkeyPatch,
    capsys: pytest.CaptureFixture[str],
    asked: str,
    said: str,
) -> None:
    Path("figure.json").write_text("{}")
    assert run(monkeypatch, "draw", trial, *asked.split()) == 2
    told = capsys.readouterr().err
    assert said in told
    assert "Traceback" not in told


def test_what_the_page_prints_draws_the_same_bytes(
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
    demo_figures: list[tuple[FigureDocument, Table]],
) -> None:
    monkeypatch.chdir(tmp_path)
    for document, table in demo_figures:
        file = Path(f"{table.name}.csv")
        file.write_bytes(write_table(table, "csv"))
        command, _, given = command_of(document, table, str(file)).partition(" <<'END'\n")
        monkeypatch.setattr("sys.stdin", io.StringIO(given.removesuffix("\nEND")))
        assert run(monkeypatch, *shlex.split(command)[1:]) == 0
        read = read_file(file).table
        drawn = image_of([Pictured(document, answer(document, read), read)], "svg")
        assert Path("figure.svg").read_bytes() == drawn
        if given:
            assert json.loads(given.removesuffix("\nEND"))["x"] == document.x
