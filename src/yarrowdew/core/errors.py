"""Errors that are sentences for a person: what is wrong, and what would help."""

from __future__ import annotations


class UserFacingError(ValueError):
    """Something that cannot be done, said so that a person can act on it.

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


class FitError(UserFacingError):
    """A fit or reading that cannot be made from the data given."""
