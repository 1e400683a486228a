"""Finding slips: the search answers what plain Python answers; and bringing in is all or nothing,
whatever happens."""

import operator
import os
import random
import re
import signal
import time
import unicodedata
from contextlib import closing

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.builders import named
from zesty_plum.core import exchange
from zesty_plum.core.base.errors import PlumError
from zesty_plum.core.bodies import bodies
from zesty_plum.core.recipe import make, search
from zesty_plum.store import batches, database, shelf, slips

NOW = "2026-10-03T18:00:00Z"
NAMES = (
    "Slack tide",
    "Kite weather",
    "Café Größe",
    "Soot & rain",
    "last-lantern",
    "Reed_bed 2",
    "夕方 kelp",
    "Ink",
    "Tide tables",
)
NOTES = ("", "Overcast, no faces.", "under lamps; grain", "Linen on the line", "é è ñ", "shadows 1")
AUTHORS = ("pier crew", "loft crew", "night shift", "")
TAGS = ("faces", "keep", "wet stone")


def library():
    """A hundred and twenty recipes of all bodies, the same each time, with tags."""
    dice = random.Random(4)
    made = []
    for k in range(120):
        camera = dice.choice(list(bodies().values()))
        dials = {d.id: dice.choice(d.values) for d in camera.dials if dice.random() < 0.3}
        recipe = make(
            f"{dice.choice(NAMES)} {k % 7}",
            camera.id,
            dials,
            note=dice.choice(NOTES),
            author=dice.choice(AUTHORS),
        )
        made.append((recipe, sorted(dice.sample(TAGS, dice.randint(0, 2)))))
    return made


@pytest.fixture(scope="module")
def full(tmp_path_factory):
    path = tmp_path_factory.mktemp("shelf") / "plum.db"
    database.prepare(path)
    with closing(database.connect(path)) as db:
        kept = []
        for k, (recipe, tags) in enumerate(library()):
            slip = slips.create(db, recipe, f"2026-10-03T18:{k // 60:02d}:{k % 60:02d}Z")
            for tag in tags:
                shelf.tag(db, [slip.id], tag)
            kept.append((slip.id, recipe, tags))
        yield db, kept


def folded(text):
    plain = unicodedata.normalize("NFD", text).casefold()
    return re.findall(r"[^\W_]+", "".join(c for c in plain if not unicodedata.combining(c)))


def plainly(term, recipe, tags):
    """Whether a term holds, by reading it out in plain Python."""
    texts = search.texts_of(recipe, tags)
    camera = recipe.camera
    idle = term.field in camera.by_id and not camera.counts(camera.dial(term.field), recipe.dials)
    if idle and term.field not in texts:
        return False  # nobody set it
    if term.number is not None:
        value = recipe.dials.get(term.field)
        if isinstance(value, str) and camera.dial(term.field).unit == "level":
            value = camera.dial(term.field).values.index(value)  # strengths by their rank
        if value is None or isinstance(value, str):
            return False
        if term.sign == "=":
            return abs(value - term.number) < 0.006
        return {"<": operator.lt, ">": operator.gt, "<=": operator.le, ">=": operator.ge}[
            term.sign
        ](value, term.number)
    words = folded(term.value)
    if term.field in texts or not term.field:
        fields = [texts[term.field]] if term.field else texts.values()
        there = [w for text in fields for w in folded(text)]
        return all(any(t.startswith(w) for t in there) for w in words)
    if term.field not in recipe.dials:
        return False
    value = recipe.dials[term.field]
    there = folded(f"{value} {recipe.camera.dial(term.field).choice(value).label}")
    return all(any(t.startswith(w) for t in there) for w in words)


WORDS = st.sampled_from(
    [
        "tide",
        "ki",
        "cafe",
        "GRÖSSE",
        "soot",
        "夕方",
        "lin",
        "faces",
        "crew",
        "heron",
        "M2",
        "ink",
        "2",
        "zzz",
        "grain",
    ]
)
FIELDS = st.sampled_from(["name", "note", "author", "body", "style", "tag", "intent", "light"])
DIALS = st.sampled_from(["grain", "shadows", "kelvin", "saturation", "sharp", "noise_filter"])
SIGNS = st.sampled_from([">", "<", ">=", "<=", "=", " > ", ":"])
NUMBERS = st.builds(
    "{}{}{}".format, DIALS, SIGNS, st.sampled_from(["0", "1", "-1", "0.5", "4000", "+2"])
)
CHOICES = st.sampled_from(
    ["style:linen", "white_balance:auto", "sharpness:crisp", "output=picture", 'tag:"wet stone"']
)
TERMS = st.builds(
    lambda no, t: no + t,
    st.sampled_from(["", "", "-"]),
    WORDS | NUMBERS | CHOICES | st.builds("{}:{}".format, FIELDS, WORDS),
)


@settings(max_examples=250)
@given(st.lists(TERMS, max_size=4))
def test_a_search_finds_what_plain_python_finds(full, typed):
    db, kept = full
    query = search.parse(" ".join(typed))
    expected = [
        k
        for k, recipe, tags in reversed(kept)
        if all(plainly(t, recipe, tags) is not t.negated for t in query.terms)
    ]
    assert shelf.find(db, query) == expected
    assert shelf.count(db, query) == len(expected)
    assert shelf.find(db, query, most=5, after=3) == expected[3:8]


@given(st.text(max_size=80))
def test_anything_may_be_typed(full, text):
    shelf.find(full[0], search.parse(text))


def test_conditions_mean_what_they_say_and_misreadings_are_told(full):
    db, _ = full
    found = [slips.get(db, k).recipe for k in shelf.find(db, search.parse("grain>1 body:heron"))]
    assert found
    assert all(r.dials["grain"] in ("salt", "sand", "grit") for r in found)
    unknown = "No condition is called 'grian', so it was searched as words. Did you mean 'grain'?"
    for typed, said in (("grian>1", unknown), ("grain>much", "no number")):
        assert any(said in note for note in search.parse(typed).notes)
    names = [slips.get(db, k).name.casefold() for k in shelf.find(db, sort="name")]
    assert names == sorted(names)
    with pytest.raises(PlumError, match="newest"):
        shelf.find(db, sort="colour")


@pytest.fixture
def db(tmp_path):
    database.prepare(tmp_path / "plum.db")
    with closing(database.connect(tmp_path / "plum.db")) as opened:
        yield opened


def test_the_shelf_follows_every_change_and_can_be_made_anew(db):
    slip = slips.create(db, named("Tide", style="linen"), NOW)
    slips.save(db, slip.id, named("High tide", style="ink", note="wet"), NOW)
    assert shelf.tag(db, [slip.id], "family, indoors,") == ["family", "indoors"]
    assert shelf.tags_of(db, slip.id) == ["family", "indoors"]
    shelf.tag(db, [slip.id], "family, indoors", off=True)
    shelf.tag(db, [slip.id], "keep")

    def seen(text):
        return shelf.find(db, search.parse(text))

    for _ in range(2):
        assert seen("style:ink high wet tag:keep") == [slip.id]
        assert seen("linen") == []
        db.execute("DELETE FROM shelf")
        db.execute("DELETE FROM shelf_dial")
        db.execute("DELETE FROM shelf_text")
        assert seen("") == []
        shelf.refresh(db)
    slips.rename(db, slip.id, "Neap")
    shelf.tag(db, [slip.id], "KEEP", off=True)
    assert (seen("neap"), seen("high"), seen("tag:keep")) == ([slip.id], [], [])
    slips.delete(db, [slip.id], NOW)
    assert (seen("neap"), shelf.find(db, deleted=True)) == ([], [slip.id])


def brought(*recipes):
    return [exchange.Brought(r, "x.zip") for r in recipes]


def test_bringing_in_finds_doubles_asks_about_names_and_is_taken_back(db):
    old = slips.create(db, named("Tide", style="linen"), NOW)
    given_ = brought(
        named("Other name", style="linen"),
        named("Tide", style="ink"),
        named("New", grain="salt"),
        named("Again", grain="salt"),
    )
    batch = batches.stage(db, given_, NOW)
    rows = batches.rows(db, batch)
    assert [(bool(r.same), r.named, r.offered) for r in rows] == [
        (True, None, "skip"),
        (False, old.id, "new"),
        (False, None, "new"),
        (True, None, "skip"),
    ]
    made = batches.take(db, batch, ["skip", "next", "new", "skip"], NOW)
    assert batches.take(db, batch, ["new"] * 4, NOW) == made  # pressed twice
    assert (
        slips.get(db, old.id).version,
        slips.get(db, old.id).recipe.dials["style"],
        shelf.count(db),
    ) == (2, "ink", 2)
    batches.take_back(db, batch, NOW)
    assert (
        slips.get(db, old.id).version,
        slips.get(db, old.id).recipe.dials["style"],
        shelf.count(db),
    ) == (3, "linen", 1)
    with pytest.raises(PlumError):
        batches.take_back(db, batch, NOW)


def test_a_process_killed_while_bringing_in_leaves_all_or_nothing(tmp_path):
    """A hundred times, at moments spread over the whole work."""
    path, many = tmp_path / "plum.db", 40
    database.prepare(path)
    with closing(database.connect(path)) as db:
        batch = batches.stage(
            db,
            brought(
                *(named(f"Slip {k}", noise_filter=k % 5, shadows=k % 7 - 3) for k in range(many))
            ),
            NOW,
        )
        begun = time.perf_counter()
        batches.take(db, batch, ["new"] * many, NOW)
        whole = time.perf_counter() - begun
        before, killed = shelf.count(db), 0
    for round_ in range(100):
        child = os.fork()
        if child == 0:
            opened = database.connect(path)
            again = batches.stage(
                opened, brought(*(named(f"Slip {k}", colour=k % 4) for k in range(many))), NOW
            )
            batches.take(opened, again, ["new"] * many, NOW)
            os._exit(0)
        time.sleep(whole * (round_ % 10) / 10)
        os.kill(child, signal.SIGKILL)
        died = os.waitpid(child, 0)[1] == signal.SIGKILL
        killed += died
        whole *= 1.06 if died else 0.95  # a machine that is quicker now is met sooner
        with closing(database.connect(path)) as db:
            assert db.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
            now = shelf.count(db)
            assert now - before in (0, many)
            done = db.execute(
                "SELECT done IS NOT NULL FROM intake ORDER BY id DESC LIMIT 1"
            ).fetchone()[0]
            assert (now > before) <= bool(done)
            before = now
    assert 20 <= killed <= 95  # enough of them died in the middle


def test_a_dial_that_has_no_say_is_not_found(tmp_path):
    """A kelvin under automatic white balance is nobody's choice."""
    path = tmp_path / "plum.db"
    database.prepare(path)
    with closing(database.connect(path)) as db:
        idle = slips.create(db, named("Idle", kelvin=8470), NOW)
        chosen = named("Chosen", white_balance="kelvin", kelvin=8470)
        kept = slips.create(db, chosen, NOW)
        assert shelf.find(db, search.parse("kelvin>7000"), "newest", 9) == [kept.id]
        assert shelf.find(db, search.parse("idle"), "newest", 9) == [idle.id]
