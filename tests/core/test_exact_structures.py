"""Contrasts of strip plots and of nested groups: their structure is found, and their probability is that of a general
integrator of the multivariate normal (Genz's, in scipy), which knows nothing of the structure.
"""

import numpy as np
import pytest
from scipy import stats

from apercu_core.statistics import crossed_normal, nested_normal
from apercu_core.statistics.crossed_normal import Strips, crossed_strips
from apercu_core.statistics.nested_normal import Group, nested_groups

AT = np.array([1.3, 2.4])


def strips(rows, columns, between_rows, between_columns, within, control=0):
    """Covariance of each cell minus the control cell, the cells in a shuffled order."""
    place = [(i, j) for i in range(rows) for j in range(columns)]
    np.random.default_rng(3).shuffle(place)
    cells = np.array([[between_rows * (a == c) + between_columns * (b == d) + within * ((a, b) == (c, d))
                       for c, d in place] for a, b in place])  # fmt: skip
    others = [i for i in range(len(place)) if i != control]
    minus = np.eye(len(place))[others] - np.eye(len(place))[control]
    return minus @ cells @ minus.T


def nested(sizes, common, own):
    """Correlations with a loading on what all share and one on what a group shares."""
    group = np.repeat(np.arange(len(sizes)), sizes)
    shared, apart = np.array(common)[group], np.array(own)[group]
    found = np.outer(shared, shared) + np.outer(apart, apart) * (group[:, None] == group)
    np.fill_diagonal(found, 1.0)
    return found


def inside(covariance, at):
    """P(all |Dᵢ| ≤ x sd(Dᵢ)), to about 1e-6."""
    edge = at * np.sqrt(np.diagonal(covariance))
    return stats.multivariate_normal.cdf(
        edge, cov=covariance, lower_limit=-edge, abseps=1e-7, releps=0, maxpts=1_000_000, rng=np.random.default_rng(5)
    )


@pytest.mark.parametrize(
    ("given", "control"),
    [((3, 2, 0.4, 1.1, 0.7), 0), ((2, 3, 0.4, 1.1, 0.7), 4), ((4, 2, 1.3, 0.2, 0.5), 7), ((2, 2, 0.3, 0.9, 2.0), 1)],
)
def test_strips_are_found_in_any_order_of_cells_and_give_the_probability_of_a_general_integrator(given, control):
    rows, columns, between_rows, between_columns, within = given
    covariance = strips(*given, control=control)
    found = crossed_strips(covariance)
    kinds = {(found.rows, round(found.between_rows, 6)), (found.columns, round(found.between_columns, 6))}
    assert kinds == {(rows, between_rows), (columns, between_columns)}
    assert found.rows >= found.columns
    assert found.within == pytest.approx(within, rel=1e-6)
    assert crossed_normal.inside_probability(AT, found) == pytest.approx(
        [inside(covariance, at) for at in AT], abs=1e-4
    )


def test_the_steps_of_the_integral_over_strips_are_fine_enough(monkeypatch):
    given = [Strips(3, 2, *v) for v in ((0.4, 1.1, 0.7), (4.0, 3.0, 1.0), (0.05, 0.05, 1.0), (9.0, 0.5, 0.6))]
    quick = [crossed_normal.inside_probability(AT, one) for one in given]
    monkeypatch.setattr(crossed_normal, "_step", lambda width: float(np.clip(0.8 * width, 0.03, 0.4)))
    monkeypatch.setattr(crossed_normal, "LEAST_WEIGHT", 1e-9)
    for one, found in zip(given, quick, strict=True):
        assert found == pytest.approx(crossed_normal.inside_probability(AT, one), abs=1e-4)


def test_what_isnt_crossed_or_would_take_too_long_is_left_to_others(monkeypatch):
    assert crossed_strips(strips(3, 3, 1.0, 0.0, 1.0)) is None  # a split plot: two distances
    assert crossed_strips(strips(3, 2, 1.0, 1.0, 0.0)) is None  # plots without an error of their own
    three = strips(3, 3, 1.0, 0.4, 1.0)
    assert crossed_strips(three[:-1, :-1]) is None  # a cell is missing
    unlike = three.copy()
    unlike[0, 1] = unlike[1, 0] = unlike[0, 1] + 0.01
    assert crossed_strips(unlike) is None
    found = crossed_strips(three)
    points = crossed_normal.nodes(found)
    # that many points is what the integral takes before those that hardly weigh are left out
    monkeypatch.setattr(crossed_normal, "LEAST_WEIGHT", 0.0)
    taken = len(crossed_normal._shared_by_columns(3, np.sqrt(0.4), 1.0)[1])
    assert points == pytest.approx(taken, rel=0.35)
    monkeypatch.setattr(crossed_normal, "MOST_NODES", points)
    assert crossed_strips(three) is not None
    monkeypatch.setattr(crossed_normal, "MOST_NODES", points - 1)
    assert crossed_strips(three) is None


@pytest.mark.parametrize(
    ("sizes", "common", "own"),
    [
        ((2, 3), (0.5, 0.5), (0.6, 0.6)),
        ((3, 2), (0.6, 0.45), (0.3, 0.7)),
        ((1, 2, 3), (0.7, 0.5, 0.3), (0.0, 0.5, 0.6)),
        ((2, 2, 1, 1), (0.4, 0.6, 0.8, 0.2), (0.7, 0.2, 0.0, 0.0)),
        ((2, 3), (0.0, 0.0), (0.9, 0.4)),
    ],
)
def test_nested_groups_are_found_and_give_the_probability_of_a_general_integrator(sizes, common, own):
    correlation = nested(sizes, common, own)
    found = nested_groups(correlation)
    assert [group.many for group in found] == list(sizes)
    made = nested(sizes, [group.common for group in found], [group.own for group in found])
    assert made == pytest.approx(correlation, abs=1e-9)
    assert nested_normal.inside_probability(AT, found) == pytest.approx(
        [inside(correlation, at) for at in AT], abs=4e-6
    )


@pytest.mark.parametrize(
    "groups",
    [
        (Group(2, 0.5, 0.5), Group(3, 0.5, 0.5)),
        (Group(4, 0.9, 0.2), Group(4, 0.9, 0.2)),
        (Group(2, 0.2, 0.95), Group(12, 0.2, 0.95)),
        (Group(1, 0.97, 0.0), Group(20, 0.1, 0.0), Group(3, 0.0, 0.6)),
    ],
)
def test_the_steps_of_nested_integrals_keep_an_error_below_ten_millionths(groups, monkeypatch):
    quick = nested_normal.inside_probability(AT, groups)
    monkeypatch.setattr(nested_normal, "_step", lambda steepness, many: 0.02)
    assert quick == pytest.approx(nested_normal.inside_probability(AT, groups), abs=2e-7)


def test_what_isnt_nested_is_left_to_others():
    assert nested_groups(nested((4,), (0.5,), (0.0,))) is None  # one group
    negative = nested((2, 2), (0.5, -0.5), (0.3, 0.3))
    assert nested_groups(negative) is None
    four = nested((2, 2, 2, 2), (0.5, 0.6, 0.7, 0.4), (0.3, 0.3, 0.3, 0.3))
    assert len(nested_groups(four)) == 4
    four[:2, 2:4] = four[2:4, :2] = 0.31  # of any two others it would be 0.3
    assert nested_groups(four) is None
    stronger = nested((2, 2), (0.5, 0.5), (0.0, 0.0))
    stronger[0, 1] = stronger[1, 0] = stronger[2, 3] = stronger[3, 2] = 0.2  # between groups more than within
    assert nested_groups(stronger) is None
    assert nested_groups(nested((2, 2, 2), (0.3, 0.3, 0.3), (0.9538, 0.2, 0.2))) is None  # hardly any rest
    zero = nested((2, 2, 2), (0.5, 0.5, 0.0), (0.3, 0.3, 0.3))
    assert nested_groups(zero) is None  # some groups share, some don't: no product of loadings above zero
