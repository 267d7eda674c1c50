"""Datasets on the command line, against the same rows as one file."""

from __future__ import annotations

import io
import json
from contextlib import redirect_stderr, redirect_stdout
from pathlib import Path
from typing import Any, NamedTuple
from unittest import mock

import polars as pl
import pytest

from yarrowdew import cli
from yarrowdew.demo.tables import drift
from yarrowdew.store import Store


@pytest.fixture(scope="module")
def both(tmp_path_factory: pytest.TempPathFactory) -> tuple[Path, Path]:
    """A table as one file, and cut into a folder."""
    folder = tmp_path_factory.mktemp("drift")
    frame = drift(6_000).frame.with_columns(pl.col("valley").cast(pl.String))
    frame = frame.with_columns(
        pl.when(pl.int_range(6_000) % 97 == 0)
        .then(None)
        .otherwise(pl.col("uptake"))
        .alias("uptake")
    )
    whole = folder / "whole.parquet"
    frame.write_parquet(whole)
    parts = folder / "parts"
    parts.mkdir()
    for place, (first, rows) in enumerate([(0, 1_000), (1_000, 4_500), (5_500, 500)]):
        frame.slice(first, rows).write_parquet(parts / f"{place}.parquet", row_group_size=700)
    return whole, parts


class Ran(NamedTuple):
    exit_code: int
    stdout: str
    stderr: str


def run(*arguments: object) -> Ran:
    out, err = io.StringIO(), io.StringIO()
    argv = mock.patch("sys.argv", ["yarrowdew", *map(str, arguments)])
    with argv, redirect_stdout(out), redirect_stderr(err), pytest.raises(SystemExit) as ended:
        cli.main()
    return Ran(int(ended.value.code or 0), out.getvalue(), err.getvalue())


def said(*arguments: object) -> Any:
    found = run(*arguments, "--json")
    assert found.exit_code == 0, found.stderr
    return json.loads(found.stdout)


def near(found: Any, wanted: Any, without: set[str]) -> None:
    """The same, but for what rounding leaves; numbers to ten digits."""
    if isinstance(wanted, dict):
        assert found.keys() == wanted.keys()
        for key in wanted.keys() - without:
            near(found[key], wanted[key], without)
    elif isinstance(wanted, list):
        assert len(found) == len(wanted)
        for one, other in zip(found, wanted, strict=True):
            near(one, other, without)
    elif isinstance(wanted, float):
        assert found == pytest.approx(wanted, rel=1e-10, abs=1e-12)
    else:
        assert found == wanted


@pytest.mark.parametrize(
    "more",
    [
        ["--at", "80", "--solve", "20"],
        ["--by", "valley"],
        ["--family", "polynomial", "--degree", "4", "--at", "75"],
        ["--family", "reduced-major-axis"],
        ["--family", "logarithmic", "--band", "whole-line", "--at", "75"],
        ["--intercept", "-50"],
    ],
)
def test_a_fit_is_that_of_one_file(both: tuple[Path, Path], more: list[str]) -> None:
    whole, parts = both
    asked = ["--x", "humidity", "--y", "uptake", *more]
    # Rows are not looked at again one by one: no error of rows left out.
    near(said("fit", parts, *asked), said("fit", whole, *asked), {"left_out_error"})


def test_pairs_are_those_of_one_file(both: tuple[Path, Path]) -> None:
    near(said("pairs", both[1]), said("pairs", both[0]), set())


def test_a_description_is_that_of_one_file(both: tuple[Path, Path]) -> None:
    found, wanted = said("describe", both[1]), said("describe", both[0])
    quartiles = {"lower_quartile", "median", "upper_quartile"}
    near(found, wanted, quartiles | {"distinct"})
    for one, other in zip(found["variables"], wanted["variables"], strict=True):
        for name in quartiles:
            if other[name] is not None:
                # A two-thousandth of the distance from a value that lies among the others.
                room = (other["max"] - other["min"]) / 2_000
                assert one[name] == pytest.approx(other[name], abs=room)


def test_dates_count_from_the_first_one_of_all_files(tmp_path: Path) -> None:
    days = pl.date_range(pl.date(2031, 4, 1), pl.date(2031, 7, 9), eager=True)
    frame = pl.DataFrame({"night": days, "dew": [0.1 * i + (i % 3) for i in range(len(days))]})
    frame.write_parquet(tmp_path / "whole.parquet")
    (tmp_path / "parts").mkdir()
    # The earliest rows stand in the last file.
    frame.slice(40).write_parquet(tmp_path / "parts" / "0.parquet")
    frame.slice(0, 40).write_parquet(tmp_path / "parts" / "1.parquet")
    asked = ["--x", "night", "--y", "dew", "--at", "2031-05-01"]
    near(
        said("fit", tmp_path / "parts", *asked),
        said("fit", tmp_path / "whole.parquet", *asked),
        {"left_out_error"},
    )


@pytest.mark.parametrize("more", [["--at", "3,80"], ["--by", "valley", "--degree", "2"]])
def test_a_plane_is_that_of_one_file(both: tuple[Path, Path], more: list[str]) -> None:
    asked = ["--x", "hour", "--y", "humidity", "--z", "uptake", *more]
    near(said("fit", both[1], *asked), said("fit", both[0], *asked), set())


@pytest.mark.parametrize(
    ("more", "sentence"),
    [
        (["--weights", "hour"], "--weights is not available for a dataset"),
        (["--errors", "hc3"], "need all rows in memory"),
        (["--bootstrap", "50"], "need all rows in memory"),
        (["--by", "hour"], "has 6,000 values; a line can be fitted to each of at most 200"),
        (["--engine", "swift"], "There is no engine 'swift'"),
        (["--y", "dew"], "has no variable 'dew'"),
    ],
)
def test_what_needs_all_rows_together_says_so(
    both: tuple[Path, Path], more: list[str], sentence: str
) -> None:
    found = run("fit", both[1], "--x", "humidity", "--y", "uptake", *more)
    assert found.exit_code == 2
    assert sentence in found.stderr


def test_ranks_are_refused(both: tuple[Path, Path]) -> None:
    found = run("pairs", both[1], "--method", "spearman")
    assert found.exit_code == 2
    assert "Spearman needs all rows in memory" in found.stderr


def test_a_folder_is_written_part_by_part(tmp_path: Path) -> None:
    made = run("drift", tmp_path / "d", "--rows", "1500000", "--parquet")
    assert made.exit_code == 0
    assert [
        pl.scan_parquet(f).select(pl.len()).collect().item()
        for f in sorted((tmp_path / "d").iterdir())
    ] == [1_000_000, 500_000]
    again = run("drift", tmp_path / "d", "--parquet")
    assert again.exit_code == 2
    assert "is there already" in again.stderr


class TestLinking:
    def test_a_dataset_is_linked_to_a_study_that_is_made_for_it(
        self, both: tuple[Path, Path], tmp_path: Path
    ) -> None:
        made = run("link", both[1], "--data", tmp_path, "--name", "drifting")
        assert made.exit_code == 0, made.stderr
        assert "drifting: 6,000 rows in 3 files, linked to the study 'drifting'" in made.stdout
        store = Store(tmp_path)
        (study,) = store.studies.all()
        (table,) = store.tables.of_study(study.id)
        assert table.dataset == str(both[1])
        assert [f.document.table for f in store.figures.of_study(study.id)] == [table.id]
        store.close()
        # Once more is the same one, opened anew.
        again = run("link", both[1], "--data", tmp_path, "--study", "drifting")
        assert again.exit_code == 0, again.stderr
        store = Store(tmp_path)
        assert len(store.tables.of_study(study.id)) == 1
        store.close()

    def test_what_is_no_dataset_makes_no_study(self, tmp_path: Path) -> None:
        found = run("link", tmp_path / "nothing", "--data", tmp_path / "data")
        assert found.exit_code == 2
        assert "No file is called" in found.stderr
        assert not (tmp_path / "data" / "studies.sqlite").exists()


@pytest.mark.parametrize("format", ["svg", "png", "json"])
def test_a_figure_of_a_dataset_is_drawn(
    both: tuple[Path, Path], tmp_path: Path, format: str
) -> None:
    out = tmp_path / f"drift.{format}"
    asked = ["--x", "humidity", "--y", "uptake", "--trend", "straight", "--where", "hour < 1"]
    made = run("draw", both[1], *asked, "-o", out)
    assert made.exit_code == 0, made.stderr
    assert out.stat().st_size > 1_000


def test_a_page_of_a_dataset_holds_its_counts(both: tuple[Path, Path], tmp_path: Path) -> None:
    out = tmp_path / "drift.html"
    made = run("draw", both[1], "--x", "humidity", "--y", "uptake", "-o", out)
    assert made.exit_code == 0, made.stderr
    page = out.read_text("utf-8")
    assert '"cells":{"across"' in page
    assert '"hovered":[]' in page


def test_what_is_from_a_sample_is_said_with_its_sentence(
    both: tuple[Path, Path], monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("yarrowdew.core.trends.chunked.SAMPLED_ROWS", 500)
    asked = ["--x", "humidity", "--y", "uptake", "--family", "local"]
    (report,) = said("fit", both[1], *asked)["fits"]
    # Of 6,000 rows every 97th lacks its uptake.
    assert report["sentence"].endswith("Fitted to a sample of 500 of 5,938 rows.")
    assert (report["n"], report["dropped"]) == (500, {"missing": 62, "not_drawn": 5_438})
    assert "3.4 times as narrow" in run("fit", both[1], *asked).stdout
