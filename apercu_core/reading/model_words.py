"""The fitted model in words: a sentence, and names for its terms and variance components."""

from __future__ import annotations

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


def unit_in_words(name: str, design: Design) -> str:
    """Blocks that hold every treatment once, and are parted into incomplete ones, are replicates."""
    return "replicates" if (name, design) == ("block", "incomplete_block") else _UNITS.get(name, name)


def model_in_words(analysis: FittedAnalysis) -> str:
    """What was fitted, from the model itself: which effects are fixed, which random, and where df come from."""
    if isinstance(analysis, TransformedAnalysis):
        scale = analysis.scale.name
        of = "square roots of densities" if scale == "sqrt" else "arcsines of the square roots of shares"
        return f"{model_in_words(analysis.on_scale)[:-1]}, of the {of}."
    model, spec = analysis.model, analysis.specification
    fixed = ["treatments", *(unit_in_words(term.name, spec.design) for term in model.terms if term.name in _UNITS)]
    effect = "effect" if len(fixed) == 1 else "effects"
    design = _DESIGNS[spec.design]
    if isinstance(analysis, DensityAnalysis) and analysis.counts != "estimated":
        said = (
            "Poisson"
            if analysis.counts == "poisson"
            else f"negative binomial with variance μ + {number(analysis.alpha)} μ²"
        )
        return f"{design}: counts with a log link and the area counted, {listed(fixed)} as fixed {effect}, {said}."
    if isinstance(analysis, ProportionAnalysis) and not analysis.estimated:
        return f"{design}: k of n with a logit link, {listed(fixed)} as fixed {effect}, binomial."
    if isinstance(analysis, DensityAnalysis):
        return (
            f"{design}: counts with a log link and the area counted, {listed(fixed)} as fixed {effect}, variance "
            f"growing with the mean as μ + {number(analysis.alpha)} μ² (by moments), never below quasi-Poisson's."
        )
    if isinstance(analysis, ProportionAnalysis):
        return (
            f"{design}: k of n with a logit link, {listed(fixed)} as fixed {effect}, quasi-binomial with a dispersion "
            f"of {number(analysis.dispersion)}."
        )
    random = [unit_in_words(stratum.name, spec.design) for stratum in model.strata]
    if not random:
        return f"{design}: {listed(fixed)} as fixed {effect}, one error between plots, by least squares."
    return f"{design}: {listed(fixed)} fixed, {listed(random)} random, by {_DF_METHODS[spec.df_method]}."


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
