"""What `analyse` writes, as tests/reference/README.md describes it: scales, conclusions and keys that readers go by."""

import json
import math

import pytest

from analyse_cli.__main__ import analyse_files

PLOTS = [("bare", 20, 31, 25, 28), ("oats", 11, 9, 14, 12), ("vetch", 14, 19, 12, 17)]
BLOCKS = [(name, block, value) for name, *values in PLOTS for block, value in enumerate(values, 1)]


def analysed(tmp_path, rows=BLOCKS, head="t,b,y", **spec):
    data, chosen = tmp_path / "data.csv", tmp_path / "spec.json"
    data.write_text("\n".join([head, *(",".join(map(str, row)) for row in rows)]) + "\n")
    chosen.write_text(json.dumps({"response": "y", "treatments": ["t"], "design": "rcbd", "block": "b", **spec}))
    return json.loads(analyse_files(data, chosen))


def pair(result, a="bare", b="oats"):
    return next(one for one in result["pairs"] if {one["a"], one["b"]} == {a, b})


@pytest.mark.parametrize(
    ("transform", "scale"),
    [(None, "difference"), ("log", "ratio"), ("logit", "odds_ratio"), ("sqrt", "transformed_difference")],
)
def test_pairs_say_whether_they_are_differences_or_ratios(tmp_path, transform, scale):
    rows = [(t, b, value / 100) for t, b, value in BLOCKS]
    result = analysed(tmp_path, rows, **({"transform": transform} if transform else {}))
    assert result["pairs_scale"] == scale
    one = pair(result)
    assert one["lower"] < one["estimate"] < one["upper"]
    # oats lie below bare: a ratio stays above zero, a difference doesn’t
    turned = one["a"] == "oats"
    if scale in ("ratio", "odds_ratio"):
        assert one["lower"] > 0
        assert (one["estimate"] < 1) is turned
    else:
        assert (one["estimate"] < 0) is turned
    assert ("lsd" in result) is (transform is None)


def test_least_significant_differences_are_left_out_where_only_a_control_is_compared_with(tmp_path):
    assert "lsd" not in analysed(tmp_path, comparison={"method": "dunnett", "control": "bare"})
    assert analysed(tmp_path, comparison={"method": "lsd"})["lsd"]["t"] > 0


def test_a_block_variance_held_at_zero_is_said(tmp_path):
    unlike = [(t, b, value) for t, *values in (("x", 1, 5, 3, 4), ("z", 5, 1, 4, 3)) for b, value in enumerate(values)]
    assert analysed(tmp_path, unlike)["info"] == {"singular": True}
    assert analysed(tmp_path, [(t, b, v + 9 * b) for t, b, v in BLOCKS])["info"] == {"singular": False}


def test_non_inferiority_is_concluded_beside_equivalence(tmp_path):
    def concluded(margin):
        test = analysed(tmp_path, equivalence={"margin": margin, "control": "oats"})["equivalence"]
        vetch = next(one for one in test if one["treatment"] == "vetch")
        return vetch["conclusion"], vetch["conclusion_noninferiority"]

    assert concluded(100) == ("equivalent", "non_inferior")
    # vetch lies 4 above oats: not below it by 5, but perhaps above it by more
    assert concluded(5) == ("not_shown_equivalent", "non_inferior")
    down = [(t, b, -value) for t, b, value in BLOCKS]
    test = analysed(tmp_path, down, equivalence={"margin": 5, "control": "oats"})["equivalence"]
    assert next(o for o in test if o["treatment"] == "vetch")["conclusion_noninferiority"] == "not_shown_non_inferior"


def test_classical_strata_give_the_residual_only_and_no_residuals_of_several_strata(tmp_path):
    rows = [(w, s, b, 10 * (w == "a") + 3 * (s == "p") + b * (w == "a") + (b * s.count("q")) % 3)
            for w in "ac" for s in "pq" for b in (1, 2, 3, 4)]  # fmt: skip
    split = {"treatments": ["w", "s"], "design": "split_plot", "whole_plot_factor": "w", "head": "w,s,b,y"}
    classical = analysed(tmp_path, rows, **split, df_method="containment_anova")
    assert (list(classical["variance_components"]), classical["diagnostics"]) == (["residual"], {})
    mixed = analysed(tmp_path, rows, **split)
    assert len(mixed["variance_components"]) > 1
    assert len(mixed["diagnostics"]["residuals"]) == 16
    alone = analysed(tmp_path, design="crd", block=None, df_method="containment_anova")
    assert len(alone["diagnostics"]["residuals"]) == 12


def test_counts_say_their_scale_method_contrasts_and_covariates(tmp_path):
    rows = [(*row, x) for row, x in zip(BLOCKS, (3, 1, 4, 1, 5, 9, 2, 6, 5, 3, 5, 8), strict=True)]
    weights = {"oats": 1, "bare": -1}
    result = analysed(
        tmp_path, rows, "t,b,y,x", family="poisson", covariates=["x"],
        contrasts=[{"name": "oats", "weights": weights}], comparison={"method": "lsd"},
    )  # fmt: skip
    assert (result["pairs_scale"], result["pairs_method"], result["info"]) == ("ratio", "lsd", {})
    (contrast,), (covariate,) = result["contrasts"], result["covariates"]
    assert abs(contrast["estimate"]) == pytest.approx(abs(math.log(pair(result)["estimate"])), rel=1e-6)
    assert (contrast["name"], covariate["name"]) == ("oats", "x")
    glm = result["glm"]
    assert glm["aic"] == pytest.approx(-2 * glm["loglik"] + 2 * 7)  # intercept, 2 treatments, 3 blocks, covariate
    quasi = analysed(tmp_path, family="quasi_poisson")["glm"]
    assert "aic" not in quasi
    assert "loglik" not in quasi
    assert quasi["dispersion"] == pytest.approx(quasi["pearson_chi2"] / quasi["df_resid"])


def test_a_treatment_of_nothing_or_of_all_has_its_share_and_no_interval(tmp_path):
    rows = [(t, b, {"bare": 10, "oats": 0}.get(t, 3 + b), 10) for t, b, _ in BLOCKS]
    rows += [("clover", b, 2 * b, 10) for b in (1, 2, 3, 4)]
    result = analysed(tmp_path, rows, "t,b,y,n", family="binomial", trials="n")
    assert result["separation"] == {"detected": True, "zero_treatments": ["oats"], "full_treatments": ["bare"]}
    apart = {one["treatment"]["t"]: one for one in result["means"] if "note" in one}
    said = {"se": None, "note": "separated: no Wald interval"}
    assert apart["oats"] == {"treatment": {"t": "oats"}, "mean": 0, **said}
    assert apart["bare"] == {"treatment": {"t": "bare"}, "mean": 1, **said}


@pytest.mark.parametrize(("test", "method"), [("friedman", "signed_rank"), ("kruskal_wallis", "rank_sum")])
def test_ranks_name_the_test_of_their_pairs(tmp_path, test, method):
    design = {} if test == "friedman" else {"design": "crd", "block": None}
    result = analysed(tmp_path, analysis=test, **design)
    assert result["pairs_method"] == f"pairwise_wilcoxon_{method}_holm"
    assert {one["family"] for one in result["pairs"]} == {"t"}
    assert {one["family"] for one in result.get("pairs_dunn", result["pairs"])} == {"t"}
    assert ("n_blocks" in result["rank_test"]) is (test == "friedman")
