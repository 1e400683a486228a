"""Exposures in a camera's words."""

import itertools
import math

import pytest

from zesty_plum.core.base import nominal


@pytest.mark.parametrize(
    ("series", "step", "start"),
    [
        (nominal.APERTURES, 1 / 6, 1.0),
        (nominal.TIMES, 1 / 3, 1 / 32768),
        (nominal.ISOS, 1 / 3, 50.0),
    ],
    ids=["apertures", "times", "isos"],
)
def test_a_series_is_thirds_of_a_stop_under_customary_names(series, step, start):
    """Against 2**(k/3), of which the names are roundings: never further off than half of a third of
    a stop."""
    for k, value in enumerate(series):
        assert abs(math.log2(value / start) - k * step) < step / 2, value
    assert all(b > a for a, b in itertools.pairwise(series))


@pytest.mark.parametrize(
    ("exposure", "words"),
    [
        ((5.6, 1 / 2437, 253), "f/5.6, 1/2500 s, ISO 250"),
        ((3.56, 1 / 1219, 125), "f/3.5, 1/1250 s, ISO 125"),
        ((2.8, 1 / 127, 12800), "f/2.8, 1/125 s, ISO 12800"),
        ((2.8, 0.31, 1290), "f/2.8, 1/3 s, ISO 1250"),
        ((16, 29, 98), "f/16, 30 s, ISO 100"),
        ((0.7, 1e-7, 10**7), "f/1, 1/32000 s, ISO 102400"),
    ],
)
def test_what_was_set_is_printed_as_the_nearest_name(exposure, words):
    assert nominal.printed(*exposure) == words
