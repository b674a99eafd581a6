"""The one exception that carries a message meant for the person at the screen."""


class LexigonError(Exception):
    """Something the user asked for cannot be done; ``str(error)`` says why in plain words.

    ``field`` names the input it belongs to (``"width"``, ``"margins.head"``), so that a screen can
    show the message where it happened.
    """

    def __init__(self, message: str, field: str = "") -> None:
        super().__init__(message)
        self.field = field


class FormError(LexigonError):
    """Data that is not a job, or not one that this version reads."""
