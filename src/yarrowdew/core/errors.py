"""The one error that a computation raises when it cannot be made."""

from __future__ import annotations


class FitError(ValueError):
    """A fit or reading that cannot be made from the data given.

    Parameters
    ----------
    message : str
        What is wrong, as one sentence for a person.
    remedy : str, optional
        What would help, as one sentence for a person.
    """

    def __init__(self, message: str, remedy: str = "") -> None:
        super().__init__(f"{message} {remedy}".strip())
        self.message = message
        self.remedy = remedy
