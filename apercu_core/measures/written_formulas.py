"""A formula as a person writes it, `10 × Mass of ears / Area cut`, and the same for the rules of entries.

Python's own parser reads it once the names are replaced; what isn't plain arithmetic is refused. Nothing is evaluated
here: the result is JSONata (`measures.expressions`), in which devices and the server work the value out.
"""

from __future__ import annotations

import ast
import re
from collections.abc import Mapping
from dataclasses import dataclass

from apercu_core.errors import Refused
from apercu_core.words import listed

LONGEST = 300
OF_READINGS = {"mean": "$average", "sum": "$sum", "lowest": "$min", "highest": "$max", "number": "$count"}
OF_NUMBERS = {"sqrt": "$sqrt", "ln": "$ln"}
"""What a formula may take of several readings, and of one number."""
_SIGNS = {"×": "*", "·": "*", "÷": "/", "−": "-", "–": "-", "^": "**"}
_OPERATORS: dict[type[ast.operator], str] = {ast.Add: "+", ast.Sub: "-", ast.Mult: "*", ast.Div: "/"}


@dataclass(frozen=True, slots=True)
class Named:
    """What a formula may name. `readings`: it is a list; `jsonata`: what stands for it, its key where it is empty."""

    key: str
    readings: bool = False
    jsonata: str = ""


@dataclass(frozen=True, slots=True)
class Written:
    """`jsonata`: for the rules; `used`: keys of what it names; `sum_only`: it only adds these up."""

    jsonata: str
    used: frozenset[str]
    sum_only: bool


def read_formula(text: str, named: Mapping[str, Named]) -> Written:
    """The formula over `named`: name as written → what it is. Raises `Refused` with what can't be read."""
    if not text.strip():
        raise Refused("bad-value", "Write the formula that makes the value.")
    if len(text) > LONGEST:
        raise Refused("bad-value", f"The formula has {len(text)} letters; {LONGEST} are possible.")
    try:
        tree = ast.parse(_in_keys(text, named), mode="eval").body
        used: set[str] = set()
        by_key = {one.key: one for one in named.values()}
        jsonata = _made(tree, by_key, used)
    except Refused:
        raise
    except (SyntaxError, ValueError, MemoryError, RecursionError):
        raise Refused("bad-value", "The formula can’t be read. Check its signs and brackets.") from None
    if not used:
        raise Refused("bad-value", "The formula names none of the fields, so each plot would have the same value.")
    return Written(jsonata, frozenset(used), _adds_up(tree, by_key))


def _in_keys(text: str, named: Mapping[str, Named]) -> str:
    """With keys for names, the longest first, and signs that the parser knows. Raises `Refused` for other words."""
    names = sorted(named, key=len, reverse=True)
    functions = {**OF_READINGS, **OF_NUMBERS}
    word = "|".join([*(rf"(?<!\w){re.escape(name)}(?!\w)" for name in names if name), r"[^\W\d]\w*"])
    folded = {name.casefold(): one for name, one in named.items()}

    def key(match: re.Match[str]) -> str:
        found = match[0].casefold()
        if found in folded:
            return folded[found].key
        if found in functions and text[match.end() :].lstrip().startswith("("):
            return found
        there = f"It can name {listed(list(named))}." if named else "Add a field first."
        raise Refused("bad-value", f"The formula names “{match[0]}”, which isn’t a field. {there}")

    plain = re.sub(word, key, " ".join(text.split()), flags=re.IGNORECASE)
    plain = re.sub(r"(?<=\d),(?=\d)", ".", plain)
    return "".join(_SIGNS.get(sign, sign) for sign in plain)


def _made(node: ast.expr, named: Mapping[str, Named], used: set[str]) -> str:
    if isinstance(node, ast.Constant) and isinstance(node.value, int | float) and not isinstance(node.value, bool):
        return f"{float(node.value)!r}" if abs(node.value) < 1e15 else _refuse("a number that is too large")
    if isinstance(node, ast.Name) and node.id in named:
        one = named[node.id]
        if one.readings:
            return _refuse("several values as one number. Write mean(…), sum(…), lowest(…), highest(…) or number(…)")
        used.add(one.key)
        return one.jsonata or one.key
    if isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.USub | ast.UAdd):
        inner = _made(node.operand, named, used)
        return f"(0 - {inner})" if isinstance(node.op, ast.USub) else inner
    if isinstance(node, ast.BinOp):
        left, right = _made(node.left, named, used), _made(node.right, named, used)
        if isinstance(node.op, ast.Pow):
            return f"$power({left}, {right})"
        sign = _OPERATORS.get(type(node.op))
        return f"({left} {sign} {right})" if sign else _refuse("a sign that isn’t +, −, ×, ÷ or ^")
    if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and len(node.args) == 1 and not node.keywords:
        return _taken(node.func.id, node.args[0], named, used)
    return _refuse("something that isn’t arithmetic. Use +, −, ×, ÷, ^ and brackets")


def _taken(function: str, of: ast.expr, named: Mapping[str, Named], used: set[str]) -> str:
    one = named.get(of.id) if isinstance(of, ast.Name) else None
    if function in OF_READINGS:
        if one is None or not one.readings:
            return _refuse(f"{function}(…) of what isn’t a field of several values")
        used.add(one.key)
        return f"{OF_READINGS[function]}({one.key})"
    return f"{OF_NUMBERS[function]}({_made(of, named, used)})"


def _adds_up(node: ast.expr, named: Mapping[str, Named]) -> bool:
    if isinstance(node, ast.Name):
        return True
    if isinstance(node, ast.Call):
        return isinstance(node.func, ast.Name) and node.func.id == "sum"
    return isinstance(node, ast.BinOp) and isinstance(node.op, ast.Add) and _adds_up(node.left, named) and _adds_up(
        node.right, named
    )  # fmt: skip


def _refuse(what: str) -> str:
    raise Refused("bad-value", f"The formula has {what}.")
