"""One value of several visits: the last, the mean or the sum, and what becomes of visits that aren't whole."""

from datetime import date

import pytest

from apercu_core.measures.over_visits import VisitValues, over_visits

MAY = VisitValues("may", "May", date(2026, 5, 4), {"101": [4.0, 6.0], "102": [10.0]})
JUNE = VisitValues("june", "June", date(2026, 6, 2), {"101": [2.0, 8.0], "102": [20.0]})
BEGUN = VisitValues("july", "July", date(2026, 7, 1), {"101": [1.0, 1.0]})


@pytest.mark.parametrize(
    ("rule", "samples", "used"),
    [
        ("last", {"101": [2.0, 8.0], "102": [20.0]}, ("june",)),
        ("sum", {"101": [6.0, 14.0], "102": [30.0]}, ("may", "june")),
        ("mean", {"101": [3.0, 7.0], "102": [15.0]}, ("may", "june")),
    ],
)
def test_frames_stay_apart_and_a_visit_that_is_only_begun_does_not_count(rule, samples, used):
    found = over_visits(rule, [MAY, JUNE, BEGUN])
    assert (found.samples, found.used, found.day) == (samples, used, date(2026, 6, 2))


def test_how_the_value_comes_about_is_said():
    assert over_visits("last", [MAY]).said == "May"
    assert over_visits("last", [MAY, JUNE]).said == "June, the last whole one of 2 visits"
    assert over_visits("sum", [MAY, JUNE, BEGUN]).said == "Sum of 2 visits, 4 May 2026 to 2 Jun 2026"


def test_a_plot_without_a_value_at_one_visit_has_no_sum_and_other_numbers_of_frames_are_averaged_first():
    lost = VisitValues("june", "June", None, {"101": [None], "102": [20.0, 30.0]})
    found = over_visits("sum", [MAY, lost])
    assert found.samples == {"101": [None], "102": [35.0]}
    assert over_visits("last", [MAY, lost]).samples["101"] == [None]


def test_where_no_visit_is_whole_the_fullest_stands_and_nothing_is_added_up_over_fewer():
    one = VisitValues("may", "May", None, {"101": [1.0], "102": [2.0]})
    other = VisitValues("june", "June", None, {"102": [5.0], "103": [6.0]})
    later = VisitValues("july", "July", None, {"103": [7.0]})
    found = over_visits("last", [one, other, later])
    assert (found.used, found.said) == (("june",), "June, the fullest one of 3 visits")
    assert found.samples == {"101": [], "102": [5.0], "103": [6.0]}
    assert over_visits("sum", [one, other]).samples == {"101": [None], "102": [7.0], "103": [None]}
