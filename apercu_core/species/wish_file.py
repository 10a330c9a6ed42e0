"""A wish as JSON (docs/species.md): each entry checked, and refused with its name and what to do."""

from __future__ import annotations

import math
from collections.abc import Mapping
from datetime import date
from typing import Any, Literal, cast

from apercu_core.errors import Refused
from apercu_core.known_entries import require_known
from apercu_core.species.record import SERVICES
from apercu_core.species.wish import WAYS, Frosts, Wish, frosts_around

_KEYS = (
    "purposes", "sown", "first_frost", "last_frost", "mild_winter_c", "harsh_winter_c", "soil_c", "winter", "ways",
    "days", "wet", "saline", "shaded", "grazed", "before", "after",
)  # fmt: skip
_WINTERS = ("dies", "lives")


def read_wish(raw: object) -> Wish:
    """The wish of such an object. Raises `Refused` where an entry or its value is unknown."""
    if not isinstance(raw, Mapping):
        raise _wrong('The wish must be a JSON object, such as {"purposes": {"weeds": 3}}.')
    require_known(raw, _KEYS, "The wish has the unknown entry", "bad-value")
    return Wish(
        _purposes(raw.get("purposes")),
        _frosts(raw),
        soil=_number(raw, "soil_c", -20, 60),
        mild_winter=_number(raw, "mild_winter_c", -70, 40),
        harsh_winter=_number(raw, "harsh_winter_c", -70, 40),
        winter=cast(Literal["dies", "lives", ""], _choice(raw, "winter", _WINTERS)),
        ways=_listed(raw, "ways"),
        days=_number(raw, "days", 1, 2000),
        wet=_flag(raw, "wet"),
        saline=_flag(raw, "saline"),
        shaded=_flag(raw, "shaded"),
        grazed=_flag(raw, "grazed"),
        before=_listed(raw, "before"),
        after=_listed(raw, "after"),
    )


def _wrong(text: str) -> Refused:
    return Refused("bad-value", text)


def _purposes(raw: object) -> dict[str, int]:
    if raw is None:
        return {}
    if not isinstance(raw, Mapping):
        raise _wrong("purposes must be an object: each purpose with its weight, 0 to 3.")
    require_known(raw, tuple(SERVICES), "purposes has the unknown purpose", "bad-value")
    weights = {}
    for key, weight in raw.items():
        if isinstance(weight, bool) or weight not in (0, 1, 2, 3):
            raise _wrong(f"The weight of {key} is {weight!r}; it must be 0, 1, 2 or 3.")
        weights[str(key)] = int(weight)
    return weights


def _frosts(raw: Mapping[Any, Any]) -> Frosts:
    first, last = _text(raw, "first_frost"), _text(raw, "last_frost")
    text = _text(raw, "sown")
    try:
        sown = date.fromisoformat(text) if text else None
    except ValueError:
        raise _wrong(f"sown is {text!r}; write it as year, month and day, such as 2026-08-25.") from None
    for key, day in (("first_frost", first), ("last_frost", last)):
        try:
            frosts_around(date(2026, 1, 1), day, "")
        except Refused as refusal:
            raise _wrong(f"{key}: {refusal.message}") from None
    return frosts_around(sown, first, last) if sown else Frosts()


def _text(raw: Mapping[Any, Any], key: str) -> str:
    value = raw.get(key)
    if value is None:
        return ""
    if not isinstance(value, str) or not value.strip():
        raise _wrong(f"{key} is {value!r}; it must be a text.")
    return value.strip()


def _number(raw: Mapping[Any, Any], key: str, least: float, most: float) -> float | None:
    value = raw.get(key)
    if value is None:
        return None
    if isinstance(value, bool) or not isinstance(value, int | float) or not math.isfinite(value):
        raise _wrong(f"{key} is {value!r}; it must be a number.")
    if not least <= value <= most:
        raise _wrong(f"{key} is {value:g}; it must be between {least:g} and {most:g}.")
    return float(value)


def _flag(raw: Mapping[Any, Any], key: str) -> bool:
    value = raw.get(key)
    if value is None or isinstance(value, bool):
        return bool(value)
    raise _wrong(f"{key} is {value!r}; it must be true or false.")


def _choice(raw: Mapping[Any, Any], key: str, choices: tuple[str, ...]) -> str:
    value = _text(raw, key)
    if value and value not in choices:
        raise _wrong(f"{key} is {value!r}; it must be one of: {', '.join(choices)}.")
    return value


def _listed(raw: Mapping[Any, Any], key: str) -> tuple[str, ...]:
    """A text, or a list of texts; `Wish` checks what they name."""
    value = raw.get(key)
    if value is None:
        return ()
    texts = [value] if isinstance(value, str) else value
    if not isinstance(texts, list) or not all(isinstance(text, str) and text.strip() for text in texts):
        example = ", ".join(WAYS) if key == "ways" else "sugar beet"
        raise _wrong(f"{key} is {value!r}; it must be a list of names, such as {example}.")
    return tuple(text.strip() for text in texts)
