"""The one error family: a sentence for people that says what is wrong and what to do."""


class PlumError(Exception):
    """The input is at fault; `str(error)` is a sentence to show."""


class NotFound(PlumError):
    """Something was asked for that is not there."""
