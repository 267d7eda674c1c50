"""The wheel has everything: put into an empty environment, it draws a figure."""

from __future__ import annotations

import re
import subprocess
import sys
import zipfile
from pathlib import Path

from tests.drawing.test_making import dew
from tests.scope import only_long
from yarrowdew.script.figures import figure

HERE = Path(__file__).parents[2]


def run(*words: object, cwd: Path) -> None:
    ran = subprocess.run(  # noqa: S603 (our own commands)
        [str(word) for word in words], cwd=cwd, capture_output=True, text=True, check=False
    )
    assert ran.returncode == 0, ran.stdout + ran.stderr


@only_long
def test_a_wheel_put_into_an_empty_environment_draws_the_same(tmp_path: Path) -> None:
    uv = Path(sys.executable).with_name("uv")
    run(uv, "build", "--quiet", "--wheel", "--out-dir", tmp_path, HERE, cwd=tmp_path)
    (wheel,) = tmp_path.glob("*.whl")
    names = zipfile.ZipFile(wheel).namelist()
    for part in ("script/script.js", "script/pdf.js", "viewer/viewer.js", "index.html"):
        assert f"yarrowdew/web/{part}" in names
    # The same versions as here; what checks them by digest speaks of files that are not all needed.
    locked = re.findall(r"^([\w.-]+==[^\\\n]+)", (HERE / "requirements.lock").read_text(), re.M)
    versions = tmp_path / "versions.txt"
    versions.write_text("\n".join(locked))
    run(uv, "venv", "--quiet", "--python", sys.executable, tmp_path / "empty", cwd=tmp_path)
    python = tmp_path / "empty" / "bin" / "python"
    run(
        uv,
        "pip",
        "install",
        "--quiet",
        "--python",
        python,
        "--constraint",
        versions,
        wheel,
        cwd=tmp_path,
    )
    dew().frame.write_csv(tmp_path / "trial.csv")
    asked = ("--x", "dose", "--y", "shed", "--colour", "coating")
    command = python.with_name("yarrowdew")
    for ending in ("svg", "png", "pdf"):
        run(command, "draw", "trial.csv", *asked, "-o", f"out.{ending}", cwd=tmp_path)
    here = figure(tmp_path / "trial.csv", "dose", "shed", colour="coating")
    assert (tmp_path / "out.svg").read_bytes() == here.image("svg")
    assert (tmp_path / "out.png").read_bytes() == here.image("png")
    assert (tmp_path / "out.pdf").read_bytes().startswith(b"%PDF-1.7")
