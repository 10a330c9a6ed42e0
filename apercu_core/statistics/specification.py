"""What is to be analysed, and how: the specification, read and checked."""

from __future__ import annotations

import difflib
import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal, get_args

from apercu_core.errors import Refused

Design = Literal["crd", "rcbd", "latin_square", "split_plot", "strip_plot"]
Method = Literal["lsd", "tukey", "dunnett", "holm", "bonferroni", "sidak"]
DfMethod = Literal["kenward_roger", "satterthwaite"]
BlockEffect = Literal["random", "fixed"]

_DESIGNS: tuple[str, ...] = get_args(Design)
_METHODS: tuple[str, ...] = get_args(Method)
_LATER = {
    "design": ("multi_site", "repeated"),
    "analysis": ("friedman", "kruskal_wallis", "linear_regression", "exponential_decay", "power_rcbd",
                 "power_paired_t"),
    "family": ("poisson", "quasi_poisson", "negative_binomial", "binomial", "quasi_binomial"),
    "transform": ("log", "log1p", "sqrt", "arcsine_sqrt"),
    "df_method": ("containment_anova",),
}  # fmt: skip
_KEYS = (
    "title response treatments design block row column whole_plot_factor row_factor column_factor site year plot time "
    "subsample family exposure trials transform covariates df_method comparison equivalence contrasts analysis "
    "block_effect site_effect max_interaction joint_contrasts predictor predict_at"
).split()


@dataclass(frozen=True, slots=True)
class Comparison:
    """How pairs of means are compared. `control`: level of the first treatment factor, for Dunnett."""

    method: Method = "tukey"
    control: str | None = None
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
class Specification:
    """Everything that an analysis needs besides the rows."""

    response: str
    treatments: tuple[str, ...]
    design: Design
    block: str | None = None
    row: str | None = None
    column: str | None = None
    whole_plot_factor: str | None = None
    row_factor: str | None = None
    column_factor: str | None = None
    plot: str | None = None
    subsample: str | None = None
    covariates: tuple[str, ...] = ()
    block_effect: BlockEffect = "random"
    df_method: DfMethod = "kenward_roger"
    comparison: Comparison = field(default_factory=Comparison)
    equivalence: Equivalence | None = None
    contrasts: tuple[Contrast, ...] = ()

    @property
    def columns(self) -> tuple[str, ...]:
        """Every column of the data that the specification names."""
        named = [self.response, *self.treatments, *self.covariates, self.block, self.row, self.column, self.plot]
        return tuple(dict.fromkeys(name for name in named if name))


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
        plot=_optional(raw, "plot"),
        subsample=_optional(raw, "subsample"),
        covariates=_names(raw, "covariates"),
        block_effect=_choice(raw, "block_effect", ("random", "fixed"), "random"),
        df_method=_choice(raw, "df_method", ("kenward_roger", "satterthwaite"), "kenward_roger"),
        comparison=_comparison(raw.get("comparison")),
        equivalence=_equivalence(raw.get("equivalence")),
        contrasts=_contrasts(raw.get("contrasts")),
    )
    _require_the_design_s_columns(spec)
    return spec


def _refuse_what_is_not_built(raw: Mapping[str, Any]) -> None:
    for key, later in _LATER.items():
        if raw.get(key) in later:
            raise Refused("not-built", f"{key} {raw[key]!r} isn't built yet.")
    for key in ("site", "year", "time", "exposure", "trials", "joint_contrasts", "max_interaction"):
        if raw.get(key) not in (None, [], ""):
            raise Refused("not-built", f"Analyses with {key!r} aren't built yet.")
    _choice(raw, "analysis", ("anova",), "anova")
    _choice(raw, "family", ("normal",), "normal")
    _choice(raw, "transform", ("none",), "none")


def _require_the_design_s_columns(spec: Specification) -> None:
    needed: dict[str, tuple[str, ...]] = {
        "crd": (),
        "rcbd": ("block",),
        "latin_square": ("row", "column"),
        "split_plot": ("block", "whole_plot_factor"),
        "strip_plot": ("block", "row_factor", "column_factor"),
    }
    for name in needed[spec.design]:
        if getattr(spec, name) is None:
            raise Refused("bad-specification", f"A {spec.design} design needs {name!r} in the specification.")
    for name in ("whole_plot_factor", "row_factor", "column_factor"):
        factor = getattr(spec, name)
        if factor is not None and factor not in spec.treatments:
            raise Refused("bad-specification", f"{name} {factor!r} must be one of the treatments.")
    if spec.subsample and not spec.plot:
        raise Refused("bad-specification", "Subsamples need 'plot', the column that says which plot each is from.")
    roles = [spec.response, *spec.treatments, *spec.covariates]
    roles += [name for name in (spec.block, spec.row, spec.column) if name]
    if len(set(roles)) < len(roles):
        twice = next(name for name in roles if roles.count(name) > 1)
        raise Refused("bad-specification", f"Column {twice!r} is given two roles; each column can have one.")
    if spec.comparison.method == "dunnett" and spec.comparison.control is None:
        raise Refused("bad-specification", "Dunnett compares with a control: name it in comparison.control.")


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


def _contrasts(raw: object) -> tuple[Contrast, ...]:
    if raw is None:
        return ()
    if not isinstance(raw, Sequence) or isinstance(raw, str):
        raise Refused("bad-specification", "'contrasts' must be a list.")
    contrasts = []
    for item in raw:
        given = _object(item, "contrasts")
        name = _text(given, "name")
        weights = _object(given.get("weights"), f"contrast {name}: weights")
        contrasts.append(Contrast(name, {str(k): _number(v, f"contrast {name}: {k}") for k, v in weights.items()}))
    return tuple(contrasts)
