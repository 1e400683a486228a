"""Cards: how long they last, and how fast they have to be."""

from .light import checked

USABLE = 0.95  # of a card's 10^9 bytes a gigabyte
BATTERY_CLIPS = 5  # pictures that a minute of clips costs a battery
SPARE = 1.2  # times the bit rate that a card should sustain
BOTH_SAME, IN_TURN, APART = "same", "in turn", "apart"


def minutes(gigabytes: float, megabits: float) -> tuple[float, float]:
    """Minutes of clips at so many megabits a second: on paper, and usable."""
    whole = checked("Gigabytes", gigabytes, 0.001) * 8000 / checked("Mbit/s", megabits, 0.001) / 60
    return whole, whole * USABLE


def files(gigabytes: float, megabytes: float) -> float:
    """Files of so many megabytes that a card holds; the last one in part."""
    whole = checked("Gigabytes", gigabytes, 0.001) * 1000 * USABLE
    return whole / checked("Megabytes", megabytes, 0.001)


def together(first: float, second: float, mode: str) -> float:
    """Gigabytes that two cards give: both the same as the smaller, in turn as the sum; apart as the
    first, which holds its own kind."""
    return {BOTH_SAME: min(first, second), IN_TURN: first + second, APART: first}[mode]


def fast_enough(sustained: float, megabits: float) -> bool:
    """Whether a card that sustains so many megabytes a second takes a bit rate with a fifth to
    spare."""
    return sustained * 8 >= SPARE * megabits
