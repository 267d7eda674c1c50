"""A figure in a script: what it shows, what it says, and its picture."""

from __future__ import annotations

import base64
import html
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from os import PathLike
from pathlib import Path
from typing import TYPE_CHECKING, Any, Unpack

import polars as pl

from yarrowdew.drawing.built import DrawingError
from yarrowdew.drawing.images import (
    IMAGE_TYPES,
    USUAL_DPI,
    ImageFormat,
    Pictured,
    image_of,
)
from yarrowdew.drawing.making import (
    FigureOptions,
    FigureRequest,
    document_of,
    kept_table,
    saved_document,
    wanted,
)
from yarrowdew.figures.answer import Answered, ReadingsAnswer, answer, readings_in
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.script.data import Data, table_of
from yarrowdew.tables.dataset_paths import is_dataset
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.table import Table

if TYPE_CHECKING:
    from yarrowdew.figures.document.plate import PlateDocument
    from yarrowdew.figures.sharing.dataset import Counted

ENDINGS: dict[str, str] = {
    "svg": "svg",
    "png": "png",
    "jpg": "jpeg",
    "jpeg": "jpeg",
    "pdf": "pdf",
    "html": "html",
    "htm": "html",
    "json": "json",
}
"""By a file's ending, the format that it is written in."""
_FRAME_HEIGHT = 640


class Drawable:
    """What can be saved, and shows itself in a notebook."""

    def pictured(self) -> tuple[list[Pictured], PlateDocument | None]:
        """Give the figures, and the page on which they stand."""
        raise NotImplementedError

    def written(self) -> str:
        """What it is, as JSON."""
        raise NotImplementedError

    def page(self) -> str:
        """Write a page of one file that can be looked into, and fetches nothing."""
        raise NotImplementedError

    def image(self, format: ImageFormat = "png", *, dpi: float = USUAL_DPI) -> bytes:
        """Draw it.

        Parameters
        ----------
        format : {"svg", "png", "jpeg", "pdf"}
        dpi : float
            Of PNG and JPEG.

        Examples
        --------
        >>> import yarrowdew as yd
        >>> figure = yd.figure({"dose": [1, 2, 3], "shed": [5, 9, 7]}, x="dose", y="shed")
        >>> figure.image("svg")[:5]
        b'<?xml'
        """
        figures, plate = self.pictured()
        return image_of(figures, format, plate=plate, dpi=dpi)

    def content(self, format: str, *, dpi: float = USUAL_DPI) -> bytes:
        """Write it in a format by name, as `save` does."""
        if format == "json":
            return self.written().encode()
        if format == "html":
            return self.page().encode()
        if format not in IMAGE_TYPES:
            raise DrawingError(
                f"There is no format '{format}'.",
                f"Choose one of: {', '.join(dict.fromkeys(ENDINGS.values()))}.",
            )
        return self.image(format, dpi=dpi)

    def save(
        self, path: str | PathLike[str], *, format: str | None = None, dpi: float = USUAL_DPI
    ) -> Path:
        """Save it; in which format, its ending says.

        Parameters
        ----------
        path : path
            That ends with .svg, .png, .jpg, .pdf, .html or .json.
        format : str, optional
            Where its ending does not say.
        dpi : float
            Of PNG and JPEG.

        Returns
        -------
        Path
            Where it was saved.

        Raises
        ------
        DrawingError
            If there is no such format, or the file cannot be written.

        Examples
        --------
        >>> import tempfile, yarrowdew as yd
        >>> figure = yd.figure({"dose": [1, 2, 3], "shed": [5, 9, 7]}, x="dose", y="shed")
        >>> with tempfile.TemporaryDirectory() as folder:
        ...     figure.save(folder + "/shed.svg").name
        'shed.svg'
        """
        to = Path(path)
        made = self.content(format or format_of(to), dpi=dpi)
        try:
            to.write_bytes(made)
        except OSError as error:
            reason = (error.strerror or "no access").lower()
            raise DrawingError(f"{to} cannot be written: {reason}.") from error
        return to

    def _repr_mimebundle_(self, **_: Any) -> dict[str, str]:
        """Show a live page in a frame of its own, and a picture where that is not shown."""
        frame = (
            f'<iframe sandbox="allow-scripts" style="width:100%;height:{_FRAME_HEIGHT}px;border:0" '
            f'srcdoc="{html.escape(self.page())}"></iframe>'
        )
        return {
            "text/html": frame,
            "image/png": base64.b64encode(self.image("png", dpi=144)).decode(),
            "text/plain": repr(self),
        }


def format_of(path: Path) -> str:
    """Tell in which format a file is written by its ending.

    Raises
    ------
    DrawingError
        If its ending says nothing.
    """
    ending = path.suffix.removeprefix(".").lower()
    if ending not in ENDINGS:
        raise DrawingError(
            f"{path.name} does not say in which format it is to be written.",
            f"End its name with one of: {', '.join('.' + e for e in ENDINGS)}.",
        )
    return ENDINGS[ending]


@dataclass(frozen=True)
class Figure(Drawable):
    """A figure of a table.

    Attributes
    ----------
    document : FigureDocument
        What it shows, and how it looks.
    table : Table
    asked : Wanted
        What it was asked for; what `with_` changes.
    whole : Table
        With the rows that are not kept.
    """

    document: FigureDocument
    table: Table
    asked: FigureRequest = field(repr=False)
    whole: Table = field(repr=False)

    def __repr__(self) -> str:
        """Say what goes against what."""
        up = ", ".join(self.document.y)
        return f"<yarrowdew figure: {up} against {self.document.x}, {self.table.rows:,} rows>"

    @cached_property
    def answered(self) -> Answered:
        """Everything that it is drawn from."""
        return answer(self.document, self.table)

    @cached_property
    def readings(self) -> ReadingsAnswer:
        """What the figure says: fits with intervals, what is read off, cautions.

        Examples
        --------
        >>> import yarrowdew as yd
        >>> data = {"dose": [1, 2, 3, 4], "shed": [5, 9, 13, 17]}
        >>> line = yd.figure(data, x="dose", y="shed", trends=["straight"]).readings.fits[0]
        >>> [round(c.value, 6) for c in line.coefficients]
        [1.0, 4.0]
        """
        return readings_in(self.answered.answer)

    @property
    def data(self) -> pl.DataFrame:
        """The rows of its first trend with fitted values, residuals and leverages.

        Raises
        ------
        TableError
            If it has no trend.
        """
        from yarrowdew.figures.analyses.residuals import residual_table  # noqa: PLC0415 (seldom needed)

        return residual_table(self.document, self.table, 0).frame

    def with_(self, **changes: Unpack[FigureRequest]) -> Figure:
        """The same figure but for what is given, as `yarrowdew.figure` takes it.

        Examples
        --------
        >>> import yarrowdew as yd
        >>> figure = yd.figure({"dose": [1, 2, 3], "shed": [5, 9, 7]}, x="dose", y="shed")
        >>> figure.with_(title="Droplets shed").document.title
        'Droplets shed'
        """
        asked = wanted({**self.asked, **changes})
        table = kept_table(self.whole, asked.get("where"))
        return Figure(document_of(table, asked), table, asked, self.whole)

    def pictured(self) -> tuple[list[Pictured], PlateDocument | None]:
        """Give the figure with its answer."""
        return [Pictured(self.document, self.answered, self.table)], None

    def written(self) -> str:
        """The document of the figure, as JSON."""
        return self.document.model_dump_json(indent=2)

    def page(self) -> str:
        """Write a page of one file that can be looked into, and fetches nothing."""
        from yarrowdew.drawing.single_page import single_page  # noqa: PLC0415 (seldom needed)
        from yarrowdew.figures.sharing.bundle import shared  # noqa: PLC0415
        from yarrowdew.figures.sharing.models import ShareRequest  # noqa: PLC0415

        title = self.document.title or repr(self).strip("<>").partition(": ")[2]
        asked = ShareRequest(title=title[:200], figures=[self.document])
        return single_page(title, shared(asked, lambda _: self.source()).model_dump_json())

    def source(self) -> Table | Counted:
        """What of its data may be shared."""
        return self.table

    def open(self, address: str = "http://127.0.0.1:8420", *, browser: bool = True) -> str:
        """Open it in the app that runs at an address, in a study of its own.

        Parameters
        ----------
        address : str
        browser : bool
            Whether a browser is opened, too.

        Returns
        -------
        str
            Its address there.

        Raises
        ------
        DrawingError
            If no app answers there.
        """
        from yarrowdew.script.moving import opened  # noqa: PLC0415 (records are not always needed)

        return opened(self.document, self.table, address, browser=browser)


def figure(
    data: Data,
    x: str | None = None,
    y: str | Sequence[str] = (),
    *,
    document: Mapping[str, Any] | FigureDocument | None = None,
    engine: str | None = None,
    **asked: Unpack[FigureOptions],
) -> Figure:
    """Make a figure.

    Parameters
    ----------
    data : path, mapping of columns, or table
        A file, columns by name, or a table of Polars, pandas, Arrow or whatever else speaks the
        Arrow PyCapsule interface. A folder of Parquet files, or a pattern of them, is read in chunks.
    x, y : str, str or sequence of str
        What goes across and up.
    document : mapping or FigureDocument, optional
        A saved document, drawn on these data; nothing else is asked for then but `where`.
    engine : str, optional
        Who looks at the parts of a dataset: "threads", or a Dask scheduler as "tcp://host:port".
    **asked
        Everything else that a figure shows: see `yarrowdew.FigureOptions`.

    Raises
    ------
    TableError
        If there is no such variable, or something cannot be asked for.

    Examples
    --------
    >>> import yarrowdew as yd
    >>> data = {"dose": [1, 2, 3, 4], "shed": [5, 9, 7, 12], "coating": ["A", "A", "B", "B"]}
    >>> yd.figure(data, x="dose", y="shed", colour="coating", trends=["straight"])
    <yarrowdew figure: shed against dose, 4 rows>
    """
    made = wanted({"x": x, "y": y, **asked})
    if document is not None and made.keys() - {"where"}:
        raise TableError(
            "A saved document already says everything that the figure shows.",
            "Leave out the other options, or change a copy of the document.",
        )
    saved: Mapping[str, Any] | None
    saved = document.model_dump(mode="json") if isinstance(document, FigureDocument) else document
    if isinstance(data, str | PathLike) and is_dataset(Path(data)):
        from yarrowdew.figures.datasets.view import view_of_dataset  # noqa: PLC0415 (few are)
        from yarrowdew.script.datasets import figure_of_dataset  # noqa: PLC0415

        return figure_of_dataset(view_of_dataset(Path(data), engine), made, saved)
    whole = table_of(data)
    table = kept_table(whole, made.get("where"))
    document = document_of(table, made) if saved is None else saved_document(saved, table)
    return Figure(document, table, made, whole)
