"""Whoever changes what an address renders raises the engine's number, or browsers and folders keep
showing the old pictures."""

import json

import numpy as np

from tools import engine
from zesty_plum.web.render.address import ENGINE

SAME = 0.1  # of 255, by which another processor's last digits may move the mean of a cell


def test_pictures_change_only_with_the_engines_number():
    kept = json.loads(engine.KEPT.read_text("utf-8"))
    assert kept["engine"] == ENGINE, "run make prepared"
    now = engine.looked_at()
    assert now.keys() == kept["pictures"].keys(), "run make prepared"
    changed = [
        name
        for name, cells in now.items()
        if np.abs(np.array(cells) - kept["pictures"][name]).max() > SAME
    ]
    assert not changed, f"raise ENGINE in web/render/address.py, then make prepared: {changed}"
