"""Where the sun stands for a shoot, and on which side of it the camera looks."""

COMPASS = ("north", "north-east", "east", "south-east", "south", "south-west", "west", "north-west")
BEARINGS = {name: 45.0 * k for k, name in enumerate(COMPASS)}
SIDE = (
    60.0  # degrees from the sun, within which it stands in front, and beyond 180 less that behind
)
LEAST = -0.833  # degrees at which its upper edge is on the horizon


def named(bearing: float) -> str:
    """A bearing by the eight winds."""
    return COMPASS[round(bearing / 45) % 8]


def row(height: float, bearing: float, looking: float | None) -> str:
    """The sun of a moment in words; empty while it is down."""
    if height < LEAST:
        return ""
    words = f"{max(height, 0):.0f}° high in the {named(bearing)} ({bearing:.0f}°)"
    if looking is None:
        return f"{words}."
    apart = abs((bearing - looking + 180) % 360 - 180)
    if apart <= SIDE:
        return (
            f"{words}, before the camera: back light, faces are in shade and the lens wants a hood."
        )
    if apart >= 180 - SIDE:
        return f"{words}, behind the camera: front light, faces squint when it is high."
    side = "right" if (bearing - looking) % 360 < 180 else "left"
    return f"{words}, from the {side}: side light."
