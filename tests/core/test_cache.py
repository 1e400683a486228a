"""What is kept in memory: against a plain model, whatever is asked in whatever order."""

from hypothesis import given
from hypothesis import strategies as st

from zesty_plum.core.base.cache import BoundedCache

STEPS = st.lists(
    st.tuples(st.sampled_from(["get", "put", "make"]), st.integers(0, 6), st.integers(0, 9)),
    max_size=60,
)


@given(STEPS, st.integers(1, 25))
def test_it_keeps_the_newest_within_the_bound(steps, most):
    """The model is a list, oldest first; what was put or looked at moves to its end, and the front
    goes while it is too much."""
    kept, model = BoundedCache(most, cost=lambda value: value[0]), []
    for what, key, cost in steps:
        there = dict(model).get(key)
        if what == "get":
            assert kept.get(key) == there
            new = there
        else:
            new = (cost, key) if what == "put" or there is None else there
            assert (
                kept.put(key, new)
                if what == "put"
                else kept.make(key, lambda cost=cost, key=key: (cost, key))
            ) == new
        if new is not None:
            model = [pair for pair in model if pair[0] != key] + [(key, new)]
        if what == "put" or (what == "make" and there is None):
            while len(model) > 1 and sum(value[0] for _, value in model) > most:
                model.pop(0)
        assert len(kept) == len(model)


def test_costs_that_grow_are_seen_at_the_next_look():
    kept = BoundedCache(10, cost=len)
    first = kept.put("first", [1, 2])
    kept.put("second", [1])
    first.extend(range(20))
    kept.put("second", [1])
    assert (kept.get("first"), kept.get("second")) == (None, [1])
