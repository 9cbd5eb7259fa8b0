"""Errors of the core: each says in one sentence what a reader can act on."""


class PelkError(ValueError):
    """Something that has no answer; ``path`` names the input it is about.

    Parameters
    ----------
    message : str
        A sentence for the grower.
    path : str
        Where in the plan, written as in the open formats: ``doses[1].unit``.
    """

    def __init__(self, message: str, path: str = "") -> None:
        super().__init__(message)
        self.message = message
        self.path = path


class OutOfRangeError(PelkError):
    """A value that cannot be true."""


class UnknownError(PelkError):
    """A value that was never measured, where it is needed. It is not zero."""


class UnreachableError(PelkError):
    """Something that chemistry or the stock will not give, with the reason."""
