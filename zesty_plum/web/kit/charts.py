"""Teaching a camera from a picture of a chart, where it writes no raws."""

import re
import secrets

import numpy as np
from flask import Blueprint, Response, render_template, request, url_for
from flask.typing import ResponseReturnValue

from ...core import bodies as core
from ...core.base.arrays import Array, Matrix
from ...core.base.errors import NotFound, PlumError
from ...core.learn import chart
from ...core.paper.chart import sheet
from ...core.paper.sheet import PAPERS
from ...core.pictures.read import read
from ...core.pictures.write import preview
from ..frame.context import place, sent_file, tell, went
from ..frame.values import choice
from ..server.turns import Rank
from ..server.work import long_work
from ..ways.take import attached
from . import sending

blueprint = Blueprint("charts", __name__, template_folder="templates", url_prefix="/kit/chart")
KINDS = {"printed": "the chart that we print", "target": "the common target of 24 patches"}
LONGEST, SHOWN = 2400, 1000  # pixels of what is read, and shown to be pointed at
_TOKEN = re.compile(r"[0-9a-f]{16}")


@blueprint.get("/")
def page() -> str:
    """What to do."""
    return render_template(
        "chart.html", every=core.bodies().values(), first=core.FIRST, kinds=KINDS
    )


@blueprint.get("/chart.pdf")
def printed() -> Response:
    """The chart to print."""
    paper = choice("paper", request.args.get("paper", "a4"), PAPERS)
    return attached("chart.pdf", sheet(paper), "application/pdf")


@blueprint.post("/")
def teach() -> ResponseReturnValue:
    """Read a picture of a chart; where its corners are not found, ask for them."""
    given = sent_file("Choose the picture of the chart.")
    data, name = given.read(), str(given.filename)
    kind = choice("chart", request.form.get("kind", "printed"), KINDS)
    with long_work("Looking for the chart", rank=Rank.LARGE) as work:
        shown = _read(data, name)
        at = chart.corners(shown) if kind == "printed" else None
        if at is not None:
            work.words = "Learning from the chart"
            return went(_learn(shown, at, kind, request.form.get("name", "")))
        token = secrets.token_hex(8)
        (place().scratch / f"chart-{token}").write_bytes(data)
    called, like = request.form.get("name", ""), request.form.get("like", "")
    at_page = url_for(
        "charts.point", token=token, kind=kind, file=name[-60:], name=called, like=like
    )
    return went(at_page)


def _read(data: bytes, name: str) -> Array:
    scene = read(data, name, "own-chart", longest=LONGEST)
    if not scene.finished:
        raise PlumError("This is a raw. Give the picture that the camera made, a JPEG.")
    return scene.pixels


def _kept(token: str) -> bytes:
    at = place().scratch / f"chart-{token}"
    if not _TOKEN.fullmatch(token) or not at.is_file():
        raise NotFound("This picture is not at hand any more. Choose it again.")
    return at.read_bytes()


@blueprint.get("/<token>")
def point(token: str) -> str:
    """The picture, to point at the chart's corner patches."""
    _kept(token)
    asked = {k: request.args.get(k, "")[:200] for k in ("name", "like", "kind", "file")}
    return render_template("point.html", token=token, asked=asked, kinds=KINDS)


@blueprint.get("/<token>.jpg")
def picture(token: str) -> Response:
    """The picture, small."""
    scene = read(_kept(token), request.args.get("file", "chart.jpg"), "own-chart", longest=SHOWN)
    pixels = np.asarray(np.clip(np.rint(scene.pixels * 255), 0, 255), np.uint8)
    return Response(preview(pixels), mimetype="image/jpeg")


@blueprint.post("/<token>")
def pointed(token: str) -> ResponseReturnValue:
    """Learn from it, its corner patches being where somebody pointed: `at` is eight shares of the
    picture's width and height."""
    numbers = re.findall(r"[01]?\.\d+|[01]\b", request.form.get("at", ""))
    if len(numbers) != 8:
        raise PlumError("Point at four corner patches: first, last of its row, and the two below.")
    kind = choice("chart", request.form.get("kind", "printed"), KINDS)
    with long_work("Learning from the chart", rank=Rank.LARGE):
        shown = _read(_kept(token), request.form.get("file", "chart.jpg"))
        size = np.array([shown.shape[1], shown.shape[0]], float)
        at = np.array(numbers, float).reshape(4, 2) * size
        return went(_learn(shown, at, kind, request.form.get("name", "")))


def _learn(shown: Array, at: Matrix, kind: str, name: str) -> str:
    used = chart.printed()[0] if kind == "printed" else chart.target()
    like = core.body(request.form.get("like") or core.FIRST)
    made = chart.learn(chart.patches(shown, at, used), used, like, name or "My camera")
    tell(
        f"Its patches come out within {made.mean:.1f} CIEDE2000 while they were left out "
        f"(as Plain: {made.before:.1f}).",
        "done",
    )
    return sending.stage(core.file.dumps(made.body))
