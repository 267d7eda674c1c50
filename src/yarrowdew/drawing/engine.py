"""The engine in which the front end's drawing runs: one for all, loaded when it is first asked
for.
"""

from __future__ import annotations

import atexit
import base64
import json
from collections.abc import Callable
from concurrent.futures import Future
from contextlib import suppress
from dataclasses import dataclass
from functools import cache
from queue import SimpleQueue
from threading import RLock, Thread
from typing import TYPE_CHECKING, Any

from yarrowdew.drawing.built import DrawingError, built, font_files

if TYPE_CHECKING:
    from py_mini_racer import MiniRacer
    from pydantic import BaseModel

_LONGEST = 300.0
"""Seconds that one picture may take."""


@dataclass(frozen=True, slots=True)
class Laid:
    """What was laid out.

    Attributes
    ----------
    width, height : float
        Of the page, in points.
    alt : str
        What it shows, in words.
    fonts, plain_fonts : tuple of str
        Names of the files that its words need: in SVG, and in PDF.
    """

    width: float
    height: float
    alt: str
    fonts: tuple[str, ...]
    plain_fonts: tuple[str, ...]


class _Thread:
    """One thread for all that an engine does: what was made in another may not be let go in
    this.
    """

    def __init__(self) -> None:
        self._asked: SimpleQueue[tuple[Callable[[], Any], Future[Any]]] = SimpleQueue()
        # Not waited for when the interpreter goes; it is still there when the engine is let go.
        Thread(target=self._run, name="drawing", daemon=True).start()

    def _run(self) -> None:
        while True:
            work, answer = self._asked.get()
            try:
                answer.set_result(work())
            except BaseException as error:
                answer.set_exception(error)

    def does(self, work: Callable[[], Any]) -> Any:
        """Do something there, and wait for it."""
        answer: Future[Any] = Future()
        self._asked.put((work, answer))
        return answer.result()


class ScriptEngine:
    """Draws what it is given; one thing after the other, whoever asks."""

    def __init__(self) -> None:
        self.lock = RLock()
        self._thread = _Thread()
        self._context: MiniRacer | None = None
        self._kept: set[str] = set()
        self._writes_pdf = False

    def lay(self, panels: list[dict[str, Any]], plate: dict[str, Any] | None) -> Laid:
        """Lay a figure or a plate out, to be written; it stays until the next one.

        Parameters
        ----------
        panels : list of dict
            As the script of the front end takes them.
        plate : dict or None
            The page on which they stand; the first alone where None.
        """
        said = json.loads(self._call("lay", {"panels": panels, "plate": plate}))
        return Laid(
            said["width"],
            said["height"],
            said["alt"],
            tuple(said["fonts"]),
            tuple(said["plainFonts"]),
        )

    def svg(self, laid: Laid, *, scale: float | None = None, with_fonts: bool = True) -> str:
        """Write what was laid out as SVG.

        Parameters
        ----------
        laid : Laid
        scale : float, optional
            Pixels of a point, of an image into which it is made: marks are then pixels already.
        with_fonts : bool
            Whether the fonts go along.
        """
        if with_fonts:
            self._keep(laid.fonts)
        return str(self._awaited("svg", {"scale": scale, "withFonts": with_fonts}))

    def pdf(self, laid: Laid, title: str) -> tuple[bytes, str]:
        """Write what was laid out as PDF; with the letters that no font has, which are left out."""
        with self.lock:
            self._keep(laid.plain_fonts)
            if not self._writes_pdf:
                self._run(built("script/pdf.js").read_text(encoding="utf-8") + ";1")
                self._writes_pdf = True
            said = json.loads(self._promised(f"scriptPdf.pdf(script, {json.dumps(title)})"))
        return base64.b64decode(said["bytes"]), said["pictured"]

    def at_venue(self, document: dict[str, Any], venue: str) -> dict[str, Any]:
        """Set a document for where it will be seen.

        Raises
        ------
        DrawingError
            If there is no such venue.
        """
        said = json.loads(self._call("atVenue", {"document": document, "venue": venue}))
        if "venues" in said:
            raise DrawingError(
                f"There is no venue '{venue}'.", f"Choose one of: {', '.join(said['venues'])}."
            )
        made: dict[str, Any] = said["document"]
        return made

    def dressed(self, document: dict[str, Any], look: dict[str, Any]) -> dict[str, Any]:
        """Put a look on a document."""
        made: dict[str, Any] = json.loads(
            self._call("dressed", {"document": document, "look": look})
        )
        return made

    def look_of(self, document: dict[str, Any]) -> dict[str, Any]:
        """Tell how a document looks."""
        made: dict[str, Any] = json.loads(self._call("lookIn", document))
        return made

    def _keep(self, names: tuple[str, ...]) -> None:
        files = font_files()
        new = {
            name: base64.b64encode(files[name].read_bytes()).decode()
            for name in names
            if name not in self._kept
        }
        if new:
            self._call("keepFonts", new)
            self._kept |= set(new)

    def _running(self) -> MiniRacer:
        if self._context is None:
            try:
                from py_mini_racer import MiniRacer  # noqa: PLC0415 (a large library)
            except ImportError as error:
                raise DrawingError(
                    "Drawing without a browser needs the package mini-racer.",
                    "Install it, or draw in the app.",
                ) from error
            self._context = self._thread.does(MiniRacer)
            # Before the interpreter goes: an engine that is still there then takes it down.
            atexit.register(self.close)
            self._run(built("script/script.js").read_text(encoding="utf-8") + ";1")
            self._call("useFonts", list(font_files()))
        return self._context

    def close(self) -> None:
        """Let the engine go."""
        with self.lock:
            context, self._context = self._context, None
            self._kept.clear()
            self._writes_pdf = False
            if context is not None:
                self._thread.does(context.close)

    def _call(self, function: str, given: object) -> str:
        with self.lock:
            return str(self._run_call(f"script.{function}", json.dumps(given)))

    def _awaited(self, function: str, given: object) -> Any:
        with self.lock:
            return self._promised(f"script.{function}({json.dumps(json.dumps(given))})")

    def _run(self, code: str) -> Any:
        context = self._running()
        return self._said(lambda: context.eval(code, timeout_sec=_LONGEST))

    def _run_call(self, function: str, given: str) -> Any:
        context = self._running()
        return self._said(lambda: context.call(function, given, timeout_sec=_LONGEST))

    def _promised(self, code: str) -> Any:
        context = self._running()
        return self._said(lambda: context.eval(code).get(timeout=_LONGEST))  # type: ignore[union-attr]

    def _said(self, work: Callable[[], Any]) -> Any:
        from py_mini_racer import JSEvalException, JSPromiseError  # noqa: PLC0415 (a large library)

        try:
            return self._thread.does(work)
        except (JSEvalException, JSPromiseError, TimeoutError) as error:
            # Its text may hold the whole script: the last line says what it is.
            lines = [line.strip() for line in str(error).splitlines() if "Error" in line]
            said = lines[-1][-200:] if lines else type(error).__name__
            raise DrawingError(f"The picture cannot be drawn: {said}.") from None


@cache
def engine() -> ScriptEngine:
    """The engine of this process."""
    return ScriptEngine()


def started() -> None:
    """Let the engine load beside whatever is done until it is first asked for something."""

    def load() -> None:
        # What is wrong is said to whoever asks it for something.
        with suppress(DrawingError), engine().lock:
            engine()._running()

    Thread(target=load, name="loading", daemon=True).start()


def plain(model: BaseModel) -> dict[str, Any]:
    """A model as it goes over the wire."""
    made: dict[str, Any] = model.model_dump(mode="json")
    return made
