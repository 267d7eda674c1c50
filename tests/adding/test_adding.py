"""A family and a kind of figure from outside the package are found everywhere, by being declared."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path

import pytest

from tests.scope import only_long

pytestmark = only_long

ROOT = Path(__file__).parents[2]


@pytest.fixture(scope="module")
def beside(tmp_path_factory: pytest.TempPathFactory) -> dict[str, str]:
    """An environment in which a package with the toys is installed."""
    folder = tmp_path_factory.mktemp("installed")
    info = folder / "toys-1.dist-info"
    info.mkdir()
    (info / "METADATA").write_text("Metadata-Version: 2.1\nName: toys\nVersion: 1\n")
    (info / "entry_points.txt").write_text(
        "[yarrowdew.families]\ntoy = tests.adding.toys:FAMILY\n"
        "[yarrowdew.kinds]\ntally = tests.adding.toys:KIND\n"
    )
    return os.environ | {"PYTHONPATH": os.pathsep.join((str(ROOT), str(folder)))}


def run(environment: dict[str, str], *arguments: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run(  # noqa: S603 (our own module)
        [sys.executable, "-m", *arguments],
        env=environment,
        capture_output=True,
        text=True,
        check=False,
        timeout=120,
    )


@pytest.fixture(scope="module")
def found(beside: dict[str, str]) -> dict:
    result = run(beside, "tests.adding.trying")
    assert result.returncode == 0, result.stderr
    return json.loads(result.stdout)


def test_a_family_is_fitted_and_its_settings_are_held_to_their_ends(found: dict) -> None:
    # The mean of 5, 9, 4 and 2, and the lift.
    assert found["trend"]["coefficients"][0]["value"] == 7
    assert found["trend"]["sentence"].endswith("is described by this curve.")
    assert found["refused"] == 422


def test_the_page_is_told_of_both(found: dict) -> None:
    (family,) = found["families"]
    assert (family["label"], family["note"], family["has_band"]) == ("toy line", "plays", False)
    (lift,) = family["settings"]
    assert (lift["control"], lift["slider"]) == ("slider", [-10, 10])
    assert found["start"]["settings"] == {"lift": 0}
    assert found["start"]["bands"] == []
    assert found["kinds"] == [
        {
            "name": "tally",
            "label": "tally",
            "part": "tally",
            "by_parts": False,
        }
    ]
    assert found["in_schema"] == [True, True]


def test_a_kind_answers_and_what_it_did_not_say_goes_out_stays(found: dict) -> None:
    assert found["tally"] == {"total": 20}
    assert found["shared"] == [False, True]
    assert found["drawn_as"]["shed"] == ["y axis", "counted"]


def test_the_command_line_knows_the_family_and_its_options(found: dict) -> None:
    status, printed, _ = found["lifted"]
    assert status == 0
    assert json.loads(printed)["fits"][0]["coefficients"][0]["value"] == 6
    assert found["wrong"] == [
        2,
        "",
        "yarrowdew: Lift of high is not offered. Give a number.\n",
    ]


def test_models_made_when_the_program_runs_are_not_looked_for_in_a_source(found: dict) -> None:
    # They have none: to look for it took a second for each of them. It was 12,286 times.
    assert found["looked"] < 3_000
