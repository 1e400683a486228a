"""Who goes first when many ask at once."""

import threading
import time
from collections import Counter

import pytest

from zesty_plum.web.server import turns
from zesty_plum.web.server.turns import Busy, Newest, Rank, Superseded, Turns


class Crowd:
    """Workers that wait for one hand, which is held until all of them wait."""

    def __init__(self) -> None:
        self.turns, self.done, self._threads = Turns(hands=1), [], []
        self._held = self.turns.turn(Rank.PICTURE)
        self._held.__enter__()

    def comes(self, name, rank, client="", steps=1, wanted=lambda: True, act=lambda name: None):
        def work() -> None:
            try:
                with self.turns.turn(rank, client, wanted) as pause:
                    for k in range(steps):
                        if k:
                            pause()
                        self.done.append(name)
                        act(name)
            except (Superseded, Busy) as error:
                self.done.append(f"{name} {type(error).__name__}")

        before = len(self.turns._waiting)
        thread = threading.Thread(target=work)
        thread.start()
        self._threads.append(thread)
        for _ in range(500):
            if len(self.turns._waiting) > before or not thread.is_alive():
                return
            time.sleep(0.005)
        raise AssertionError("it does not wait")

    def go(self) -> list[str]:
        self._held.__exit__(None, None, None)
        for thread in self._threads:
            thread.join(10)
            assert not thread.is_alive()
        assert self.turns._free == 1
        assert not self.turns._waiting
        assert not +self.turns._of_one
        return self.done


def test_the_most_urgent_goes_first_whoever_came_first():
    crowd = Crowd()
    for rank in (Rank.LONG, Rank.FIGURES, Rank.SMALL, Rank.PICTURE):
        crowd.comes(rank.name, rank, rank.name)
    assert crowd.go() == ["PICTURE", "SMALL", "FIGURES", "LONG"]


def test_people_go_in_turn():
    """One who asks for ten does not keep another waiting for more than one of them."""
    crowd = Crowd()
    for k in range(10):
        crowd.comes(f"greedy {k}", Rank.PICTURE, "greedy")
    for k in range(2):
        crowd.comes(f"modest {k}", Rank.PICTURE, "modest")
    done = crowd.go()
    assert [done.index(f"modest {k}") for k in range(2)] == [1, 3]


def test_figures_let_pictures_in_between_their_steps_and_are_then_finished():
    crowd = Crowd()

    def picture_comes(name: str) -> None:
        if crowd.done.count(name) == 1:
            crowd.comes("picture", Rank.PICTURE, "another")

    crowd.comes("first", Rank.FIGURES, "a", steps=3, act=picture_comes)
    crowd.comes("second", Rank.FIGURES, "b", steps=2)
    assert crowd.go() == ["first", "picture", "first", "first", "second", "second"]


def test_long_work_goes_round():
    crowd = Crowd()
    crowd.comes("one", Rank.LONG, "a", steps=3)
    crowd.comes("two", Rank.LONG, "b", steps=3)
    assert crowd.go() == ["one", "two"] * 3


def test_work_that_takes_memory_is_finished_before_more_of_it_is_begun():
    """Other long work goes on meanwhile, and one that is given up makes room."""
    crowd, wanted = Crowd(), {"first": True}

    def given_up(_: str) -> None:
        wanted["first"] = crowd.done.count("first") < 3

    crowd.comes("first", Rank.LARGE, "a", 9, lambda: wanted["first"], given_up)
    crowd.comes("second", Rank.LARGE, "b", steps=2)
    crowd.comes("long", Rank.LONG, "c", steps=2)
    done = crowd.go()
    assert crowd.turns._large == 0
    assert done.index("second") > done.index("first Superseded")
    assert sorted(done) == sorted([*["first"] * 3, "first Superseded", *["second", "long"] * 2])
    assert done.index("long") < done.index("second")


def test_what_waits_too_long_is_as_urgent_as_a_picture(monkeypatch):
    monkeypatch.setattr(turns, "PATIENCE", 0.1)
    crowd = Crowd()
    crowd.comes("figures", Rank.FIGURES, "a")
    time.sleep(0.2)
    crowd.comes("picture", Rank.PICTURE, "b")
    assert crowd.go() == ["figures", "picture"]


def test_what_nobody_waits_for_is_not_begun():
    crowd, wanted = Crowd(), {"old": True}
    crowd.comes("old", Rank.PICTURE, "a", wanted=lambda: wanted["old"])
    crowd.comes("new", Rank.PICTURE, "a")
    wanted["old"] = False
    assert Counter(crowd.go()) == Counter(["old Superseded", "new"])


def test_work_inside_work_has_its_turn_already():
    own = Turns(hands=1)
    with own.turn(Rank.LONG), own.turn(Rank.PICTURE) as pause:
        pause()
    assert own._free == 1
    with pytest.raises(ZeroDivisionError), own.turn(Rank.PICTURE):
        raise ZeroDivisionError
    assert own._free == 1


def test_a_crowd_of_one_is_told_to_wait(monkeypatch):
    monkeypatch.setattr(turns, "MOST_OF_ONE", 3)
    crowd = Crowd()
    for k in range(4):
        crowd.comes(f"{k}", Rank.PICTURE, "greedy")
    crowd.comes("other", Rank.PICTURE, "modest")
    assert Counter(crowd.go()) == Counter(["0", "1", "2", "3 Busy", "other"])


def test_a_window_that_asks_anew_wants_the_old_answer_no_more():
    newest = Newest()
    old, other, plain = newest.asked("window.1"), newest.asked("another.1"), newest.asked("x")
    assert old()
    new = newest.asked("window.2")
    assert [asked() for asked in (old, new, other, plain)] == [False, True, True, True]
    late = newest.asked("window.1")  # overtaken on the way
    assert not late()
    assert new()
