"""How a scene is taken through a look: its white, its balance, what the meter says, and the
exposure that comes of it."""

from dataclasses import replace

import numpy as np

from ..base.arrays import Matrix
from ..base.late import library
from ..look import Look, Metering, Sensor, Stage, at_rest
from ..scenes.scene import Scene
from ..styles import style
from . import balance, learnt, metering, point, sense
from .balance import Light

cv2 = library("cv2")


def white_stops(scene: Scene, look: Look, sensor: Sensor) -> float:
    """Stops from mid grey to the clip point; of a picture that is exposed already, its own."""
    if scene.finished:
        return point.FINISHED_WHITE
    return sensor.headroom + look.guard if scene.headroom is None else scene.headroom


def balanced(look: Look, auto: Light, card: Light, finished: bool = False) -> Matrix:
    """The balance of a look where the automatic estimate and a grey card say these lights, and what
    a camera whose rendering was learnt makes of it."""
    matrix, how = balance.look_matrix(look, auto, card, finished), style(look.style)
    if how.learnt is None or finished:
        return matrix
    light = balance.assumed_light(look, auto, card)
    return learnt.lamp(light, np.array(how.learnt.lamps)) @ matrix


def make_point(scene: Scene, look: Look, sensor: Sensor) -> point.Point:
    """The point stages of `look` in the light of `scene`."""
    matrix = balanced(look, scene.auto_light, scene.card_light, scene.finished)
    return point.Point(
        look,
        style(look.style),
        white_stops(scene, look, sensor),
        point.as_tuple(matrix),
        scene.finished,
    )


def metered(scene: Scene, look: Look, sensor: Sensor) -> float:
    """Stops that the look's metering adds in this scene."""
    if scene.finished or scene.ev100 is None or look.metering is Metering.HAND:
        return 0.0
    matrix = balance.look_matrix(look, scene.auto_light, scene.card_light)
    asked = look.metering, sensor.headroom, scene.meters_at

    def look_at_it() -> float:
        return metering.meter(cv2.transform(scene.at_width(240), matrix), *asked)

    return scene.metered((point.as_tuple(matrix), *asked), look_at_it)


def exposed(scene: Scene, look: Look, sensor: Sensor) -> tuple[float, sense.Exposure | None]:
    """Stops that the look's metering adds in this scene, and the aperture, time and ISO that it
    comes to; those are None for a finished picture."""
    gain = metered(scene, look, sensor)
    if scene.ev100 is None:
        return gain, None
    asked = sense.Programme(
        look.guard,
        look.exposure + gain,
        look.iso_least,
        look.iso_most,
        look.aperture,
        look.slowest,
        look.rate if look.clip else 0.0,
    )
    made = sense.expose(sensor, scene.ev100, asked)
    dark = made.time if look.dark_frame and made.time >= sense.LONG and not look.clip else 0.0
    return gain, replace(made, dark=dark)


def lift(look: Look, gain: float, exposure: sense.Exposure | None) -> float:
    """Stops by which light is raised before the sensor, by what `exposed` gives: bias, meter, and
    what no exposure reaches."""
    return look.exposure + gain + (exposure.off if exposure else 0.0)


def table_key(made: point.Point) -> point.Point:
    """The point without what its table does not depend on, so that tables are shared."""
    look = replace(made.look, **at_rest(Stage.NEIGHBOURS, Stage.FILE))
    if made.finished:
        return replace(made, look=look)
    return replace(made, look=replace(look, **at_rest(Stage.BEFORE)), matrix=())
