"""Sensors with two native ISOs: noise by the sensor's own law, and from which ISO on the second one
is the cleaner choice."""

import math

from ..look import Sensor
from .light import checked

SHADOW = 4.0  # stops below mid grey, where people look for noise


def signal_to_noise(sensor: Sensor, iso: float, stops: float = 0.0) -> float:
    """Of one photosite at `stops` from mid grey, exposed for an ISO: electrons fall with ISO, their
    own noise is their root (Poisson), and the electronics' comes on top."""
    electrons = sensor.electrons * sensor.base_iso / checked("An ISO", iso, 1, 1e7) * 2.0**stops
    return float(electrons / math.sqrt(electrons + sensor.electronics(iso) ** 2))


def better_from(sensor: Sensor, stops: float = 0.0) -> float:
    """The ISO from which on the second native ISO shows less noise than itself, though it is
    exposed less; the second itself where none does. Solves S / sqrt(S + r^2) = q for S."""
    quality = signal_to_noise(sensor, sensor.second_iso, stops) ** 2
    signal = (quality + math.sqrt(quality**2 + 4 * quality * sensor.read_noise**2)) / 2
    iso = sensor.electrons * sensor.base_iso * 2.0**stops / signal
    return float(min(max(iso, sensor.base_iso), sensor.second_iso))


def room_below(sensor: Sensor, native: float) -> float:
    """Stops below mid grey at which a photosite's signal is as large as its noise: S = (1 + sqrt(1
    + 4 r^2)) / 2 electrons."""
    least = (1 + math.sqrt(1 + 4 * sensor.electronics(native) ** 2)) / 2
    return math.log2(sensor.electrons * sensor.base_iso / native / least)


def native_of(sensor: Sensor, iso: float) -> float:
    """The native ISO nearest to an ISO, by ratio."""
    second = sensor.second_iso
    return second if second and iso > math.sqrt(sensor.base_iso * second) else sensor.base_iso
