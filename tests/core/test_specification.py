"""What a specification may say: defaults, and combinations that no analysis stands behind are refused."""

import pytest

from apercu_core.errors import Refused
from apercu_core.statistics.analysis import analyse
from apercu_core.statistics.specification import read_specification

CRD = {"response": "y", "treatments": ["t"], "design": "crd"}
RCBD = {**CRD, "design": "rcbd", "block": "b"}
MARGIN = {"margin": 2, "control": "bare"}


@pytest.mark.parametrize(
    ("comparison", "method"),
    [({"control": "bare"}, "dunnett"), ({"alpha": 0.1}, "tukey"), ({"control": "bare", "method": "lsd"}, "lsd")],
)
def test_comparisons_are_with_a_control_where_there_is_one_and_of_all_pairs_else(comparison, method):
    assert read_specification({**CRD, "comparison": comparison}).comparison.method == method


def test_blocks_are_random_and_sites_fixed_unless_something_else_is_said():
    spec = read_specification(RCBD)
    assert (spec.block_effect, spec.site_effect, spec.df_method) == ("random", "fixed", "kenward_roger")


@pytest.mark.parametrize(
    ("raw", "says"),
    [
        ({**CRD, "exposure": "area"}, "'exposure' belongs to counts"),
        ({**CRD, "family": "quasi_binomial", "trials": "n", "exposure": "area"}, "'exposure' belongs to counts"),
        ({**CRD, "family": "poisson", "equivalence": MARGIN}, "isn’t built: its margin has a unit"),
        ({**CRD, "transform": "log", "equivalence": MARGIN}, "isn’t built: its margin has a unit"),
        ({**CRD, "family": "poisson", "transform": "log"}, "takes no transform"),
        ({**CRD, "analysis": "kruskal_wallis", "treatments": ["t", "u"]}, "takes one treatment factor"),
        ({**CRD, "analysis": "kruskal_wallis", "covariates": ["x"]}, "takes one treatment factor"),
        ({**CRD, "analysis": "kruskal_wallis", "family": "poisson"}, "takes one treatment factor"),
        ({**CRD, "analysis": "kruskal_wallis", "transform": "log"}, "takes one treatment factor"),
        ({**CRD, "analysis": "friedman"}, "needs blocks"),
        ({**RCBD, "analysis": "kruskal_wallis"}, "has no blocks"),
        ({**CRD, "time": "day"}, "'time' aren’t built"),
        ({**CRD, "analysis": "power_f"}, "holds no response"),
        ({**CRD, "max_interaction": 0}, "whole number from 1"),
        ({**CRD, "max_interaction": True}, "whole number from 1"),
        ({**CRD, "max_interaction": 1.5}, "whole number from 1"),
        ({**CRD, "comparison": {"alpha": 1}}, "comparison.alpha is 1; it must be a number between 0 and 1"),
        ({**CRD, "equivalence": {**MARGIN, "margin": 0}}, "must be a number above 0"),
        ({**CRD, "treatments": ["t", ""]}, "treatments"),
        ({**CRD, "treatments": ["t", 3]}, "treatments"),
        ({**CRD, "tretments": ["t"]}, "Did you mean 'treatments'"),
    ],
)
def test_what_no_analysis_stands_behind_is_refused(raw, says):
    with pytest.raises(Refused, match=says):
        read_specification(raw)


def test_one_factor_may_be_read_with_single_effects_alone():
    assert read_specification({**CRD, "max_interaction": 1}).max_interaction == 1


def test_random_blocks_that_leave_nothing_for_the_error_between_plots_are_refused():
    rows = [{"t": t, "b": b, "y": y} for t, b, y in (("bare", "A", "1"), ("oat", "A", "2"), ("oat", "B", "3"))]
    with pytest.raises(Refused, match="can’t be told from that between blocks"):
        analyse(rows, read_specification(RCBD))
