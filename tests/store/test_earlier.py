"""A library that was written for the first editions of bodies is carried over when it is opened."""

import io
import json
from contextlib import closing

import pytest

from zesty_plum.core.bodies import body
from zesty_plum.core.kit.case import About
from zesty_plum.core.notes import singly
from zesty_plum.core.recipe import dumps, make
from zesty_plum.store import backup, cases, earlier, notes, plans, shelf, slips
from zesty_plum.store.database import connect
from zesty_plum.store.place import prepared

NOW, THEN = "2026-12-02T10:00:00Z", "2026-11-20T08:00:00Z"
OLD = {"style": "linen", "shift_red": 2, "shift_blue": -3, "density": 1, "highlights": -1}


def text(dials: dict, name: str = "Slack tide", body_id: str = "heron-m2") -> str:
    """A recipe as it was written then: without an edition."""
    data = json.loads(dumps(make(name, body_id, {})))
    del data["body_edition"]
    return json.dumps(data | {"dials": dials})


def _write(db, slip: int, number: int, recipe: str) -> None:
    """What a version says, as an earlier program wrote it; ours never changes one."""
    kept = "SELECT sql FROM sqlite_master WHERE name = 'version_is_kept'"
    guard = db.execute(kept).fetchone()[0]
    db.execute("DROP TRIGGER version_is_kept")
    change = "UPDATE version SET recipe = ? WHERE slip = ? AND number = ?"
    db.execute(change, (recipe, slip, number))
    db.execute(guard)


@pytest.fixture
def old(tmp_path):
    """A data folder with a slip of two versions, a slot, a plan of one change and a drill, all with
    the dials of the first edition."""
    place = prepared(tmp_path / "data")
    with closing(connect(place.database)) as db:
        slip = slips.create(db, make("Slack tide", "heron-m2", {"style": "ink"}), THEN)
        slips.save(db, slip.id, make("Slack tide", "heron-m2", {"style": "linen"}), THEN)
        for number, dials in ((1, {"style": "ink", "grain": 2}), (2, OLD)):
            _write(db, slip.id, number, text(dials))
        case = cases.add(db, body("heron-m2"), About(name="Heron A"), NOW)
        linen = make("Tide", "heron-m2", {"style": "linen"})
        plans.put(db, case.id, plans.Put("1", slip.id, 2, linen, "", "", NOW, None))
        db.execute("UPDATE kit_slot SET recipe = ?", (text({"grain": 2, "sharpness": -2}),))
        made = singly.plan(
            make("x", "heron-m2", {"style": "linen"}), "shift_amber", (0, 10, 20), ["loft"]
        )
        number = notes.plan(db, "Red", None, made, NOW)
        marks = json.dumps([["loft", 2, "best", ""], ["loft", 4, "bad", ""]])
        db.execute(
            "UPDATE single SET base = ?, dial = 'shift_red', places = '[0, 2, 4]', marks = ?",
            (text({"style": "linen"}), marks),
        )
    return place, slip.id, case.id, number


def test_a_slip_gets_a_version_and_keeps_its_old_text(old):
    place, slip, _, _ = old
    with closing(connect(place.database)) as db:
        before = [r[0] for r in db.execute("SELECT recipe FROM version ORDER BY number")]
    for _ in range(2):  # once: the second opening finds nothing to do
        prepared(place.folder)
    with closing(connect(place.database)) as db:
        assert [r[0] for r in db.execute("SELECT recipe FROM version ORDER BY number")][
            :2
        ] == before
        now = slips.get(db, slip)
        assert (now.version, now.versions, now.saved_at) == (3, 3, THEN)
        assert now.recipe.dials["shift_amber"] == 20
        assert now.recipe.carried == ()
        was = slips.get(db, slip, 2).recipe
        assert was.dials == now.recipe.dials
        assert any("no dial for Density 1 any more" in w for w in was.carried)
        assert shelf.names(db) == [(slip, "Slack tide")]


def test_of_many_slips_it_is_told_how_far_it_is(old, monkeypatch):
    place, *_ = old
    monkeypatch.setattr(earlier, "TOLD", 1)
    with closing(connect(place.database)) as db:
        for k in range(2):
            other = slips.create(db, make(f"Tide {k}", "heron-m2", {}), THEN)
            _write(db, other.id, 1, text({"colour": k + 1}))
    told = []
    prepared(place.folder, told.append)
    assert [line.rsplit(": ", 1)[1] for line in told] == ["0 of 3", "1 of 3", "2 of 3"]
    prepared(place.folder, told.append)
    assert len(told) == 3


def test_slots_and_plans_of_one_change_come_along(old):
    place, _, case, number = old
    prepared(place.folder)
    with closing(connect(place.database)) as db:
        put = plans.slots_of(db, case)["1"]
        assert (put.recipe.dials["grain"], put.recipe.dials["sharpness"]) == ("salt", -2)
        assert put.version == 3  # the slip's newest then, and now
        single = notes.single(db, number)
        assert single.plan.dial == "shift_amber"
        assert single.plan.places == (0, 10, 15)
        assert single.said_of(("loft", 10))[0] == "best"
        assert single.said_of(("loft", 15))[0] == "bad"


def test_what_cannot_be_read_stays_and_stops_nothing(old):
    place, slip, _, _ = old
    with closing(connect(place.database)) as db:
        other = slips.create(db, make("Odd", "heron-m2", {}), THEN)
        _write(db, other.id, 1, text({"grain": 99}))
    prepared(place.folder)
    with closing(connect(place.database)) as db:
        assert slips.get(db, slip).version == 3
        assert (
            db.execute("SELECT count(*) FROM version WHERE slip = ?", (other.id,)).fetchone()[0]
            == 1
        )


def test_an_old_backup_and_the_same_library_are_one(old, tmp_path):
    """Put back into the library that it came from, which was carried over meanwhile, it doubles
    nothing; into an empty one it brings everything, carried over."""
    place, *_ = old
    out = io.BytesIO()
    with closing(connect(place.database)) as db:
        backup.write(db, place, out, NOW)
    prepared(place.folder)
    with closing(connect(place.database)) as db:
        found = backup.add(db, place, io.BytesIO(out.getvalue()))
        assert (found.slips, found.known) == (0, 1)
    fresh = prepared(tmp_path / "fresh")
    with closing(connect(fresh.database)) as db:
        assert backup.add(db, fresh, io.BytesIO(out.getvalue())).slips == 1
        assert slips.get(db, 1).recipe.dials["shift_amber"] == 20
        assert earlier.carry_over(db) == 0


def test_a_question_to_match_by_hand_is_asked_in_dials_of_today():
    asked = {"body": "heron-m2", "scene": "table", "dials": ["shift_red", "colour"],
             "target": [["shift_red", 3]]}  # fmt: skip
    question, said = earlier.matched(asked, "2;shift_red=2")
    assert question["target"] == [["shift_amber", 10], ["shift_green", -3]]
    assert set(question["dials"]) == {"shift_amber", "shift_green", "colour"}
    assert said == "2;shift_amber=10;shift_green=-2"
    assert earlier.matched({"scene": "table"}, "a") == ({"scene": "table"}, "a")
