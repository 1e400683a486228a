"""The one error family: a sentence for people that says what is wrong and what to do."""


class PlumError(Exception):
    """The input is at fault; `str(error)` is a sentence to show."""


class NotFound(PlumError):
    """Something was asked for that is not there."""


class Gone(PlumError):
    """What should be changed was removed meanwhile; nothing was changed."""


class Refused(PlumError):
    """Fields of a form or a file that do not fit. `faults` says of each, by its name there, what is
    wrong, to be shown beside it; the sentence names the first by its label."""

    def __init__(self, faults: dict[str, str], sentence: str) -> None:
        super().__init__(sentence)
        self.faults = faults


class Changed(Refused):
    """What a form was drawn from was changed meanwhile; `faults` says what stands there now."""
