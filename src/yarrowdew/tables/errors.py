"""What is wrong with a file or a table, and where."""

from __future__ import annotations

from yarrowdew.core.errors import UserFacingError


class TableError(UserFacingError):
    """A file that cannot be read, or a table that cannot do what was asked.

    Parameters
    ----------
    message : str
        What is wrong, as one sentence for a person.
    remedy : str, optional
        What would help, as one sentence for a person.
    row : int, optional
        Line of the file where it is wrong, counted from 1.
    column : str, optional
        Name of the variable where it is wrong.
    """

    def __init__(
        self, message: str, remedy: str = "", row: int | None = None, column: str | None = None
    ) -> None:
        super().__init__(message, remedy)
        self.row = row
        self.column = column
