"""What was missed comes back, further and further apart; and when it is time for a break."""

from collections.abc import Sequence
from dataclasses import dataclass

DAYS = (1, 3, 7, 16)  # until a missed question comes again, after each time that it was right
LONG, SLOW, LATELY = 40, 1.6, 10  # answers in a row, times slower than before, answers looked at


@dataclass(frozen=True)
class Given:
    """An answer: to which question, right or not, on which day (counted), after how many
    seconds."""

    key: str
    right: bool
    day: int
    seconds: float = 0.0


def due(answers: Sequence[Given], today: int) -> list[str]:
    """Questions that were missed and come again, the longest due first: a day after they were
    missed, then after 3, 7 and 16 days while they are right; then they are known."""
    boxes: dict[str, tuple[int, int]] = {}
    for given in answers:
        if not given.right:
            boxes[given.key] = (0, given.day)
        elif given.key in boxes:
            box, last = boxes[given.key]
            if given.day > last:  # twice on a day is once
                boxes[given.key] = (box + 1, given.day)
    waiting = [(last + DAYS[box], key) for key, (box, last) in boxes.items() if box < len(DAYS)]
    return [key for when, key in sorted(waiting) if when <= today]


def tired(answers: Sequence[Given]) -> str:
    """That it is time for a break, in a sentence; empty while it is not."""
    today = [a for a in answers if a.day == answers[-1].day] if answers else []
    if len(today) >= 2 * LATELY:
        early, late = today[:LATELY], today[-LATELY:]
        slower = sum(a.seconds for a in late) > SLOW * sum(a.seconds for a in early) > 0
        worse = sum(a.right for a in late) + 2 <= sum(a.right for a in early)
        if slower and worse:
            return "You answer slower and miss more than at first: a break would help."
    if len(today) and len(today) % LONG == 0:
        return f"{len(today)} answers today: look out of the window for a while."
    return ""
