"""What is counted and measured in plots: limits, edges and refusals, worked by hand or by brute force."""

import math
import re
from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from apercu_core.agronomy.action_threshold import against_threshold, insect_transects
from apercu_core.agronomy.evenness import gaps, patchiness
from apercu_core.agronomy.soil_in_plots import earthworms, infiltration, resistance
from apercu_core.agronomy.stand import emergence, stand_from_leaves, stand_from_rows
from apercu_core.agronomy.weeds import WeedVisit, diversity, weeds_over_season
from apercu_core.errors import Refused


def decided(mean, sd, n, threshold):
    half = stats.t.ppf(0.95, n - 1) * sd / math.sqrt(n)
    return "above" if mean - half >= threshold else "below" if mean + half < threshold else "cannot_tell"


@given(st.lists(st.integers(0, 30), min_size=2, max_size=9), st.integers(1, 20).map(lambda n: n + 0.37))
def test_further_values_are_the_least_that_would_tell(values, threshold):
    found = against_threshold(values, threshold)
    n, mean = len(values), sum(values) / len(values)
    sd = math.sqrt(sum((one - mean) ** 2 for one in values) / (n - 1))
    assert found.decision == decided(mean, sd, n, threshold)
    tells = (k for k in range(1, 401) if decided(mean, sd, n + k, threshold) != "cannot_tell")
    least = next(tells, None) if found.decision == "cannot_tell" else None
    assert found.more == least or (least is None and found.more is not None and found.more > 400)


def test_values_that_do_not_differ_tell_at_once_and_a_mean_on_the_threshold_never_does():
    assert against_threshold([3.1] * 3, 3.1).decision == "above"
    assert against_threshold([0.1] * 3, 0.2).decision == "below"
    found = against_threshold([2, 4], 3)
    assert (found.decision, found.more) == ("cannot_tell", None)


def test_plants_of_a_transect_are_not_replicates():
    found = insect_transects([[0, 4], [1, 1, 1, 1]], 2)
    assert (found.transect_means, found.judged.mean) == ((2, 1), 1.5)
    assert found.judged.upper == pytest.approx(1.5 + stats.t.ppf(0.95, 1) * math.sqrt(0.5) / math.sqrt(2))


def test_leaves_carry_the_error_of_both_counts():
    # 100 and 140 leaves, 4 and 6 on a plant: 120 / 5 / 0.25 = 96; (20² · 2 / 2 / 120²) + (2 · 1² / 2 / 5²)
    found = stand_from_leaves([100, 140], 0.25, [4, 6])
    assert found.plants_m2 == pytest.approx(96)
    assert found.se == pytest.approx(96 * math.sqrt(400 / 120**2 + 1 / 25))
    assert stand_from_leaves([0, 0], 0.25, [4, 6]).se == 0
    assert stand_from_leaves([0], 0.25, [4, 6]).se is None
    assert stand_from_rows(18, 1.5, 0.5) == pytest.approx(24)


def test_the_rate_for_a_target_takes_the_emergence_that_was():
    found = emergence(100, 200, 60, 150)
    assert (found.percent, found.rate_for_target_kg_ha) == (50, 90)


def test_a_gap_as_long_as_the_limit_is_no_gap_and_ends_of_the_row_count():
    found = gaps([20, 40.1, 40.1, 60], 1)  # 20, 20.1, 0, 19.9 and 40 cm
    assert (found.gaps_per_m, found.share_in_gaps) == (2, pytest.approx(0.601))
    assert gaps([20], 0.4).gaps_per_m == 0


def test_a_frame_at_the_floor_is_not_below_it():
    found = patchiness([2, 4, 6], 4)
    assert (found.mean, found.cv_percent, found.share_below_floor) == (4, 50, pytest.approx(1 / 3))


def test_pulled_weeds_add_up_and_standing_ones_do_not():
    visits = [WeedVisit(date(2030, 5, 1), [1, 3]), WeedVisit(date(2030, 5, 11), [4]), WeedVisit(date(2030, 5, 13), [0])]
    pulled, standing = (weeds_over_season(kind, 0.5, visits) for kind in ("pulled", "standing"))
    assert (pulled.per_m2, pulled.total_m2, pulled.mean_m2) == ((4, 8, 0), 12, None)
    assert (standing.total_m2, standing.mean_m2, standing.max_m2, standing.auc) == (None, 4, 8, 10 * 6 + 2 * 4)


@given(st.lists(st.integers(0, 50), min_size=1, max_size=12))
def test_diversity_is_greatest_where_all_are_alike(counts):
    found = diversity(counts)
    assert found.species == sum(one > 0 for one in counts)
    if found.shannon is not None:
        assert -1e-12 <= found.shannon <= math.log(found.species) + 1e-12
        assert diversity([7] * found.species).shannon == pytest.approx(math.log(found.species))


def test_infiltration_is_steady_from_three_rates_within_a_tenth_of_their_mean():
    # 95, 100 and 105 mm/h: a range of 10, a tenth of their mean
    just = infiltration([90000 / 95, 900, 90000 / 105])
    assert (just.steady, just.value_mm_h) == (True, pytest.approx(100))
    over = infiltration([90000 / 94.9, 900, 90000 / 105])
    assert (over.steady, over.value_mm_h) == (False, pytest.approx(105))
    assert not infiltration([900, 900]).steady
    left = infiltration([900, 900, 900, None], 1800)
    assert (left.steady, left.value_mm_h, left.below_mm_h) == (False, None, 50)
    assert infiltration([None], 3600).rates_mm_h == ()


def test_a_cone_that_stones_stop_leaves_the_depth_to_the_others():
    found = resistance([0, 10, 20], [[1, 1, None], [1, None, None], [1, 2, 2.5]])
    assert found.mean_mpa == (1, 1.5, 2.5)
    assert found.first_crossing_cm == pytest.approx(15)
    stopped = resistance([0, 10, 20], [[1, 1.2, None]])
    assert (stopped.mean_mpa, stopped.first_crossing_cm, stopped.deeper_than_cm) == ((1, 1.2, None), None, 10)
    assert resistance([0, 10], [[2, 1]]).first_crossing_cm == 0


def test_worms_are_of_a_square_metre():
    assert (earthworms([1, 3]).per_m2, earthworms([1, 3]).adults_m2) == (50, None)
    assert earthworms([1, 3], [1, 0]).adults_m2 == 12.5


@pytest.mark.parametrize(
    ("act", "where"),
    [
        (lambda: stand_from_leaves([2.5], 0.25, [3]), "frames.0.leaves"),
        (lambda: stand_from_leaves([2], 0.25, []), "leaves_per_plant"),
        (lambda: stand_from_leaves([2], 0, [3]), "frame_area_m2"),
        (lambda: stand_from_leaves([2], 0.25, [0]), "mean of leaves_per_plant"),
        (lambda: stand_from_rows(3, 0, 0.5), "row_length_m"),
        (lambda: emergence(0, 200, 60, 150), "plants_m2"),
        (lambda: gaps([10, 250], 2), "positions_cm.1"),
        (lambda: gaps([10, 9], 2), "positions_cm.1"),
        (lambda: patchiness([5], 1), "frames"),
        (lambda: patchiness([0, 0], 1), "mean of frames"),
        (lambda: weeds_over_season("pulled", 1, []), "visits"),
        (lambda: weeds_over_season("pulled", 1, [WeedVisit(date(2030, 5, 1), [1.5])]), "visits.0.counts.0"),
        (lambda: weeds_over_season("pulled", 1, [WeedVisit(date(2030, 5, 1), [1])] * 2), "visits.1.date"),
        (lambda: diversity([-1]), "counts.0"),
        (lambda: against_threshold([1], 2), "values"),
        (lambda: against_threshold([1, math.inf], 2), "values.1"),
        (lambda: insect_transects([[1], []], 2), "per_plant.1"),
        (lambda: infiltration([None, 900], 60), "fills_s.0"),
        (lambda: infiltration([900, None]), "limit_s"),
        (lambda: infiltration([0]), "fills_s.0"),
        (lambda: resistance([0, 0], [[1, 1]]), "depths_cm.1"),
        (lambda: resistance([0, 5], [[None, 1]]), "profiles_mpa.0.1"),
        (lambda: resistance([0, 5], [[1]]), "profiles_mpa.0"),
        (lambda: resistance([0, 5], [[None, None]]), "profiles_mpa"),
        (lambda: earthworms([2], [3]), "adults.0"),
        (lambda: earthworms([2], []), "adults"),
    ],
)  # fmt: skip
def test_what_can_not_be_is_refused_with_its_field(act, where):
    with pytest.raises(Refused, match=f"^{re.escape(where)}: "):
        act()
