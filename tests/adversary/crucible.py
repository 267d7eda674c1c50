"""The long run of the adversary, whose table goes into docs/measurements.md.

Run by `make crucible`; `--scale 0.1` makes a tenth of it.
"""

from __future__ import annotations

import argparse
import datetime as dt
import logging
import multiprocessing
import random
import tempfile
import time
import warnings
from collections import Counter
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

FILES, DOCUMENTS, SHARES, KILLS, WALKS, STEPS = 10_000, 10_000, 2_000, 200, 3, 200
CHUNK = 250
PAGE = Path(__file__).parents[2] / "docs" / "measurements.md"


def _quiet() -> None:
    logging.disable(logging.CRITICAL)
    warnings.simplefilter("ignore")


def _files(seed: int) -> Counter[str]:
    _quiet()
    from tests.adversary.reading import tallied

    return tallied(CHUNK, seed, bombed=False)


def _bomb(name: str) -> Counter[str]:
    _quiet()
    from tests.adversary.files import bombs
    from tests.adversary.reading import outcome

    return Counter([outcome(name, bombs()[name], {})])


def _documents(seed: int) -> Counter[str]:
    _quiet()
    from tests.adversary.answering import tried

    return Counter(came for came, _, _ in tried(CHUNK, seed))


def _shares(seed: int) -> Counter[str]:
    _quiet()
    from tests.adversary import test_sharing

    check = test_sharing.test_what_is_left_out_is_in_no_byte_of_what_goes_out
    found: Counter[str] = Counter()
    for one in range(CHUNK):
        try:
            check.hypothesis.inner_test(seed * CHUNK + one)  # type: ignore[attr-defined]
            found["nothing out"] += 1
        except Exception as error:
            found[f"leak or fault: {type(error).__name__}"] += 1
    return found


def _kills(count: int) -> Counter[str]:
    from tests.adversary.killing import kills

    with tempfile.TemporaryDirectory() as folder:
        return kills(Path(folder), count)


def _walks(count: int, steps: int) -> Counter[str]:
    from tests.web.running import SIZE, chromium, open_demo, running
    from tests.web.walking import walk

    found: Counter[str] = Counter()
    for seed in range(count):
        with (
            tempfile.TemporaryDirectory() as folder,
            running(Path(folder)) as server,
            chromium() as b,
        ):
            page = b.new_context(viewport=SIZE).new_page()  # type: ignore[arg-type]
            complaints: list[str] = []
            page.on("pageerror", lambda error, said=complaints: said.append(str(error)))
            open_demo(page, server.address)
            wrong = walk(page, steps, 100 + seed) + complaints[:1]
            found["as it began" if not wrong else f"differs: {', '.join(wrong)[:80]}"] += 1
    return found


def _in_chunks(work: Callable[[int], Counter[str]], count: int) -> Counter[str]:
    """Share the work among the cores; a process that ends takes its chunk with it, and is counted."""
    found: Counter[str] = Counter()
    waiting = list(range(max(1, round(count / CHUNK))))
    context = multiprocessing.get_context("spawn")
    while waiting:
        with ProcessPoolExecutor(2, mp_context=context) as pool:
            running = {pool.submit(work, 1_000 + chunk): chunk for chunk in waiting}
            waiting = []
            for future, chunk in running.items():
                try:
                    found += future.result()
                except Exception as error:
                    found[f"killed the process: {type(error).__name__}"] += 1
                    if "BrokenProcessPool" not in type(error).__name__:
                        continue
                    # The other chunks of the same pool are tried again by themselves.
                    waiting = [c for c in running.values() if c > chunk]
                    break
    return found


def _table(rows: list[tuple[str, Counter[str], float]]) -> str:
    lines = ["| what | runs | what came of them | seconds |", "| --- | --- | --- | --- |"]
    for what, found, seconds in rows:
        came = ", ".join(f"{name}: {count:,}" for name, count in found.most_common())
        lines.append(f"| {what} | {sum(found.values()):,} | {came} | {seconds:,.0f} |")
    return "\n".join(lines)


def main() -> None:
    """Run all of it, and write the page."""
    asked = argparse.ArgumentParser(description=__doc__)
    asked.add_argument("--scale", type=float, default=1.0)
    asked.add_argument("--only", default="", help="files, documents, shares, kills or walks")
    given = asked.parse_args()
    scale = given.scale
    from tests.adversary.files import bombs

    work: dict[str, tuple[str, Callable[[], Counter[str]]]] = {
        "files": ("files changed by chance, of 13 formats", lambda: _in_chunks(_files, round(FILES * scale))),
        "bombs": (
            "small files that ask for very much",
            lambda: sum((_bomb(name) for name in bombs()), Counter()),
        ),
        "documents": (
            "random documents over awkward tables",
            lambda: _in_chunks(_documents, round(DOCUMENTS * scale)),
        ),
        "shares": ("random shares", lambda: _in_chunks(_shares, round(SHARES * scale))),
        "kills": ("kills in the midst of reading in and copying", lambda: _kills(max(1, round(KILLS * scale)))),
        "walks": (
            f"random walks of {STEPS} actions in the browser, taken back",
            lambda: _walks(max(1, round(WALKS * scale)), max(20, round(STEPS * min(1.0, scale)))),
        ),
    }  # fmt: skip
    rows = []
    for key, (what, run) in work.items():
        if given.only and given.only not in key:
            continue
        begun = time.monotonic()
        found = run()
        rows.append((what, found, time.monotonic() - begun))
        print(_table(rows[-1:]).splitlines()[-1], flush=True)
    if scale >= 1 and not given.only:
        _write(_table(rows))


def _write(table: str) -> None:
    text = PAGE.read_text(encoding="utf-8")
    head, tail = text.split("<!-- crucible -->")[0], text.split("<!-- /crucible -->")[1]
    when = dt.datetime.now(dt.UTC).date().isoformat()
    PAGE.write_text(
        f"{head}<!-- crucible -->\n\nRun on {when}.\n\n{table}\n\n<!-- /crucible -->{tail}",
        encoding="utf-8",
    )


if __name__ == "__main__":
    random.seed(1)
    main()
