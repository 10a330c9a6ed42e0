"""A new factor on old plots: each level once in each, drawn evenly, on the same ground."""

from collections import Counter

import pytest

from apercu_core.design.crossing import OldPlot, cross_onto
from apercu_core.errors import Refused
from apercu_core.field.layout import Rectangle

OLD = [
    OldPlot(f"{b}0{n}", str(b), t, Rectangle(4 * n, 12 * b, 3, 9))
    for b in (1, 2)
    for n, t in enumerate(("bare", "rye"))
]
LEVELS = ("0 kg N", "50 kg N", "100 kg N")


def test_every_level_stands_once_in_every_old_plot_and_keeps_what_it_held():
    parts = cross_onto(OLD, LEVELS, 7)
    assert len(parts) == 12
    for plot in OLD:
        own = [p for p in parts if p.of == plot.label]
        assert sorted(p.level for p in own) == sorted(LEVELS)
        assert {(p.earlier, p.block) for p in own} == {(plot.treatment, plot.block)}
        assert [p.label for p in own] == [plot.label + letter for letter in "abc"]
        assert [p.place.y for p in own] == [plot.place.y + 3 * i for i in range(3)]
        assert sum(p.place.width * p.place.length for p in own) == plot.place.width * plot.place.length


def test_the_same_seed_draws_the_same_for_ever():
    assert [p.level for p in cross_onto(OLD[:1], ("a", "b", "c", "d"), 20261125)] == ["b", "d", "c", "a"]


def test_orders_inside_a_plot_are_even_and_plots_are_drawn_apart():
    firsts, pairs = Counter(), Counter()
    for seed in range(3000):
        one, other, *_ = (
            tuple(p.level for p in cross_onto(OLD, ("x", "y"), seed) if p.of == plot.label) for plot in OLD
        )
        firsts[one] += 1
        pairs[one, other] += 1
    assert sum((n - 1500) ** 2 / 1500 for n in firsts.values()) < 10.8  # chi-squared, 1 df, p 0.001
    assert sum((n - 750) ** 2 / 750 for n in pairs.values()) < 16.3  # 3 df


@pytest.mark.parametrize(
    ("levels", "says"),
    [(("50",), "at least two levels"), (("N", "n"), "are the same"), (tuple("abcdefghij"), "would be 0.90 m")],
)
def test_what_cannot_be_crossed_is_refused_with_the_reason(levels, says):
    with pytest.raises(Refused, match=says):
        cross_onto(OLD, levels, 1)
