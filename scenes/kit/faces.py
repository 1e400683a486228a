"""What faces do: targets of expression by what a photographer would call them."""

UNIT = "expression/units/caucasian/"
# Eyes and lashes that are nearly black.
DARK = {
    "iris": ((0.045, 0.024, 0.012), (0.03, 0.014, 0.005)),
    "lash_colour": (0.01, 0.008, 0.007),
}


def narrowed(left, right):
    """Eyes drawn to slits, as in a bright light."""
    return [(UNIT + "eye-left-slit", left), (UNIT + "eye-right-slit", right)]


def lowered(amount):
    """Lids that come down over eyes which look down."""
    return [(UNIT + "eye-left-closure", amount), (UNIT + "eye-right-closure", amount)]


def calm(corners):
    """A shut mouth, its corners drawn back a little."""
    return [
        ("mouth/mouth-lowerlip-middle-up", 0.3),
        (UNIT + "mouth-corner-puller", corners),
    ]


def smile(amount, squint=0.4):
    """A smile with the mouth shut; the eyes take part by `squint`."""
    return [
        (UNIT + "mouth-corner-puller", amount),
        (UNIT + "eye-left-slit", amount * squint),
        (UNIT + "eye-right-slit", amount * squint * 1.25),
        ("cheek/l-cheek-trans-up", amount * 0.35),
        ("cheek/r-cheek-trans-up", amount * 0.3),
        ("cheek/l-cheek-volume-incr", amount * 0.25),
        ("cheek/r-cheek-volume-incr", amount * 0.25),
        ("mouth/mouth-dimples-in", amount * 0.3),
        ("eyes/l-eye-bag-incr", amount * 0.25),
        ("eyes/r-eye-bag-incr", amount * 0.25),
    ]


def uneven(amount):
    """A slight asymmetry; more than this at the mouth becomes a smirk."""
    return [
        ("asym/asym-mouth-1-l", 0.12 * amount),
        ("asym/asym-eye-3-l", 0.3 * amount),
        ("asym/asym-nose-2-r", 0.35 * amount),
        ("asym/asym-brown-1-l", 0.22 * amount),
        ("asym/asym-jaw-1-r", 0.3 * amount),
        ("asym/asym-cheek-1-l", 0.3 * amount),
        (UNIT + "eyebrows-left-inner-up", 0.10 * amount),
        (UNIT + "eyebrows-right-up", 0.06 * amount),
    ]
