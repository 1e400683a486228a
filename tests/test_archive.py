"""A folder of pictures through a recipe: what is made, what is left alone, and what is said."""

import io
import json
import shutil
import subprocess
from contextlib import ExitStack

import numpy as np
import psutil
import pytest
from click.testing import CliRunner
from distributed import Client, LocalCluster
from PIL import ExifTags, Image

from tests.builders import HERON, file_of, raw_of, recipe
from zesty_plum.archive.folder import client_of
from zesty_plum.archive.shots import shots
from zesty_plum.cli import main
from zesty_plum.core.base.errors import PlumError
from zesty_plum.core.base.saving import save
from zesty_plum.core.bodies import file
from zesty_plum.core.pictures import metadata
from zesty_plum.core.pictures.decode import OWNERS, OWNERS_SHOT
from zesty_plum.core.recipe import dumps

LINEN = recipe("Slack tide", style="linen")
TIME, LENS, NORTH, SECRET = "2026:10:03 18:20:01", 35.0, "N", "Ada-4711"


def photo(seed):
    return np.random.default_rng(seed).integers(0, 255, (48, 72, 3), np.uint8)


def told():
    """EXIF as a camera writes it, with what belongs to its own pixels."""
    tags = Image.Exif()
    tags[ExifTags.Base.Make], tags[ExifTags.Base.DateTime] = "Made up", TIME
    tags[ExifTags.Base.Orientation] = 6
    inside = tags.get_ifd(ExifTags.IFD.Exif)
    inside[ExifTags.Base.FocalLength], inside[ExifTags.Base.MakerNote] = LENS, b"\0" * 400
    inside[ExifTags.Base.ExifImageWidth] = 72
    for tag in OWNERS_SHOT:
        inside[tag] = SECRET
    for tag in (*OWNERS, ExifTags.Base.ImageDescription):
        tags[tag] = SECRET
    tags.get_ifd(ExifTags.IFD.GPSInfo)[ExifTags.GPS.GPSLatitudeRef] = NORTH
    return tags


@pytest.fixture
def voyage(tmp_path):
    """A folder of pictures of several kinds, with what else lies in such folders."""
    folder = tmp_path / "voyage"
    (folder / "day two").mkdir(parents=True)
    (folder / "pier.jpg").write_bytes(file_of(photo(1), "JPEG", exif=told(), quality=95))
    (folder / "day two" / "weir.png").write_bytes(file_of(photo(2)))
    (folder / "twin.png").write_bytes(file_of(photo(3)))
    mosaic = np.full((48, 72), 9000)
    (folder / "twin.dng").write_bytes(raw_of(mosaic, tmp_path))
    (folder / "broken.jpg").write_bytes(b"\xff\xd8\xff\xe0 no more")
    (folder / "pier.xmp").write_text("<x/>")
    (folder / "notes.txt").write_text("rain")
    (folder / ".hidden.png").write_bytes(file_of(photo(4)))
    (tmp_path / "recipe.json").write_text(dumps(LINEN))
    return folder


def run(folder, *more, out="out"):
    base = folder.parent
    asked = ["develop", str(folder), "--recipe", str(base / "recipe.json"), "-o", str(base / out)]
    return CliRunner().invoke(main, [*asked, *more])


def test_a_folder_is_developed_once_and_what_is_there_is_never_touched(voyage):
    out = voyage.parent / "out"
    (out / "day two").mkdir(parents=True)
    mine = out / "day two" / "weir.jpg"
    mine.write_bytes(b"my own")
    (out / "twin.png.jpg").touch()  # begun by a run that died
    first = run(voyage, "--workers", "2", "--json")
    answer = json.loads(first.stdout)
    assert (first.exit_code, answer["developed"], answer["there"]) == (1, 3, 0)
    why = {row["file"]: row["why"] for row in answer["failed"]}
    assert set(why) == {"broken.jpg", "day two/weir.png"}
    assert why["broken.jpg"] == (
        "'broken.jpg' is broken or not finished: it cannot be decoded. Export it again."
    )
    assert why["day two/weir.png"] == (
        f"'{mine}' is there already and holds something else. Move it away."
    )
    with pytest.raises(PlumError, match="could not be written: File exists"):
        save(mine, b"came late", new=True)
    assert mine.read_bytes() == b"my own"
    made = sorted(str(p.relative_to(out)) for p in out.rglob("*.jpg"))
    assert made == ["day two/weir.jpg", "pier.jpg", "twin.dng.jpg", "twin.png.jpg"]
    assert not list(out.rglob(".*"))  # nothing half made
    before = {p: p.read_bytes() for p in out.rglob("*.jpg")}
    mine.unlink()
    (voyage / "broken.jpg").unlink()
    second = run(voyage, "--workers", "1")
    assert (second.exit_code, second.stdout) == (0, "1 developed, 3 there already.\n")
    assert all(p.read_bytes() == data for p, data in before.items() if p != mine)
    assert metadata.find(mine.read_bytes()).key == LINEN.key


def test_pictures_are_what_render_makes_and_keep_what_the_camera_told(voyage):
    with LocalCluster(n_workers=1, threads_per_worker=1, dashboard_address=None) as cluster:
        run(voyage, "--cluster", cluster.scheduler_address)
    base = voyage.parent
    single = base / "single.jpg"
    asked = ["render", str(base / "recipe.json"), "--picture", str(voyage / "pier.jpg")]
    assert CliRunner().invoke(main, [*asked, "-o", str(single)]).exit_code == 0
    image = Image.open(base / "out" / "pier.jpg")
    assert (np.asarray(image) == np.asarray(Image.open(single))).all()
    tags = image.getexif()
    assert tags[ExifTags.Base.Make] == "Made up"
    assert tags[ExifTags.Base.DateTime] == TIME
    assert tags[ExifTags.Base.Software] == "Zesty Plum"
    assert ExifTags.Base.Orientation not in tags  # it is upright
    inside = tags.get_ifd(ExifTags.IFD.Exif)
    assert inside[ExifTags.Base.FocalLength] == LENS
    assert not {ExifTags.Base.MakerNote, ExifTags.Base.ExifImageWidth} & set(inside)
    assert not tags.get_ifd(ExifTags.IFD.GPSInfo)


@pytest.mark.skipif(not shutil.which("exiftool"), reason="exiftool is not installed")
@pytest.mark.parametrize(
    ("flags", "place", "owner"),
    [
        ((), False, False),
        (("--keep-place",), True, False),
        (("--keep-owner",), False, True),
        (("--keep-place", "--keep-owner"), True, True),
    ],
)
def test_where_and_by_whom_stays_out_unless_it_is_wished(voyage, flags, place, owner):
    """As another program reads what was made, and as its bytes stand there."""
    run(voyage, "--workers", "1", *flags)
    made = voyage.parent / "out" / "pier.jpg"
    read = ["exiftool", "-json", "-groupNames", str(made)]
    told = json.loads(subprocess.run(read, capture_output=True, text=True, check=True).stdout)[0]
    assert ("EXIF:GPSLatitudeRef" in told) == place
    private = {"Artist", "Copyright", "UserComment", "SerialNumber",
               "OwnerName", "LensSerialNumber", "ImageUniqueID"}  # fmt: skip
    found = {name for name in private if f"EXIF:{name}" in told}
    assert found == (private if owner else set())
    assert (SECRET.encode() in made.read_bytes()) == owner
    assert told["EXIF:FocalLength"] == "35.0 mm"
    assert told["EXIF:Make"] == "Made up"


def test_no_other_way_out_carries_it(voyage, app, client, post):
    taken = {"file": ((voyage / "pier.jpg").open("rb"), "pier.jpg"), "as": "picture"}
    own = post("/take-in", taken, headers={"Accept": "application/json"}).json["scene"]
    single = voyage.parent / "single.jpg"
    asked = ["render", str(voyage.parent / "recipe.json"), "--picture", str(voyage / "pier.jpg")]
    assert CliRunner().invoke(main, [*asked, "-o", str(single)]).exit_code == 0
    ways = [single.read_bytes()]
    for url in (f"/take/picture.jpg?scene={own}", f"/take/picture.tif?scene={own}",
                f"/take/card.jpg?scene={own}", f"/render/{own}.jpg?width=600"):  # fmt: skip
        answer = client.get(url)
        assert answer.status_code == 200
        ways.append(answer.data)
    for data in ways:
        assert SECRET.encode() not in data
        if data[:2] == b"\xff\xd8":
            tags = Image.open(io.BytesIO(data)).getexif()
            assert not tags.get_ifd(ExifTags.IFD.GPSInfo)


@pytest.mark.parametrize(
    ("change", "says"),
    [
        (lambda f: f.rename(f.parent / "gone"), "There is no folder"),
        (lambda f: [p.unlink() for p in f.rglob("*.*") if p.suffix in (".jpg", ".png", ".dng")],
         "There is no picture in"),
    ],
)  # fmt: skip
def test_a_folder_without_pictures_is_refused(voyage, change, says):
    change(voyage)
    answer = run(voyage)
    assert answer.exit_code == 1
    assert answer.stderr.startswith(says)


def test_pictures_do_not_go_among_those_they_are_made_of(voyage):
    with pytest.raises(PlumError, match="among those"):
        shots(voyage, voyage / "day two" / "..")
    inside = shots(voyage, voyage / "day two")
    assert "day two/weir.png" not in {s.name for s in inside}


def test_workers_answer_this_machine_only_and_those_who_have_their_certificate():
    with ExitStack() as stack:
        client = stack.enter_context(client_of(stack, 1, None))
        client.wait_for_workers(1)
        mine = [psutil.Process(), *psutil.Process().children(recursive=True)]
        doors = [c for p in mine for c in p.net_connections() if c.status == psutil.CONN_LISTEN]
        assert doors
        assert {c.laddr.ip for c in doors} <= {"127.0.0.1", "::1"}
        address = client.scheduler.address.replace("tls", "tcp")
        with pytest.raises(OSError, match=r"imed out|reset by peer|closed"):
            Client(address, timeout=1)


def test_no_cluster_at_an_address_is_said(voyage, monkeypatch):
    monkeypatch.setattr("zesty_plum.archive.folder.SECONDS", 1)
    answer = run(voyage, "--cluster", "tcp://127.0.0.1:9")
    assert (answer.exit_code, answer.stdout) == (1, "")
    assert answer.stderr.startswith("No cluster answers at 'tcp://127.0.0.1:9'.")


def test_a_picture_of_another_recipe_is_not_taken_for_done(voyage):
    out = voyage.parent / "out"
    out.mkdir()
    made = io.BytesIO()
    Image.fromarray(photo(5)).save(made, "JPEG", xmp=metadata.packet(recipe("Other", grain="salt")))
    (out / "pier.jpg").write_bytes(made.getvalue())
    answer = run(voyage, "--json")
    failed = {row["file"] for row in json.loads(answer.stdout)["failed"]}
    assert "pier.jpg" in failed
    assert (out / "pier.jpg").read_bytes() == made.getvalue()


def test_workers_know_a_body_that_does_not_ship(voyage):
    at = voyage.parent / "mine.body.json"
    at.write_text(json.dumps(file.to_data(HERON) | {"id": "mine", "name": "Mine"}))
    mine = (voyage.parent / "recipe.json").read_text().replace(HERON.id, "mine")
    (voyage.parent / "recipe.json").write_text(mine)
    answer = run(voyage, "--json", "--workers", "2", "--body-file", str(at))
    assert json.loads(answer.stdout)["developed"] == 4
