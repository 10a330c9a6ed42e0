"""What is to be analysed, and how: the specification, read and checked."""

from __future__ import annotations

import difflib
import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal, get_args

from apercu_core.errors import Refused

Design = Literal["crd", "rcbd", "latin_square", "split_plot", "strip_plot", "incomplete_block", "multi_site"]
Method = Literal["lsd", "tukey", "dunnett", "holm", "bonferroni", "sidak"]
DfMethod = Literal["kenward_roger", "satterthwaite", "containment_anova"]
BlockEffect = Literal["random", "fixed"]
ResponseFamily = Literal["normal", "poisson", "quasi_poisson", "negative_binomial", "binomial", "quasi_binomial"]
Transform = Literal["none", "log", "log1p", "sqrt", "arcsine_sqrt", "logit"]
AnalysisKind = Literal["anova", "friedman", "kruskal_wallis"]

CountModel = Literal["estimated", "poisson", "negative_binomial"]
"""How much counts vary: as the plots show; as things scattered at random (binomial for k of n); with one more parameter
by maximum likelihood."""
Against = str | Mapping[str, str]
"""What levels are compared with: one of them, or each with its own."""
ONE_STRATUM = ("crd", "rcbd", "latin_square")
"""Designs in which plots are the only units that treatments were randomised to."""

_DESIGNS: tuple[str, ...] = get_args(Design)
_METHODS: tuple[str, ...] = get_args(Method)
_LATER = {
    "design": ("repeated",),
    "analysis": ("linear_regression", "exponential_decay"),
}
_KEYS = (
    "title response treatments design block row column whole_plot_factor row_factor column_factor site year plot time "
    "incomplete_block subsample family exposure trials transform covariates df_method comparison equivalence contrasts "
    "analysis block_effect site_effect max_interaction joint_contrasts predictor predict_at"
).split()


@dataclass(frozen=True, slots=True)
class Comparison:
    """How pairs of means are compared.

    `control`: for Dunnett, a level of the first treatment factor, or level → the level that it is compared with.
    """

    method: Method = "tukey"
    control: Against | None = None
    alpha: float = 0.05


@dataclass(frozen=True, slots=True)
class Equivalence:
    """A planned test against a margin, in the response's unit (> 0)."""

    margin: float
    control: str
    alpha: float = 0.05
    higher_is_better: bool = True


@dataclass(frozen=True, slots=True)
class Contrast:
    """A weighted sum of treatment cells; keys are levels (several factors: joined by `:`)."""

    name: str
    weights: Mapping[str, float]


@dataclass(frozen=True, slots=True)
class JointContrast:
    """Several weighted sums of treatment cells, tested together."""

    name: str
    parts: tuple[Contrast, ...]


@dataclass(frozen=True, slots=True)
class Specification:
    """Everything that an analysis needs besides the rows.

    `whole_plot`, `row_strip`, `column_strip`: columns that say in which larger unit of its block each plot lies, where
    the treatments are a plain list; otherwise the factors that were randomised to those units say it.
    `incomplete_block`: the column of incomplete blocks, numbered within their replicates, which are the blocks.
    `max_interaction`: interactions of more factors than this are left out of the model; None: none is.
    `family`: distribution of the response; counts have an `exposure` (area, row length), k of n its `trials`.
    `transform`: the scale on which a normal response is analysed. `analysis`: anova, or a test on ranks.
    """

    response: str
    treatments: tuple[str, ...]
    design: Design
    block: str | None = None
    row: str | None = None
    column: str | None = None
    whole_plot_factor: str | None = None
    row_factor: str | None = None
    column_factor: str | None = None
    whole_plot: str | None = None
    row_strip: str | None = None
    column_strip: str | None = None
    incomplete_block: str | None = None
    site: str | None = None
    year: str | None = None
    plot: str | None = None
    subsample: str | None = None
    covariates: tuple[str, ...] = ()
    block_effect: BlockEffect = "random"
    site_effect: BlockEffect = "fixed"
    max_interaction: int | None = None
    family: ResponseFamily = "normal"
    transform: Transform = "none"
    exposure: str | None = None
    trials: str | None = None
    analysis: AnalysisKind = "anova"
    df_method: DfMethod = "kenward_roger"
    comparison: Comparison = field(default_factory=Comparison)
    equivalence: Equivalence | None = None
    contrasts: tuple[Contrast, ...] = ()
    joint_contrasts: tuple[JointContrast, ...] = ()

    @property
    def columns(self) -> tuple[str, ...]:
        """Every column of the data that the specification names."""
        more = (name for name in (self.plot, self.exposure, self.trials) if name)
        return tuple(dict.fromkeys([self.response, *self.categories, *self.covariates, *more]))

    @property
    def counted(self) -> bool:
        """Whether the response is a count, or k of n."""
        return self.family != "normal"

    @property
    def of_trials(self) -> bool:
        """Whether the response is k of n."""
        return self.family in ("binomial", "quasi_binomial")

    @property
    def categories(self) -> tuple[str, ...]:
        """Columns whose values are labels: treatment factors and groupings of plots."""
        groupings = (self.block, self.row, self.column, self.whole_plot, self.row_strip, self.column_strip,
                     self.incomplete_block, self.site, self.year)  # fmt: skip
        return (*self.treatments, *(name for name in groupings if name))

    @property
    def environments(self) -> tuple[str, ...]:
        """The columns that tell sites and years apart."""
        return tuple(name for name in (self.site, self.year) if name)


def read_specification(raw: Mapping[str, Any]) -> Specification:
    """Check a specification in its JSON shape and make it a value.

    Raises `Refused`: *bad-specification* for what can't be right, *not-built* for what this version can't do yet.
    """
    if not isinstance(raw, Mapping):
        raise Refused("bad-specification", "The specification must be a JSON object with a response and a design.")
    for key in raw:
        if key not in _KEYS:
            near = difflib.get_close_matches(str(key), _KEYS, 1)
            hint = f" Did you mean {near[0]!r}?" if near else ""
            raise Refused("bad-specification", f"The specification has the unknown entry {key!r}.{hint}")
    _refuse_what_is_not_built(raw)
    spec = Specification(
        response=_text(raw, "response"),
        treatments=_names(raw, "treatments", required=True),
        design=_choice(raw, "design", _DESIGNS, None),
        block=_optional(raw, "block"),
        row=_optional(raw, "row"),
        column=_optional(raw, "column"),
        whole_plot_factor=_optional(raw, "whole_plot_factor"),
        row_factor=_optional(raw, "row_factor"),
        column_factor=_optional(raw, "column_factor"),
        incomplete_block=_optional(raw, "incomplete_block"),
        site=_optional(raw, "site"),
        year=_optional(raw, "year"),
        plot=_optional(raw, "plot"),
        subsample=_optional(raw, "subsample"),
        covariates=_names(raw, "covariates"),
        block_effect=_choice(raw, "block_effect", ("random", "fixed"), "random"),
        site_effect=_choice(raw, "site_effect", ("random", "fixed"), "fixed"),
        max_interaction=_max_interaction(raw.get("max_interaction")),
        family=_choice(raw, "family", get_args(ResponseFamily), "normal"),
        transform=_choice(raw, "transform", get_args(Transform), "none"),
        exposure=_optional(raw, "exposure"),
        trials=_optional(raw, "trials"),
        analysis=_choice(raw, "analysis", get_args(AnalysisKind), "anova"),
        df_method=_choice(raw, "df_method", get_args(DfMethod), "kenward_roger"),
        comparison=_comparison(raw.get("comparison")),
        equivalence=_equivalence(raw.get("equivalence")),
        contrasts=_contrasts(raw.get("contrasts")),
        joint_contrasts=_joint_contrasts(raw.get("joint_contrasts")),
    )
    _require_the_design_s_columns(spec)
    _require_a_family_that_fits(spec)
    return spec


def _refuse_what_is_not_built(raw: Mapping[str, Any]) -> None:
    for key, later in _LATER.items():
        if raw.get(key) in later:
            raise Refused("not-built", f"{key} {raw[key]!r} isn’t built yet.")
    for key in ("time",):
        if raw.get(key) not in (None, [], ""):
            raise Refused("not-built", f"Analyses with {key!r} aren’t built yet.")
    if str(raw.get("analysis", "")).startswith("power_"):
        raise Refused("bad-specification", "A table of planned trials holds no response to analyse.")


def _require_the_design_s_columns(spec: Specification) -> None:
    needed: dict[str, tuple[str, ...]] = {
        "crd": (),
        "rcbd": ("block",),
        "latin_square": ("row", "column"),
        "split_plot": ("block", "whole_plot_factor"),
        "strip_plot": ("block", "row_factor", "column_factor"),
        "incomplete_block": ("block", "incomplete_block"),
        "multi_site": ("site",),
    }
    for name in needed[spec.design]:
        if getattr(spec, name) is None:
            raise Refused("bad-specification", f"A {spec.design} design needs {name!r} in the specification.")
    for name in ("whole_plot_factor", "row_factor", "column_factor"):
        factor = getattr(spec, name)
        if factor is not None and factor not in spec.treatments:
            raise Refused("bad-specification", f"{name} {factor!r} must be one of the treatments.")
    if spec.incomplete_block and spec.design != "incomplete_block":
        raise Refused("bad-specification", f"'incomplete_block' has no place in a {spec.design} design.")
    if spec.environments and spec.design != "multi_site":
        raise Refused(
            "bad-specification",
            f"{spec.environments[0]!r} tells sites or years apart, which a {spec.design} design has no place for: "
            "use design multi_site.",
        )
    if spec.design == "multi_site" and spec.block_effect == "fixed" and spec.block:
        raise Refused("bad-specification", "Blocks of a multi_site design lie within sites and are random.")
    if spec.row_factor and spec.row_factor == spec.column_factor:
        raise Refused("bad-specification", f"Rows and columns both carry {spec.row_factor!r}; each needs its own.")
    if spec.subsample and not spec.plot:
        raise Refused("bad-specification", "Subsamples need 'plot', the column that says which plot each is from.")
    roles = [spec.response, *spec.categories, *spec.covariates, *filter(None, [spec.exposure, spec.trials])]
    if len(set(roles)) < len(roles):
        twice = next(name for name in roles if roles.count(name) > 1)
        raise Refused("bad-specification", f"Column {twice!r} is given two roles; each column can have one.")
    if spec.comparison.method == "dunnett" and spec.comparison.control is None:
        raise Refused("bad-specification", "Dunnett compares with a control: name it in comparison.control.")


def _require_a_family_that_fits(spec: Specification) -> None:
    """Counts and k of n need one stratum of error, and what they were counted from."""
    if spec.of_trials and not spec.trials:
        raise Refused("bad-specification", f"A {spec.family} response needs 'trials': the column with n of k of n.")
    if spec.trials and not spec.of_trials:
        raise Refused("bad-specification", f"'trials' belongs to a binomial response, not to a {spec.family} one.")
    if spec.exposure and (not spec.counted or spec.of_trials):
        raise Refused("bad-specification", f"'exposure' belongs to counts, not to a {spec.family} response.")
    if spec.counted and spec.transform != "none":
        raise Refused("bad-specification", f"A {spec.family} response has a link of its own and takes no transform.")
    if spec.counted and spec.design not in ONE_STRATUM:
        raise Refused(
            "bad-design",
            f"A {spec.design} has more than one stratum of error, which a {spec.family} model of single plots ignores. "
            "Analyse the plots' rates with a transform instead.",
        )
    if (spec.counted or spec.transform != "none") and spec.equivalence:
        raise Refused(
            "not-built",
            "A planned equivalence test of counts or transformed values isn’t built: its margin has a unit.",
        )
    ranked = spec.analysis != "anova"
    if ranked and (len(spec.treatments) != 1 or spec.covariates or spec.counted or spec.transform != "none"):
        raise Refused(
            "bad-specification", f"A {spec.analysis} test takes one treatment factor and the values as they are."
        )
    needed = {"friedman": ("rcbd", "Friedman’s test needs blocks: design rcbd."),
              "kruskal_wallis": ("crd", "The Kruskal–Wallis test has no blocks: design crd.")}  # fmt: skip
    if ranked and spec.design != needed[spec.analysis][0]:
        raise Refused("bad-specification", needed[spec.analysis][1])


def _text(raw: Mapping[str, Any], key: str) -> str:
    value = raw.get(key)
    if not isinstance(value, str) or not value:
        raise Refused("bad-specification", f"{key!r} must be a column name.")
    return value


def _optional(raw: Mapping[str, Any], key: str) -> str | None:
    return None if raw.get(key) is None else _text(raw, key)


def _names(raw: Mapping[str, Any], key: str, required: bool = False) -> tuple[str, ...]:
    value = raw.get(key) or []
    if not isinstance(value, Sequence) or isinstance(value, str) or not all(isinstance(n, str) and n for n in value):
        raise Refused("bad-specification", f"{key!r} must be a list of column names.")
    if required and not value:
        raise Refused("bad-specification", f"{key!r} must name at least one column.")
    return tuple(value)


def _choice(raw: Mapping[str, Any], key: str, allowed: Sequence[str], default: str | None) -> Any:
    value = raw.get(key)
    if value is None and default is not None:
        return default
    if value not in allowed:
        raise Refused("bad-specification", f"{key} is {value!r}; it must be one of: {', '.join(allowed)}.")
    return value


def _number(value: object, what: str, low: float = -math.inf, high: float = math.inf) -> float:
    """A finite number strictly between `low` and `high`."""
    if isinstance(value, bool) or not isinstance(value, int | float) or not low < value < high:
        limits = f" between {low:g} and {high:g}" if math.isfinite(high) else f" above {low:g}"
        raise Refused(
            "bad-specification", f"{what} is {value!r}; it must be a number{limits if low > -math.inf else ''}."
        )
    return float(value)


def _object(raw: object, what: str) -> Mapping[str, Any]:
    if not isinstance(raw, Mapping):
        raise Refused("bad-specification", f"{what!r} must be an object.")
    return raw


def _comparison(raw: object) -> Comparison:
    if raw is None:
        return Comparison()
    given = _object(raw, "comparison")
    control = given.get("control")
    default = "tukey" if control is None else "dunnett"
    return Comparison(
        method=_choice(given, "method", _METHODS, default),
        control=None if control is None else str(control),
        alpha=_number(given.get("alpha", 0.05), "comparison.alpha", 0, 1),
    )


def _equivalence(raw: object) -> Equivalence | None:
    if raw is None:
        return None
    given = _object(raw, "equivalence")
    if given.get("control") is None:
        raise Refused("bad-specification", "equivalence.control must name the treatment to compare with.")
    return Equivalence(
        margin=_number(given.get("margin"), "equivalence.margin", 0),
        control=str(given["control"]),
        alpha=_number(given.get("alpha", 0.05), "equivalence.alpha", 0, 0.5),
        higher_is_better=bool(given.get("higher_is_better", True)),
    )


def _max_interaction(raw: object) -> int | None:
    if raw is not None and (isinstance(raw, bool) or not isinstance(raw, int) or raw < 1):
        raise Refused("bad-specification", f"max_interaction is {raw!r}; it must be a whole number from 1.")
    return raw


def _list(raw: object, what: str) -> Sequence[object]:
    if raw is None:
        return ()
    if not isinstance(raw, Sequence) or isinstance(raw, str):
        raise Refused("bad-specification", f"{what!r} must be a list.")
    return raw


def _weights(name: str, raw: object) -> Contrast:
    weights = _object(raw, f"contrast {name}: weights")
    return Contrast(name, {str(k): _number(v, f"contrast {name}: {k}") for k, v in weights.items()})


def _contrasts(raw: object) -> tuple[Contrast, ...]:
    items = [_object(item, "contrasts") for item in _list(raw, "contrasts")]
    return tuple(_weights(_text(given, "name"), given.get("weights")) for given in items)


def _joint_contrasts(raw: object) -> tuple[JointContrast, ...]:
    out = []
    for item in _list(raw, "joint_contrasts"):
        given = _object(item, "joint_contrasts")
        name = _text(given, "name")
        parts = _list(given.get("contrasts"), f"joint contrast {name}: contrasts")
        if not parts:
            raise Refused("bad-specification", f"Joint contrast {name!r} has no contrasts.")
        out.append(JointContrast(name, tuple(_weights(name, part) for part in parts)))
    return tuple(out)
