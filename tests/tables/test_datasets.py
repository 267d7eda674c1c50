"""Datasets: what is read of which files, by whom, and what is said where that cannot be."""

from __future__ import annotations

import os
import time
from collections.abc import Callable
from pathlib import Path
from unittest import mock

import numpy as np
import polars as pl
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.scope import examples
from yarrowdew.core.aggregates.aggregation import PairsAggregation, RowsAggregation
from yarrowdew.core.aggregates.category_counts import LabelsAggregation
from yarrowdew.core.aggregates.pair_sums import Pivot
from yarrowdew.core.checkpoints import asking
from yarrowdew.core.errors import UserFacingError
from yarrowdew.tables import datasets
from yarrowdew.tables.dataset_files import open_dataset
from yarrowdew.tables.engines.base import Threads, engine_named
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.expressions import derive
from yarrowdew.tables.filters import RowFilter, kept_rows
from yarrowdew.tables.kinds import as_text
from yarrowdew.tables.reading import read_file
from yarrowdew.tables.table import Kind


def write(folder: Path, *frames: pl.DataFrame) -> Path:
    folder.mkdir(parents=True, exist_ok=True)
    for place, frame in enumerate(frames):
        frame.write_parquet(folder / f"{place}.parquet")
    return folder


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    """Three files of 3, 0 and 5 rows, with holes."""
    first = pl.DataFrame(
        {
            "dew (mL)": [1.0, None, 3.0],
            "night": ["2031-04-01", "2031-04-02", "2031-04-03"],
            "valley": ["A", "B", None],
        }
    ).with_columns(pl.col("night").str.to_date())
    last = pl.DataFrame(
        {
            "dew (mL)": [float("nan"), 5.0, 6.0, float("inf"), 8.0],
            "night": [f"2031-04-{d:02}" for d in range(4, 9)],
            "valley": ["A", "A", "C", "B", "B"],
        }
    ).with_columns(pl.col("night").str.to_date())
    return write(tmp_path / "nights", first, first.clear(), last)


class TestOpening:
    def test_variables_are_described_as_of_a_file(self, folder: Path) -> None:
        found = open_dataset(folder)
        assert found.name == "nights"
        assert found.rows == 8
        assert [(v.name, v.kind, v.unit) for v in found.variables] == [
            ("dew", Kind.NUMBER, "mL"),
            ("night", Kind.DATE, ""),
            ("valley", Kind.CATEGORY, ""),
        ]

    def test_a_pattern_and_one_file_are_datasets_too(self, folder: Path) -> None:
        assert open_dataset(folder / "[02].parquet").rows == 8
        assert open_dataset(folder / "2.parquet").rows == 5

    def test_a_column_of_words_stays_one_where_its_first_rows_look_like_numbers(
        self, tmp_path: Path
    ) -> None:
        write(tmp_path / "codes", pl.DataFrame({"code": ["1", "2"]}), pl.DataFrame({"code": ["x"]}))
        found = open_dataset(tmp_path / "codes")
        assert found.variables[0].kind is Kind.CATEGORY
        assert Threads().total(found, LabelsAggregation("code"), {}).counts == {
            "1": 1,
            "2": 1,
            "x": 1,
        }

    def test_columns_are_found_by_name_wherever_they_stand(self, tmp_path: Path) -> None:
        write(
            tmp_path / "d",
            pl.DataFrame({"a": [1.0], "b": [10.0]}),
            pl.DataFrame({"b": [20], "more": [0], "a": [2]}),
        )
        found = open_dataset(tmp_path / "d")
        rows = Threads().total(found, RowsAggregation(("a", "b"), 10), {}).groups[None]
        assert rows.columns["a"].tolist() == [1, 2]
        assert rows.columns["b"].tolist() == [10, 20]

    @pytest.mark.parametrize(
        ("make", "said"),
        [
            (lambda f: None, "No file is called"),
            (lambda f: f.mkdir(), "holds no Parquet file"),
            (lambda f: write(f, pl.DataFrame({"a": []})), "holds no rows"),
            (
                lambda f: write(f, pl.DataFrame({"a": [1]}), pl.DataFrame({"b": [1]})),
                "1.parquet has no column 'a', which 0.parquet has",
            ),
            (
                lambda f: write(f, pl.DataFrame({"a": [1]}), pl.DataFrame({"a": ["x"]})),
                "'a' is String in 1.parquet and Int64 in 0.parquet",
            ),
        ],
    )
    def test_what_is_no_dataset_says_why(
        self, tmp_path: Path, make: Callable[[Path], object], said: str
    ) -> None:
        make(tmp_path / "d")
        with pytest.raises(TableError, match=said.replace("'", ".")):
            open_dataset(tmp_path / "d")

    def test_a_file_that_is_no_parquet_is_named(self, folder: Path) -> None:
        (folder / "7.parquet").write_bytes(b"PAR1 but nothing more")
        with pytest.raises(TableError, match=r"7\.parquet cannot be read as a Parquet file"):
            open_dataset(folder)


class TestLooking:
    def test_parts_are_small_and_hold_every_row_once(
        self, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
    ) -> None:
        monkeypatch.setattr(datasets, "PART_ROWS", 7)
        frames = [pl.DataFrame({"a": np.arange(n, dtype=float) + 100 * n}) for n in (20, 3, 14)]
        found = open_dataset(write(tmp_path / "d", *frames))
        assert [part.rows for part in found.parts()] == [7, 7, 6, 3, 7, 7]
        rows = Threads(2).total(found, RowsAggregation(("a",), 100), {}).groups[None]
        assert rows.columns["a"].tolist() == pl.concat(frames)["a"].to_list()
        assert rows.rows.tolist() == list(range(37))

    def test_holes_dates_and_words_are_those_of_the_files(self, folder: Path) -> None:
        found = open_dataset(folder)
        made = Threads().total(
            found, PairsAggregation("night", "dew", pivot=Pivot(0, 0)), {"night": 22370.0}
        )
        sums = made.groups[None]
        # Days since 2031-04-01, which is day 22,370: the first, third, fifth, sixth and eighth.
        assert (sums.n, sums.missing) == (5, 3)
        assert sums.x_ends == (0.0, 7.0)
        assert float(sums.sums.exact()[0]) == 0 + 2 + 4 + 5 + 7
        labels = Threads().total(found, LabelsAggregation("valley"), {}).counts
        assert labels == {"A": 3, "B": 3, "C": 1, None: 1}

    def test_only_rows_that_are_kept_are_looked_at(self, folder: Path) -> None:
        found = open_dataset(folder).kept_where("dew > 4 and valley != 'C'")
        rows = Threads().total(found, RowsAggregation(("dew",), 9), {}).groups[None]
        assert rows.columns["dew"].tolist() == [5, 8]
        assert rows.rows.tolist() == [4, 7]
        # What is kept of what is kept is both.
        one = {"variable": "dew", "test": "between", "low": 6}
        both = found.kept_by(RowFilter.model_validate({"conditions": [one]}))
        rows = Threads().total(both, RowsAggregation(("dew",), 9), {}).groups[None]
        assert (rows.columns["dew"].tolist(), rows.rows.tolist()) == ([8], [7])

    @pytest.mark.parametrize("expression", ["dew * 2", "7", "if_else(dew > 4, 'wet', 'dry')"])
    def test_what_is_made_of_it_is_what_is_made_of_a_table_of_its_rows(
        self, folder: Path, expression: str
    ) -> None:
        dataset = open_dataset(folder)
        whole = dataset.rows_at(range(dataset.rows))
        changed, anew, _ = dataset.change(lambda draft: draft.derive("made", expression))
        assert anew == {"made"}
        made = changed.rows_at(range(dataset.rows)).frame["made"]
        assert made.to_list() == derive(whole, expression).values.to_list()
        # It is there by itself, too, for whoever asks for nothing else.
        parts = [changed.table_of(part, ["made"]) for part in changed.parts()]
        assert [t.frame.columns for t in parts] == [["made"]] * len(parts)
        assert pl.concat([t.frame["made"].cast(pl.String) for t in parts]).to_list() == [
            None if value is None else str(value) for value in made.to_list()
        ]

    @pytest.mark.parametrize(
        ("expression", "said"),
        [
            ("rank(dew) > 2", "'rank' uses other rows"),
            ("lag(dew) > 2", "'lag' uses other rows"),
            ("days_since(night) > 2", "'days_since' uses other rows"),
            ("dew + 1", "is a value, and not something that is true or false"),
            ("dew >", "ends too early|is missing|expected|value"),
            ("fog > 1", "fog"),
        ],
    )
    def test_what_a_part_cannot_tell_by_itself_is_refused(
        self, folder: Path, expression: str, said: str
    ) -> None:
        with pytest.raises(UserFacingError, match=said):
            open_dataset(folder).kept_where(expression)

    def test_days_since_a_given_day_look_at_one_row(self, folder: Path) -> None:
        found = open_dataset(folder).kept_where("days_since(night, night) < 1")
        assert Threads().total(found, LabelsAggregation("valley"), {}).counts["A"] == 3

    def test_a_file_that_has_changed_is_noticed(self, folder: Path) -> None:
        found = open_dataset(folder)
        os.utime(folder / "2.parquet", ns=(time.time_ns(), time.time_ns() + 1))
        with pytest.raises(TableError, match=r"2\.parquet has changed since"):
            Threads().total(found, LabelsAggregation("valley"), {})
        (folder / "2.parquet").unlink()
        with pytest.raises(TableError, match=r"2\.parquet is missing"):
            Threads().total(found, LabelsAggregation("valley"), {})

    def test_how_much_is_done_is_said_and_it_can_be_stopped(
        self, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
    ) -> None:
        monkeypatch.setattr(datasets, "PART_ROWS", 10)
        found = open_dataset(write(tmp_path / "d", pl.DataFrame({"a": np.arange(100.0)})))
        heard: list[float] = []
        with asking(heard.append):
            Threads(2).total(found, RowsAggregation(("a",), 5), {})
        assert heard == sorted(heard)
        assert len(heard) == 10

        class EnoughError(Exception):
            pass

        def stop(share: float) -> None:
            if share > 0.3:
                raise EnoughError

        with asking(stop), pytest.raises(EnoughError):
            Threads(2).total(found, RowsAggregation(("a",), 5), {})


def test_an_engine_that_does_not_exist_says_which_do() -> None:
    with pytest.raises(TableError, match="There is no engine 'swift'"):
        engine_named("swift")


END = st.none() | st.floats(-9, 9).map(lambda v: round(v, 1))
DAY = st.none() | st.integers(1, 28).map(lambda day: f"2031-04-{day:02}")
CONDITIONS = st.one_of(
    st.fixed_dictionaries(
        {"variable": st.sampled_from(["dew", "count"]), "test": st.just("between")},
        optional={"low": END, "high": END},
    ),
    st.fixed_dictionaries(
        {"variable": st.sampled_from(["night", "moment"]), "test": st.just("between")},
        optional={"low": DAY | st.just("2031-04-10T12:30"), "high": DAY},
    ),
    st.fixed_dictionaries(
        {
            "variable": st.just("valley"),
            "test": st.sampled_from(["one_of", "not_one_of"]),
            "values": st.lists(st.sampled_from(["A", "B", "", "no such"]), max_size=3),
        }
    ),
    st.fixed_dictionaries(
        {
            "variable": st.sampled_from(["dew", "count", "night", "valley"]),
            "test": st.sampled_from(["missing", "present"]),
        }
    ),
)


def test_words_are_those_of_a_table_that_is_read(tmp_path: Path) -> None:
    words = ["A", " A ", "", "NA", "B", None, "n/a", "  ", "A b", "-"]
    frame = pl.DataFrame(
        {
            "words": words,
            "sorted": pl.Series(words, dtype=pl.Categorical),
            "notes": [f"{w}{k}" for k, w in enumerate(words)],
            "n": range(len(words)),
        }
    )
    write(tmp_path / "d", frame.slice(0, 4), frame.slice(4))
    frame.write_parquet(tmp_path / "whole.parquet")
    table = read_file(tmp_path / "whole.parquet").table
    dataset = open_dataset(tmp_path / "d")
    for name in ("words", "sorted"):
        wanted = as_text(table.frame[name]).to_list()
        found = [dataset.rows_of(part, ["n"], [name]).labels[name] for part in dataset.parts()]
        assert [one.names[c] if c >= 0 else None for one in found for c in one.codes] == wanted
        held = [dataset.table_of(part, [name]).frame[name].to_list() for part in dataset.parts()]
        assert [word for some in held for word in some] == wanted
        # A filter keeps what it keeps of the table.
        kept = dataset.kept_by(
            RowFilter.model_validate(
                {"conditions": [{"variable": name, "test": "one_of", "values": ["A", "NA", ""]}]}
            )
        )
        places = [kept.rows_of(part, ["n"]).places.tolist() for part in kept.parts()]
        own = kept_rows(table, kept.where[0])  # type: ignore[arg-type]
        assert [place for some in places for place in some] == own.arg_true().to_list()


class TestPassingOver:
    @pytest.fixture(scope="class")
    @staticmethod
    def sorted_rows(tmp_path_factory: pytest.TempPathFactory) -> Path:
        """Groups of ten rows in order of the first column, so that files can tell of them."""
        count = np.arange(-60, 60)
        dew = np.where(count % 7 == 0, np.nan, count / 7)
        dew[3], dew[4] = np.inf, -np.inf
        frame = pl.DataFrame({"dew": dew, "count": count // 6}).with_columns(
            pl.when(pl.int_range(120) % 11 == 0).then(None).otherwise("dew").alias("dew"),
            pl.when(pl.int_range(120) % 13 == 0).then(None).otherwise("count").alias("count"),
            (pl.date(2031, 4, 1) + pl.duration(days=pl.int_range(120) // 5)).alias("night"),
            (pl.datetime(2031, 4, 1) + pl.duration(hours=5 * pl.int_range(120))).alias("moment"),
            pl.Series("valley", [("A", "B", None, "")[(k // 17) % 4] for k in range(120)]),
        )
        folder = tmp_path_factory.mktemp("sorted")
        for place in range(3):
            frame.slice(40 * place, 40).write_parquet(
                folder / f"{place}.parquet", row_group_size=10
            )
        return folder

    @given(
        st.lists(CONDITIONS, min_size=1, max_size=3),
        st.sampled_from(["and", "or"]),
        st.sampled_from([7, 16, 40]),
    )
    @settings(max_examples=examples(15, 100), deadline=None)
    def test_what_files_tell_changes_no_row(
        self, sorted_rows: Path, conditions: list[dict], join: str, part_rows: int
    ) -> None:
        dataset = open_dataset(sorted_rows).kept_by(
            RowFilter.model_validate({"conditions": conditions, "join": join})
        )
        # Of files larger than a part, too, wherever their groups of rows begin.
        with mock.patch("yarrowdew.tables.datasets.PART_ROWS", part_rows):
            parts = list(dataset.parts())
        for part in parts:
            told = dataset.rows_of(part, ["dew", "night"], ["valley"])
            with mock.patch("yarrowdew.tables.datasets.worth_of_file", return_value=None):
                plain = dataset.rows_of(part, ["dew", "night"], ["valley"])
            assert told.places.tolist() == plain.places.tolist()
            for name, values in plain.numbers.items():
                assert np.array_equal(told.numbers[name], values, equal_nan=True)
            for name, own in plain.labels.items():
                words = [[*one.names, None] for one in (told.labels[name], own)]
                assert [words[0][c] for c in told.labels[name].codes] == [
                    words[1][c] for c in own.codes
                ]
