"""One sum of the day from a shell: exact values in JSON, and what a camera prints beside them."""

from collections.abc import Callable
from datetime import date
from typing import Any, TypeVar

import click

from ..core.base.errors import PlumError
from ..core.base.nominal import printed_time
from ..core.reckon import brackets, cards, codes, light, sun, time, view
from ..core.reckon.time import seconds
from .common import EXAMPLE, JSON, print_json, told_faults


@click.group()
def reckon() -> None:
    """One sum of the day; each command does one."""


def _answer(as_json: bool, **values: Any) -> None:
    if as_json:
        return print_json(values)
    for name, value in values.items():
        shown = (
            ", ".join(f"{v:g}" if isinstance(v, float) else str(v) for v in value)
            if (isinstance(value, list))
            else f"{value:g}"
            if isinstance(value, float)
            else value
        )
        click.echo(f"{name}: {shown}")
    return None


Made = TypeVar("Made", bound=Callable[..., None])


def _number(
    name: str, required: bool = True, default: float | None = None
) -> Callable[[Made], Made]:
    return click.option(f"--{name}", type=float, required=required, default=default)


@reckon.command(epilog=EXAMPLE + "zesty-plum reckon ev --aperture 2.8 --time 1/125 --iso 3200")
@_number("aperture")
@click.option("--time", "time_", required=True)
@_number("iso", False, 100.0)
@JSON
@told_faults
def ev(aperture: float, time_: str, iso: float, as_json: bool) -> None:
    """Exposure value at ISO 100 of settings, and lux at the subject."""
    value = light.ev100(aperture, seconds(time_), iso)
    _answer(as_json, ev100=value, lux=light.lux(value), printed=f"EV {value:.1f}")


@reckon.command(epilog=EXAMPLE + "zesty-plum reckon hand --focal 45 --crop 1.5")
@_number("focal")
@_number("crop", False, 1.0)
@_number("stabilised", False, 0.0)
@JSON
@told_faults
def hand(focal: float, crop: float, stabilised: float, as_json: bool) -> None:
    """Slowest time that hands hold still."""
    found = light.by_hand(focal, crop, stabilised)
    _answer(as_json, seconds=found, printed=printed_time(found))


@reckon.command(
    "filter", epilog=EXAMPLE + "zesty-plum reckon filter --ev 15 --aperture 2.8 --iso 100 --rate 25"
)
@_number("ev")
@_number("aperture")
@_number("iso", False, 100.0)
@_number("rate")
@_number("angle", False, 180.0)
@JSON
@told_faults
def grey_filter(
    ev: float, aperture: float, iso: float, rate: float, angle: float, as_json: bool
) -> None:
    """Grey filter for a clip in a light."""
    found = light.filter_for(ev, aperture, iso, time.by_angle(rate, angle))
    factor = 2.0 ** max(0.0, found.stops)
    _answer(
        as_json,
        stops=found.stops,
        factor=factor,
        density=light.density_of(factor),
        sold=found.sold,
        rest=found.rest,
        printed=f"ND{2**found.sold}" if found.sold else "none",
    )


@reckon.command(epilog=EXAMPLE + "zesty-plum reckon angle --rate 24 --angle 172.8")
@_number("rate")
@_number("angle", False, 180.0)
@JSON
@told_faults
def angle(rate: float, angle: float, as_json: bool) -> None:
    """Time of a shutter angle."""
    found = time.by_angle(rate, angle)
    _answer(as_json, seconds=found, printed=f"1/{round(1 / found)}")


@reckon.command(epilog=EXAMPLE + "zesty-plum reckon flicker --mains 50 --rate 24")
@_number("mains")
@_number("rate", False)
@JSON
@told_faults
def flicker(mains: float, rate: float | None, as_json: bool) -> None:
    """Times at which lamps on the mains do not band."""
    found = time.safe_times(mains)
    more = {} if rate is None else {"drifts": time.drifts(mains, rate)}
    _answer(as_json, seconds=found, printed=[f"1/{round(1 / t)}" for t in found], **more)


@reckon.command(epilog=EXAMPLE + "zesty-plum reckon slow --record 100 --timeline 25 --seconds 10")
@_number("record")
@_number("timeline")
@click.option("--seconds", "seconds_", default="1")
@JSON
@told_faults
def slow(record: float, timeline: float, seconds_: str, as_json: bool) -> None:
    """Slow motion: by how much, and how long it lasts."""
    found = time.slower(record, timeline, seconds(seconds_))
    printed = f"{found.factor:g}x, {100 / found.factor:.0f} % speed"
    _answer(as_json, factor=found.factor, seconds=found.seconds, printed=printed)


@reckon.command(epilog=EXAMPLE + "zesty-plum reckon card --gigabytes 256 --mbps 100")
@_number("gigabytes")
@_number("mbps", False)
@_number("megabytes", False)
@JSON
@told_faults
def card(gigabytes: float, mbps: float | None, megabytes: float | None, as_json: bool) -> None:
    """Minutes, or files, that a card holds."""
    if (mbps is None) == (megabytes is None):
        raise PlumError("Give --mbps for clips, or --megabytes for pictures.")
    if mbps is not None:
        paper, usable = cards.minutes(gigabytes, mbps)
        return _answer(as_json, minutes=usable, paper=paper, printed=f"{int(usable)} min")
    files = int(cards.files(gigabytes, megabytes or 0.0))
    return _answer(as_json, files=files, printed=f"{files} files")


@reckon.command(epilog=EXAMPLE + "zesty-plum reckon bracket --kelvin 5000 --mired 30 --frames 3")
@click.option("--time", "time_")
@click.option("--frames", type=int, default=3)
@_number("step", False)
@_number("kelvin", False)
@_number("mired", False)
@JSON
@told_faults
def bracket(
    time_: str | None,
    frames: int,
    step: float | None,
    kelvin: float | None,
    mired: float | None,
    as_json: bool,
) -> None:
    """Frames of a bracket: exposure by time and step, or white balance by kelvin and mired."""
    if time_ is not None and step is not None:
        at = seconds(time_)
        printed = brackets.printed_bracket(at, frames, step)
        return _answer(as_json, times=brackets.exposure(at, frames, step), printed=printed)
    if kelvin is None or mired is None:
        raise PlumError("Give --time and --step, or --kelvin and --mired.")
    kelvins = brackets.balance(kelvin, mired, frames)
    return _answer(as_json, kelvins=kelvins, printed=[f"{round(k, -1):.0f} K" for k in kelvins])


@reckon.command(epilog=EXAMPLE + "zesty-plum reckon index --base 800 --above 6 --index 320")
@_number("base")
@_number("above")
@_number("index")
@_number("below", False, 8.0)
@JSON
@told_faults
def index(base: float, above: float, index: float, below: float, as_json: bool) -> None:
    """Stops above and below mid grey at an exposure index."""
    found = light.at_index(base, above, index, below)
    printed = f"{found.above:.1f} above, {found.below:.1f} below"
    _answer(as_json, above=found.above, below=found.below, printed=printed)


@reckon.command(
    "same-view", epilog=EXAMPLE + "zesty-plum reckon same-view --focal 35 --from 1.5 --to 1"
)
@_number("focal")
@click.option("--from", "from_", type=float, required=True)
@click.option("--to", type=float, required=True)
@JSON
@told_faults
def same_view(focal: float, from_: float, to: float, as_json: bool) -> None:
    """Focal length with the same view on another frame."""
    found = view.same_view(focal, from_, to)
    _answer(as_json, focal=found, printed=f"{found:.0f} mm")


@reckon.command(epilog=EXAMPLE + "zesty-plum reckon lapse --clip 20s --rate 25 --over 2h")
@click.option("--clip", required=True)
@_number("rate")
@click.option("--over", required=True)
@JSON
@told_faults
def lapse(clip: str, rate: float, over: str, as_json: bool) -> None:
    """Frames and interval of a time lapse."""
    found = time.lapse(seconds(clip), rate, seconds(over))
    printed = f"{found.frames} frames, every {found.interval:.1f} s"
    _answer(as_json, frames=found.frames, interval=found.interval, printed=printed)


@reckon.command(
    "codes", epilog=EXAMPLE + "zesty-plum reckon codes --curve srgb --bits 8 --range full"
)
@click.option("--curve", default="srgb")
@click.option("--bits", type=int, default=8)
@click.option("--range", "range_", default="full")
@JSON
@told_faults
def code_values(curve: str, bits: int, range_: str, as_json: bool) -> None:
    """Code values of the stop above mid grey, and what a grey card reads."""
    found = codes.codes(curve, bits, range_)
    grey = codes.grey_level(curve)
    _answer(as_json, codes=found, grey=grey, printed=f"{round(found)} codes, grey at {grey:.0f} %")


@reckon.command(
    "sun",
    epilog=EXAMPLE
    + "zesty-plum reckon sun --date 2026-10-03 --latitude 54.3 --longitude 10.1 "
    + "--zone Europe/Berlin",
)
@click.option("--date", "date_", required=True)
@_number("latitude")
@_number("longitude")
@click.option("--zone", required=True)
@JSON
@told_faults
def the_sun(date_: str, latitude: float, longitude: float, zone: str, as_json: bool) -> None:
    """When the sun rises and sets, by local time; null where it does not."""
    try:
        on = date.fromisoformat(date_)
    except ValueError as error:
        raise PlumError(f"'{date_[:20]}' is no date. Write it as 2026-10-03.") from error
    found = sun.day(sun.Place(latitude, longitude, zone), on)
    names = {"dawn": found.dawn, "rise": found.rise, "set": found.set, "dusk": found.dusk}
    told = {name: at.strftime("%H:%M") if at else None for name, at in names.items()}
    up = "the sun does not set" if found.up else "the sun does not rise"
    printed = f"{told['rise']} to {told['set']}" if told["rise"] and told["set"] else up
    _answer(as_json, **told, printed=printed)
