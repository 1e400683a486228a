"""A small list of made-up places to plan a first day at."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Named:
    """A place: degrees north and east, its zone, and its mains' frequency."""

    name: str
    latitude: float
    longitude: float
    zone: str
    mains: int


PLACES = (
    Named("Saltmarsh Quay", 54.3, 10.1, "Europe/Berlin", 50),
    Named("Upper Tarn", 46.8, 10.3, "Europe/Zurich", 50),
    Named("Skerry Light", 69.7, 18.9, "Europe/Oslo", 50),
    Named("Kestrel Mesa", 35.1, -106.6, "America/Denver", 60),
    Named("Lantern Straits", 1.3, 103.8, "Asia/Singapore", 50),
    Named("South Landing", -43.6, 172.7, "Pacific/Auckland", 50),
)
