from __future__ import annotations

import asyncio
import json
import socket
from pathlib import Path

import numpy as np
import pytest
from scipy import stats

from tests.core.reference import NORRIS, NORRIS_CERTIFIED
from yarrowdew import cli
from yarrowdew.cli.serving import HOST, _listen
from yarrowdew.core.trends import FAMILIES
from yarrowdew.demo.tables import demo_tables
from yarrowdew.tables.reading import read_file


@pytest.fixture(scope="module")
def files(tmp_path_factory: pytest.TempPathFactory) -> Path:
    folder = tmp_path_factory.mktemp("files")
    for table in demo_tables():
        table.frame.write_csv(folder / f"{table.name}.csv")
    rows = "".join(f"{y},{x}\n" for y, x in NORRIS)
    (folder / "norris.csv").write_text("y,x\n" + rows)
    (folder / "empty.csv").write_text("")
    (folder / "picture.csv").write_bytes(b"\x89PNG\r\n\x1a\n")
    (folder / "words.csv").write_text("a,b\nx,y\nu,v\n")
    (folder / "two.csv").write_text("a,b\n1,2\n3,4\n")
    (folder / "same.csv").write_text("a,b\n1,2\n1,4\n1,5\n")
    return folder


def run(monkeypatch: pytest.MonkeyPatch, *arguments: object) -> int:
    monkeypatch.setattr("sys.argv", ["yarrowdew", *map(str, arguments)])
    with pytest.raises(SystemExit) as ended:
        cli.main()
    return int(ended.value.code or 0)


@pytest.fixture
def fit_json(files: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture) -> object:
    def ask(name: str, *options: object) -> list[dict]:
        assert run(monkeypatch, "fit", files / name, *options, "--json") == 0
        return json.loads(capsys.readouterr().out)["fits"]

    return ask


def test_fit_gives_the_certified_values(fit_json: object) -> None:
    (found,) = fit_json("norris.csv", "--x", "x", "--y", "y")
    a, b = found["coefficients"]
    assert (a["name"], b["name"], found["group"], found["n"]) == ("a", "b", None, 36)
    assert a["value"] == pytest.approx(NORRIS_CERTIFIED["a"], rel=1e-10)
    assert b["se"] == pytest.approx(NORRIS_CERTIFIED["b_se"], rel=1e-10)
    assert found["residual_sd"] == pytest.approx(NORRIS_CERTIFIED["residual_sd"], rel=1e-10)
    assert found["r_squared"] == pytest.approx(NORRIS_CERTIFIED["r_squared"], rel=1e-10)
    assert found["dropped"]["missing"] == 0


def test_fit_keeps_every_key_of_the_contract(fit_json: object) -> None:
    (found,) = fit_json(
        "nights.csv", "--x", "humidity", "--y", "yield", "--at", 80, "--at", 99.5, "--solve", 200
    )
    assert found.keys() >= set(
        "group family equation n dropped coefficients r_squared adjusted_r_squared residual_sd r "
        "p_value readings solutions".split()
    )
    assert found["coefficients"][0].keys() >= {"name", "value", "se", "low", "high"}
    first, second = found["readings"]
    assert first.keys() >= {"x", "y", "mean_low", "mean_high", "new_low", "new_high"}
    assert (
        first["new_low"] < first["mean_low"] < first["y"] < first["mean_high"] < first["new_high"]
    )
    assert (first["carried_on"], second["carried_on"]) == (False, True)
    (solution,) = found["solutions"]
    assert solution["low"] < solution["x"] < solution["high"]
    assert found["dropped"]["missing"] == 9


def test_the_equation_can_be_read_by_a_program(fit_json: object) -> None:
    (found,) = fit_json("norris.csv", "--x", "x", "--y", "y")
    a, b = found["equation"].removeprefix("y = ").removesuffix(" x").split(" + ")
    assert float(a) + float(b) * 500 == pytest.approx(
        NORRIS_CERTIFIED["a"] + 500 * NORRIS_CERTIFIED["b"], abs=1
    )


def test_fit_by_group_and_level(fit_json: object) -> None:
    options = ("--x", "humidity", "--y", "yield", "--by", "valley")
    wide = fit_json("nights.csv", *options, "--level", 0.99)
    narrow = fit_json("nights.csv", *options, "--level", 0.9)
    assert [f["group"] for f in wide] == ["Argill", "Bracken", "Corrie", "Dunlin"]
    for w, n in zip(wide, narrow, strict=True):
        assert w["coefficients"][1]["low"] < n["coefficients"][1]["low"]


def test_fit_through_the_origin_with_weights(fit_json: object) -> None:
    (found,) = fit_json(
        "stations.csv",
        *("--x", "collectors", "--y", "households served", "--family", "origin"),
        *("--weights", "collectors"),
    )
    frame = demo_tables()[1].frame
    x, y = frame["collectors"].to_numpy(), frame["households served"].to_numpy()
    b = next(c for c in found["coefficients"] if c["name"] == "b")
    assert b["value"] == pytest.approx(np.sum(x * x * y) / np.sum(x * x * x), rel=1e-12)


def test_outcomes_fit_from_the_command_line(fit_json: object, files: Path) -> None:
    rows = "\n".join(f"{x},{int(x * 7 % 10 + x > 14)}" for x in range(20))
    (files / "outcomes.csv").write_text(f"dose,shed\n{rows}\n")
    (fit,) = fit_json(
        "outcomes.csv", *("--x", "dose", "--y", "shed", "--family", "logistic", "--solve", 0.5)
    )
    assert [one["label"] for one in fit["measures"]] == ["Tjur’s R²", "Deviance"]
    assert 6 < fit["solutions"][0]["x"] < 14


def test_lines_of_groups_are_made_parallel(fit_json: object) -> None:
    asked = ("nights.csv", "--x", "humidity", "--y", "yield", "--by", "mesh")
    own, common = fit_json(*asked), fit_json(*asked, "--common-slope")
    slopes = [next(c["value"] for c in fit["coefficients"] if c["name"] == "b") for fit in common]
    assert len(set(slopes)) == 1
    each = [next(c["value"] for c in fit["coefficients"] if c["name"] == "b") for fit in own]
    assert min(each) < slopes[0] < max(each)


@pytest.mark.parametrize("family", [name for name in FAMILIES if name != "logistic"])
def test_every_family_fits_from_the_command_line(fit_json: object, family: str) -> None:
    # What goes along with time is fitted to what does; the others to doses.
    over_time = family in ("moving-average", "sine-wave")
    of = (
        ("cistern.csv", "day", "level")
        if over_time
        else ("coating trial.csv", "dose", "droplets shed")
    )
    more = {
        "sine-wave": ("--period", 30),
        "errors-in-variables": ("--x-error", "se low", "--y-error", "se high"),
    }.get(family, ())
    (fit,) = fit_json(of[0], "--x", of[1], "--y", of[2], "--family", family, *more)
    assert fit["family"] == family
    assert fit["n"] > 50
    assert (fit["r_squared"] is None) is (FAMILIES[family].r_squared_about == "nothing")


def test_a_polynomial_of_a_degree_names_its_coefficients(fit_json: object) -> None:
    (fit,) = fit_json(
        "norris.csv",
        "--x",
        "x",
        "--y",
        "y",
        "--family",
        "polynomial",
        "--degree",
        3,
        "--at",
        500,
        "--solve",
        400,
    )
    assert [c["name"] for c in fit["coefficients"]] == ["b0", "b1", "b2", "b3"]
    assert "x^3" in fit["equation"]
    assert fit["readings"][0]["y"] == pytest.approx(500.8, abs=1)
    assert fit["solutions"][0]["x"] == pytest.approx(399.4, abs=1)


def test_a_form_without_intervals_has_null_ones(fit_json: object) -> None:
    (fit,) = fit_json("norris.csv", "--x", "x", "--y", "y", "--family", "theil-sen", "--at", 500)
    assert fit["readings"][0]["mean_low"] is None
    assert fit["coefficients"][0]["se"] is None


def test_pairs_come_strongest_first(
    files: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture
) -> None:
    assert run(monkeypatch, "pairs", files / "nights.csv", "--method", "spearman", "--json") == 0
    found = json.loads(capsys.readouterr().out)["pairs"]
    assert {"x", "y", "n", "r", "p_value", "p_adjusted"} <= found[0].keys()
    strength = [abs(p["r"]) for p in found]
    assert strength == sorted(strength, reverse=True)
    assert all(p["p_adjusted"] >= p["p_value"] for p in found)
    assert run(monkeypatch, "pairs", files / "nights.csv") == 0
    said = capsys.readouterr().out
    assert "r = " in said
    assert "pairs looked at" in said


def test_describe(files: Path, monkeypatch: pytest.MonkeyPatch, capsys: object) -> None:
    assert run(monkeypatch, "describe", files / "nights.csv", "--json") == 0
    found = json.loads(capsys.readouterr().out)
    assert found["rows"] == 640
    by_name = {v["name"]: v for v in found["variables"]}
    assert by_name["yield"].keys() >= set(
        "name label unit kind missing distinct min max mean sd".split()
    )
    column = demo_tables()[0].frame["yield"]
    assert by_name["yield"]["mean"] == pytest.approx(column.mean())
    assert by_name["yield"]["sd"] == pytest.approx(column.std())
    assert (by_name["night"]["kind"], by_name["valley"]["mean"]) == ("date", None)
    assert run(monkeypatch, "describe", files / "nights.csv") == 0
    assert f"6 missing, {column.min():g} to 498" in capsys.readouterr().out


def test_the_text_says_what_the_json_says(
    files: Path, monkeypatch: pytest.MonkeyPatch, capsys: object
) -> None:
    options = ("--x", "day", "--y", "level", "--at", "2031-06-01", "--solve", 150)
    assert run(monkeypatch, "fit", files / "cistern.csv", *options) == 0
    out = capsys.readouterr().out
    assert "(x in days since 2030-03-01)" in out
    assert "at x = 2031-06-01" in out
    assert "outside the data" in out
    assert "Rows left out: 5 missing" in out


@pytest.mark.parametrize(
    ("arguments", "message"),
    [
        ("fit gone.csv --x a --y b", "gone.csv cannot be opened: no such file"),
        ("fit empty.csv --x a --y b", "empty.csv is empty"),
        ("fit picture.csv --x a --y b", "picture.csv is a PNG picture"),
        ("fit words.csv --x a --y b", "'a' holds categories"),
        ("fit two.csv --x a --y b", "at least three rows"),
        ("fit same.csv --x a --y b", "Every row has the same x (1)"),
        ("fit two.csv --x a --y rain", "two has no variable 'rain'. It has: a, b."),
        ("fit two.csv --x a", "--y"),
        ("fit two.csv --x a --y b --level 95", "The level 95 is not between"),
        ("fit two.csv --x a --y b --level high", "--level"),
        ("fit two.csv --x a --y b --family wavy", "no trend family 'wavy'"),
        ("fit same.csv --x b --y a --at soon", "'soon' is not a number"),
        ("describe empty.csv", "empty.csv is empty"),
        ("bogus", "bogus"),
    ],
)
def test_bad_input_ends_with_status_two_and_one_line(
    files: Path,
    monkeypatch: pytest.MonkeyPatch,
    capsys: pytest.CaptureFixture,
    arguments: str,
    message: str,
) -> None:
    monkeypatch.chdir(files)
    assert run(monkeypatch, *arguments.split()) == 2
    captured = capsys.readouterr()
    assert message in captured.err
    assert captured.err.count("\n") == 1
    assert captured.out == ""


def test_a_group_too_small_does_not_stop_the_others(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: object
) -> None:
    file = tmp_path / "groups.csv"
    file.write_text("g,x,y\na,1,2\na,2,4\na,3,5\nb,1,1\n")
    assert run(monkeypatch, "fit", file, "--x", "x", "--y", "y", "--by", "g", "--json") == 0
    fits = json.loads(capsys.readouterr().out)["fits"]
    assert [f["problem"] is None for f in fits] == [True, False]
    assert fits[1]["equation"] is None


def test_drift_is_written(tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: object) -> None:
    assert run(monkeypatch, "drift", tmp_path / "drift.csv", "--rows", 100) == 0
    assert len((tmp_path / "drift.csv").read_text().splitlines()) == 101
    assert "100 rows written" in capsys.readouterr().out
    assert run(monkeypatch, "drift", tmp_path / "no" / "drift.csv", "--rows", 10) == 2


def test_the_demo_tables_are_written_and_read_back(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    folder = tmp_path / "new" / "demo"
    assert run(monkeypatch, "sample", folder) == 0
    assert "nights.csv, stations.csv, coating-trial.csv, cistern.csv" in capsys.readouterr().out
    for table in demo_tables():
        again = read_file(folder / f"{table.name.replace(' ', '-')}.csv").table
        assert [(v.name, v.unit) for v in again.variables] == [
            (v.name, v.unit) for v in table.variables
        ]
        assert again.rows == table.rows
    assert run(monkeypatch, "sample", folder) == 0
    (folder / "nights.csv").write_text("mine")
    assert run(monkeypatch, "sample", folder) == 2
    assert (folder / "nights.csv").read_text() == "mine"
    assert "is another file" in capsys.readouterr().err


def test_without_arguments_the_help_is_shown(
    monkeypatch: pytest.MonkeyPatch, capsys: object
) -> None:
    assert run(monkeypatch) == 0
    assert "describe" in capsys.readouterr().out


def test_small_answers_are_not_held_back_by_the_server() -> None:
    # Without this each of them would wait some 40 ms for the other side's acknowledgement.
    async def told() -> int:
        told = asyncio.get_running_loop().create_future()

        class Protocol(asyncio.Protocol):
            def connection_made(self, transport: asyncio.BaseTransport) -> None:
                connected = transport.get_extra_info("socket")
                told.set_result(connected.getsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY))

        listening = _listen(None, HOST)
        server = await asyncio.get_running_loop().create_server(Protocol, sock=listening)
        _, writer = await asyncio.open_connection(*listening.getsockname())
        held = await told
        writer.close()
        server.close()
        return held

    assert asyncio.run(told())


class TestPlane:
    """`fit --z`: z against x and y."""

    def test_it_is_a_fit_like_any_other(self, fit_json: object, files: Path) -> None:
        (files / "plane.csv").write_text("u,v,w\n0,0,1\n1,0,3\n0,1,0\n1,1,2\n2,1,4.5\n")
        (found,) = fit_json("plane.csv", "--x", "u", "--y", "v", "--z", "w", "--at", "1,2")
        assert found["family"] == "plane"
        assert [c["name"] for c in found["coefficients"]] == ["a", "b", "c"]
        # By the normal equations: 5a + 4b + 3c = 10.5, 4a + 6b + 3c = 14, 3a + 3b + 3c = 6.5.
        values = [c["value"] for c in found["coefficients"]]
        a, b, c = np.linalg.solve([[5, 4, 3], [4, 6, 3], [3, 3, 3]], [10.5, 14, 6.5])
        assert values == pytest.approx([a, b, c])
        assert found["readings"][0]["z"] == pytest.approx(a + b + 2 * c)
        assert found["readings"][0]["carried_on"] is True
        assert found["solutions"] == []

    @pytest.mark.parametrize(
        ("options", "said"),
        [
            (["--family", "plane"], "Name it with --z"),
            (["--z", "w", "--family", "spline"], "not by 'spline'"),
            (["--z", "w", "--window", "3"], "knows no --window"),
            (["--z", "w", "--degree", "3"], "degree 1 or 2"),
            (["--z", "w", "--at", "1"], "place on two axes"),
            (["--z", "nothing"], "nothing"),
        ],
    )
    def test_what_does_not_go_with_it_is_said(
        self,
        options: list[str],
        said: str,
        files: Path,
        monkeypatch: pytest.MonkeyPatch,
        capsys: pytest.CaptureFixture,
    ) -> None:
        (files / "plane.csv").write_text("u,v,w\n0,0,1\n1,0,3\n0,1,0\n1,1,2\n2,1,4.5\n")
        asked = ["fit", files / "plane.csv", "--x", "u", "--y", "v", *options]
        assert run(monkeypatch, *asked) == 2
        assert said in capsys.readouterr().err


def test_intervals_allow_for_what_is_asked(fit_json: object) -> None:
    def slope(*options: object) -> dict:
        (fit,) = fit_json("coating trial.csv", "--x", "dose", "--y", "droplets shed", *options)
        assert fit["coefficients"][1]["name"] == "b"
        return {"errors": fit["errors"], **fit["coefficients"][1]}

    plain, unequal = slope(), slope("--errors", "hc3")
    assert plain["value"] == unequal["value"]
    assert plain["se"] != unequal["se"]
    assert unequal["errors"] == "hc3"
    again = ("--errors", "bootstrap", "--seed", 7)
    assert slope(*again) == slope(*again) != slope("--errors", "bootstrap", "--seed", 8)


def test_a_formula_is_typed_on_the_command_line(fit_json: object) -> None:
    options = ("--family", "formula", "--formula", "top / (1 + exp(-k * (x - mid)))")
    (fit,) = fit_json(
        "coating trial.csv", "--x", "dose", "--y", "droplets shed", *options, "--known", "k > 0"
    )
    assert [c["name"] for c in fit["coefficients"]] == ["top", "k", "mid"]
    assert len(fit["correlations"]) == 3
    assert fit["equation"].startswith("y = ")


class TestIntervals:
    """Line of the Norris data, whose intervals are worked out here by hand."""

    def b(self, capsys: pytest.CaptureFixture[str]) -> dict:
        (fit,) = json.loads(capsys.readouterr().out)["fits"]
        return next(c for c in fit["coefficients"] if c["name"] == "b") | {"at": fit["readings"]}

    def test_hc3(
        self, files: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
    ) -> None:
        asked = ("fit", files / "norris.csv", "--x", "x", "--y", "y", "--json")
        assert run(monkeypatch, *asked, "--errors", "hc3") == 0
        found = self.b(capsys)
        y, x = (np.array(column) for column in zip(*NORRIS, strict=True))
        design = np.column_stack([np.ones_like(x), x])
        inverse = np.linalg.inv(design.T @ design)
        off = y - design @ inverse @ design.T @ y
        leverage = np.einsum("ij,jk,ik->i", design, inverse, design)
        meat = design.T @ (design * (off / (1 - leverage))[:, None] ** 2)
        se = np.sqrt((inverse @ meat @ inverse)[1, 1])
        assert found["se"] == pytest.approx(se, rel=1e-6)

    def test_resamples_by_number_and_seed(
        self, files: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
    ) -> None:
        asked = ("fit", files / "norris.csv", "--x", "x", "--y", "y", "--json")
        assert run(monkeypatch, *asked, "--bootstrap", 60, "--seed", 5) == 0
        found = self.b(capsys)
        y, x = (np.array(column) for column in zip(*NORRIS, strict=True))
        draw = np.random.default_rng(5)
        slopes = []
        for _ in range(60):
            rows = np.sort(draw.integers(0, len(x), len(x)))
            slopes.append(np.polyfit(x[rows], y[rows], 1)[0])
        rest = len(x) - 2
        by = np.sqrt(len(x) / rest) * stats.t.ppf(0.975, rest) / stats.norm.ppf(0.975)
        ends = found["value"] + (np.quantile(slopes, [0.025, 0.975]) - found["value"]) * by
        assert (found["low"], found["high"]) == pytest.approx(tuple(ends), rel=1e-7)

    def test_the_whole_line_reaches_further(
        self, files: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
    ) -> None:
        asked = ("fit", files / "norris.csv", "--x", "x", "--y", "y", "--at", 500, "--json")
        widths = []
        for band in ("pointwise", "whole-line"):
            assert run(monkeypatch, *asked, "--band", band) == 0
            (at,) = self.b(capsys)["at"]
            widths.append(at["mean_high"] - at["mean_low"])
        # √(2 F(2, 34)) against t(34), both at 95 %: of Working and Hotelling 1929.
        assert widths[1] / widths[0] == pytest.approx(2.5595 / 2.0322, rel=1e-3)

    @pytest.mark.parametrize(
        ("asked", "said"),
        [
            (("--bootstrap", 5), "5 resamples are not offered"),
            (("--band", "wide"), "no band 'wide'"),
            (("--start", "b=1"), "without a start"),
            (("--family", "formula", "--formula", "p*x", "--start", "q=1"), "no parameter"),
            (("--family", "formula", "--formula", "p*x", "--start", "p > 1"), "no value to start"),
        ],
    )
    def test_what_makes_no_sense_is_said(
        self,
        files: Path,
        monkeypatch: pytest.MonkeyPatch,
        capsys: pytest.CaptureFixture[str],
        asked: tuple[object, ...],
        said: str,
    ) -> None:
        assert run(monkeypatch, "fit", files / "norris.csv", "--x", "x", "--y", "y", *asked) == 2
        assert said in capsys.readouterr().err

    def test_a_formula_begins_where_it_is_told(
        self, files: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
    ) -> None:
        asked = (
            "fit",
            files / "norris.csv",
            "--x",
            "x",
            "--y",
            "y",
            "--json",
            "--family",
            "formula",
        )
        starts = ("--start", "b1=1", "--start", "b2=2")
        assert run(monkeypatch, *asked, "--formula", "b1+b2*x", *starts) == 0
        (fit,) = json.loads(capsys.readouterr().out)["fits"]
        found = {c["name"]: c["value"] for c in fit["coefficients"]}
        assert list(found) == ["b1", "b2"]
        y, x = (np.array(column) for column in zip(*NORRIS, strict=True))
        slope, intercept = np.polyfit(x, y, 1)
        assert found == pytest.approx({"b1": intercept, "b2": slope}, rel=1e-6)
