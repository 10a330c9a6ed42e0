"""The fitted model in words: a sentence, and names for its terms and variance components."""

from __future__ import annotations

from functools import singledispatch

from apercu_core.statistics.densities import DensityAnalysis
from apercu_core.statistics.fitted import FittedAnalysis
from apercu_core.statistics.inference import FTest
from apercu_core.statistics.proportions import ProportionAnalysis
from apercu_core.statistics.specification import Design, DfMethod
from apercu_core.statistics.transformed import TransformedAnalysis
from apercu_core.words import listed, number

_DESIGNS: dict[Design, str] = {
    "crd": "Completely randomised",
    "rcbd": "Randomised blocks",
    "latin_square": "Latin square",
    "split_plot": "Split plot",
    "strip_plot": "Strip plot",
    "incomplete_block": "Incomplete blocks",
    "multi_site": "Several sites",
}
_DF_METHODS: dict[DfMethod, str] = {
    "kenward_roger": "REML with Kenward–Roger degrees of freedom",
    "satterthwaite": "REML with Satterthwaite degrees of freedom",
    "containment_anova": "classical strata, each effect against the mean square of its own stratum",
}
_UNITS = {
    "block": "blocks",
    "row": "rows",
    "column": "columns",
    "whole_plot": "whole plots",
    "row_strip": "row strips",
    "column_strip": "column strips",
    "incomplete_block": "incomplete blocks",
    "site": "sites",
    "site_treatment": "sites × treatments",
    "residual": "plots",
}


_TRANSFORMED = {
    "arcsine_sqrt": "arcsines of the square roots of shares",
    "log": "logarithms",
}


def unit_in_words(name: str, design: Design) -> str:
    """Blocks that hold every treatment once, and are parted into incomplete ones, are replicates."""
    return "replicates" if (name, design) == ("block", "incomplete_block") else _UNITS.get(name, name)


@singledispatch
def model_in_words(analysis: FittedAnalysis) -> str:
    """What was fitted, from the model itself: which effects are fixed, which random, and where df come from."""
    spec, fixed = analysis.specification, _fixed(analysis)
    random = [unit_in_words(stratum.name, spec.design) for stratum in analysis.model.strata]
    if not random:
        return f"{_DESIGNS[spec.design]}: {_as_fixed(fixed)}, one error between plots, by least squares."
    return f"{_DESIGNS[spec.design]}: {listed(fixed)} fixed, {listed(random)} random, by {_DF_METHODS[spec.df_method]}."


def _fixed(analysis: FittedAnalysis) -> list[str]:
    design = analysis.specification.design
    return ["treatments", *(unit_in_words(t.name, design) for t in analysis.model.terms if t.name in _UNITS)]


def _as_fixed(terms: list[str]) -> str:
    return f"{listed(terms)} as fixed effect{'s' if len(terms) > 1 else ''}"


@model_in_words.register
def _(analysis: TransformedAnalysis) -> str:
    return f"{model_in_words(analysis.on_scale)[:-1]}, of the {_TRANSFORMED[analysis.scale.name]}."


@model_in_words.register
def _(analysis: DensityAnalysis) -> str:
    start = f"{_DESIGNS[analysis.specification.design]}: counts with a log link and the area counted, "
    start += _as_fixed(_fixed(analysis))
    if analysis.counts == "poisson":
        return f"{start}, Poisson."
    if analysis.counts == "negative_binomial":
        return f"{start}, negative binomial with variance μ + {number(analysis.alpha)} μ²."
    return (
        f"{start}, variance growing with the mean as μ + {number(analysis.alpha)} μ² (by moments), never below "
        f"quasi-Poisson’s. {_tested(analysis)}"
    )


def _tested(analysis: DensityAnalysis) -> str:
    if analysis.test is None:
        return ""
    said = model_in_words(analysis.test.on_scale)
    return f"Tests of differences: {said[:1].lower()}{said[1:-1]}, of counts on Anscombe’s scale."


@model_in_words.register
def _(analysis: ProportionAnalysis) -> str:
    start = f"{_DESIGNS[analysis.specification.design]}: k of n with a logit link, {_as_fixed(_fixed(analysis))}"
    if not analysis.estimated:
        return f"{start}, binomial."
    return f"{start}, quasi-binomial with a dispersion of {number(analysis.dispersion)}."


@singledispatch
def family_in_words(_analysis: FittedAnalysis) -> str:
    """What a reader has to know of values that aren't analysed as they were measured; empty else."""
    return ""


@family_in_words.register
def _(analysis: DensityAnalysis) -> str:
    return (
        "Counts are analysed as counts: the larger they are, the more they may vary between plots "
        f"({number(analysis.dispersion)} times as much as scattered at random). Differences are of densities"
        + ("." if analysis.test is None else ", tested on a scale that steadies their variation.")
    )


@family_in_words.register
def _(analysis: ProportionAnalysis) -> str:
    return (
        "k of n is analysed as such: plots may vary more than single things found at random do "
        f"({number(analysis.dispersion)} times as much). Differences are in percentage points."
    )


@family_in_words.register
def _(analysis: TransformedAnalysis) -> str:
    return {
        "arcsine_sqrt": "Shares are analysed as arcsines of their square roots, with the strata of the design. "
        "Differences are in percentage points.",
        "log": "Values are analysed as logarithms, so each mean is a geometric mean. "
        + (
            "Intervals are of ratios to the control, shown in the measure’s unit with its mean taken as fixed."
            if analysis.ratios_to
            else "Differences are between these means."
        ),
    }[analysis.scale.name]


@singledispatch
def nothing_found_in_words(_analysis: FittedAnalysis, _treatment: str, searched: float, unit: str) -> str:
    """Why a treatment in which nothing was counted has no interval. `searched`: the area, in what `unit` is per."""
    per = unit.rpartition("/")[2]
    return (
        f"Nothing was counted in any plot ({number(searched)} {per} searched), so the difference has no interval. "
        f"With 95 % confidence there are fewer than {number(3 / searched)} per {per}, if they are scattered at random."
    )


@nothing_found_in_words.register
def _(analysis: ProportionAnalysis, treatment: str, searched: float, _unit: str) -> str:
    """`searched`: how many were examined."""
    whole = treatment in analysis.all_found
    return (
        f"{'All' if whole else 'None'} of the {number(searched)} examined were found, so there is no interval. "
        f"With 95 % confidence the share is {'above' if whole else 'below'} "
        f"{number(100 - 300 / searched if whole else 300 / searched)} %, if they are scattered at random."
    )


def term_in_words(name: str, design: Design) -> str:
    """A line of the analysis of variance: `Blocks`, `Treatments`."""
    said = "treatments" if name == "treatment" else unit_in_words(name, design)
    return said[:1].upper() + said[1:]


def anova_lines(analysis: FittedAnalysis) -> list[tuple[str, FTest]]:
    """The lines of the analysis of variance. By classical strata, listed treatments have one for each stratum that they
    differ in.
    """
    out, design = [], analysis.specification.design
    for name, test in analysis.anova.items():
        parts = analysis.anova_by_stratum(name)
        if len(parts) > 1:
            said = term_in_words(name, design)
            out += [(f"{said} {component_in_words(stratum, design)}", one) for stratum, one in parts.items()]
        else:
            out.append((term_in_words(name, design), test))
    return out


def component_in_words(name: str, design: Design) -> str:
    """A variance component: `between whole plots`."""
    return f"between {unit_in_words(name, design)}"
