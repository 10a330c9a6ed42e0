"""Short codes for treatments: on maps, labels and boards they tell treatments apart and say what they are."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterable, Mapping, Sequence

LONGEST = 8
"""Letters in a code: more doesn't fit on a plot of the map or a label."""
_NUTRIENTS = {"N", "P", "K", "S", "MG", "CA", "B"}
"""Nutrients: a rate of one is called after it, `N40`."""
_NOTHING = {"none", "no", "without", "0"}


def codes_for(names: Sequence[str], taken: Iterable[str] = ()) -> list[str]:
    """One code a name, all different and none of `taken`: initials, else first letters, else a number."""
    used = {code.casefold() for code in taken}
    codes = []
    for name in names:
        code = next(code for code in _candidates(name) if code.casefold() not in used)
        used.add(code.casefold())
        codes.append(code)
    return codes


def codes_of_levels(
    factors: Mapping[str, Sequence[str]], treatments: Sequence[Mapping[str, str]], taken: Iterable[str] = ()
) -> list[str]:
    """One code a treatment, at most `LONGEST` letters, made of its level of each factor: `V-late`, `4w-N40`.

    `treatments`: the level of each factor. Levels are written whole where there is room for all of a factor's, from the
    last factor to the first, else as short as tells them apart. Where that is too long, or taken, the levels'
    words give the code as a name would.
    """
    written = {factor: _short(levels) for factor, levels in factors.items()}
    for factor in reversed(list(factors)):
        whole = {level: _letters(level) for level in factors[factor]}
        tell = all(whole.values()) and len({code.casefold() for code in whole.values()}) == len(whole)
        if tell and not all(_amounts(factors[factor])) and _longest({**written, factor: whole}) <= LONGEST:
            written[factor] = whole
    sign = "-" if _longest(written) <= LONGEST else ""
    used = {code.casefold() for code in taken}
    codes = []
    for levels in treatments:
        code = sign.join(written[factor].get(levels.get(factor, ""), "?") for factor in factors)
        if len(code) > LONGEST or code.casefold() in used:
            (code,) = codes_for([" ".join(levels.values())], used)
        used.add(code.casefold())
        codes.append(code)
    return codes


def _longest(written: Mapping[str, Mapping[str, str]]) -> int:
    return sum(max(map(len, codes.values()), default=0) for codes in written.values()) + len(written) - 1


def _short(levels: Sequence[str]) -> dict[str, str]:
    """Each level as short as tells it from the factor's others: `Vetch` V, `4 weeks` 4w, `40 kg N` N40."""
    words = [_letters(level) for level in levels]
    initials = [_initials(level) or word[:1].upper() for level, word in zip(levels, words, strict=True)]
    for tried in (_amounts(levels), initials, *([word[:length] for word in words] for length in (2, 3))):
        if all(tried) and len({code.casefold() for code in tried}) == len(levels):
            return dict(zip(levels, tried, strict=True))
    return dict(zip(levels, codes_for(levels), strict=True))


def _amounts(levels: Sequence[str]) -> list[str]:
    """Rates and times with what they count; a level without any is the zero of the others, `N0` beside `N40`."""
    amounts = [_amount(level) for level in levels]
    sign = next((amount[0] for amount in amounts if amount[:1].isalpha()), "")
    return [f"{sign}0" if level.strip().casefold() in _NOTHING else a for level, a in zip(levels, amounts, strict=True)]


def _amount(level: str) -> str:
    """A number with its nutrient before it, or its unit's first letter after it: `40 kg N` N40, `4 weeks` 4w."""
    named = re.match(r"([A-Za-z]{1,2})\s*(\d+)", level.strip())
    if named:
        return named[1] + named[2]
    found = re.fullmatch(r"(\d+(?:[.,]\d+)?)\s*(\D*)", re.sub(r"(?<=\d),(?=\d{3}\b)", "", level.strip()))
    if not found:
        return ""
    number, words = found[1].replace(",", "."), re.findall(r"[A-Za-z]+", found[2])
    nutrient = next((word for word in words if word.upper() in _NUTRIENTS), "")
    return nutrient + number if nutrient else number + (words[0][0].lower() if words else "")


def _initials(level: str) -> str:
    words = re.findall(r"[A-Za-z0-9]+", _plain(level))
    return "".join(word[0] for word in words)[:3].upper() if len(words) > 1 else ""


def _letters(level: str) -> str:
    """The level in a code's letters; of several words the first, unless it is a number, which is said with its unit."""
    words = re.findall(r"[A-Za-z0-9.]+", _plain(level))
    if len(words) == 1:
        return str(words[0])
    return _amount(level)


def _plain(text: str) -> str:
    return unicodedata.normalize("NFKD", text).encode("ascii", "ignore").decode()


def _candidates(name: str) -> Iterable[str]:
    words = re.findall(r"[A-Z0-9]+", _plain(name).upper()) or ["T"]
    if len(words) > 1:
        yield "".join(word[0] for word in words)[:3]
    if words[0].isdigit() or len(words[0]) <= 4:
        yield words[0][:5]
    for length in (2, 3, 4):
        yield words[0][:length]
    if len(words) > 1:
        yield (words[0][:2] + words[1][:2])[:4]
    number = 1
    while True:
        yield f"{words[0][:2]}{number}"
        number += 1
