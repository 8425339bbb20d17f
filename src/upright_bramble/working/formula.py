"""Formulas as text: read, worked out, and printed again with numbers put in.

The notation is what an engineer would type: `C_Rd,c k (100 rho_l f_ck)^(1/3) b_w d`. Symbols may have a
subscript with commas; factors stand beside each other; `;` parts the arguments of `min`, `max`; `sqrt`,
`cbrt`, `ln`, `abs` are known. A division ends with the next factor: `phi/4 sigma_sd` is a quarter of phi
times sigma_sd.
"""

from __future__ import annotations

import functools
import itertools
import math
import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import TypeAlias

from upright_bramble.errors import BrambleError

FUNCTIONS: Mapping[str, Callable[..., float]] = {
    "min": min, "max": max, "sqrt": math.sqrt, "cbrt": math.cbrt, "ln": math.log, "abs": abs,
}  # fmt: skip
GREEK = {
    "alpha": "α", "beta": "β", "gamma": "γ", "delta": "δ", "eps": "ε", "zeta": "ζ", "eta": "η", "theta": "θ",
    "lambda": "λ", "mu": "μ",
    "nu": "ν", "xi": "ξ", "rho": "ρ", "sigma": "σ",
    "kappa": "κ", "tau": "τ", "phi": "φ", "psi": "ψ", "Delta": "Δ", "Sigma": "Σ", "Phi": "Φ",
}  # fmt: skip
ANGLES = ("sin", "cos", "tan", "cot")
_SUPERSCRIPTS = str.maketrans("0123456789-", "⁰¹²³⁴⁵⁶⁷⁸⁹⁻")
_TOKEN = re.compile(
    r"\s*(?:(?P<number>\d+(?:\.\d+)?(?:e-?\d+)?)|(?P<symbol>[A-Za-z][A-Za-z0-9]*'?[A-Za-z]?(?:_[A-Za-z0-9']+(?:,[A-Za-z0-9]+)*)?\*?)"
    r"|(?P<mark><=|>=|[-+/^()\[\];<>]))"
)


class FormulaError(BrambleError, ValueError):
    """A text that is no formula."""


@dataclass(frozen=True)
class Number:
    """As it is to be printed."""

    text: str


@dataclass(frozen=True)
class Symbol:
    name: str


@dataclass(frozen=True)
class Sum:
    """Terms with their signs: '+' or '-'."""

    terms: tuple[tuple[str, Node], ...]


@dataclass(frozen=True)
class Product:
    """Factors, each multiplied ('*') or divided by ('/')."""

    factors: tuple[tuple[str, Node], ...]


@dataclass(frozen=True)
class Power:
    base: Node
    exponent: Node


@dataclass(frozen=True)
class Call:
    name: str
    arguments: tuple[Node, ...]


Node: TypeAlias = Number | Symbol | Sum | Product | Power | Call


LONGEST, DEEPEST = 10_000, 40  # characters, brackets in one another


def _depth(text: str) -> int:
    """Of brackets in one another."""
    return max(itertools.accumulate((c in "([") - (c in ")]") for c in text), default=0)


class _Reader:
    """Recursive descent over the tokens."""

    def __init__(self, text: str) -> None:
        self.text, self.tokens, self.at = text[:80], [], 0  # type: tuple[str, list[tuple[str, str]], int]
        if len(text) > LONGEST or _depth(text) > DEEPEST:
            raise FormulaError(f"is no formula that a derivation has, so long or so deep: {text[:80]}")
        place = 0
        while text[place:].strip():
            result = _TOKEN.match(text, place)
            if not result:
                raise FormulaError(f"'{text[place:].strip()[:12]}' is no part of a formula: {text[:80]}")
            kind = result.lastgroup or ""
            self.tokens.append((kind, result.group(kind)))
            place = result.end()

    def peek(self) -> str:
        return self.tokens[self.at][1] if self.at < len(self.tokens) else ""

    def take(self, wanted: str = "") -> str:
        if not self.peek() or (wanted and self.peek() != wanted):
            raise FormulaError(f"'{wanted or 'more'}' is missing: {self.text}")
        self.at += 1
        return self.tokens[self.at - 1][1]

    def sum(self) -> Node:
        terms = [(self.take() if self.peek() in ("+", "-") else "+", self.product())]
        while self.peek() in ("+", "-"):
            terms.append((self.take(), self.product()))
        return terms[0][1] if len(terms) == 1 and terms[0][0] == "+" else Sum(tuple(terms))

    def product(self) -> Node:
        factors = [("*", self.power())]
        while self.peek() and (self.peek() in "/([" or self.tokens[self.at][0] != "mark"):
            factors.append((self.take() if self.peek() == "/" else "*", self.power()))
        return factors[0][1] if len(factors) == 1 else Product(tuple(factors))

    def power(self) -> Node:
        base = self.base()
        if self.peek() == "^":
            self.take()
            return Power(base, self.base())
        return base

    def base(self) -> Node:
        if self.peek() in ("(", "["):
            close = ")" if self.take() == "(" else "]"
            inner = self.sum()
            self.take(close)
            return inner
        kind = self.tokens[self.at][0] if self.peek() else ""
        token = self.take()
        if kind == "number":
            return Number(token)
        if kind != "symbol":
            raise FormulaError(f"'{token}' is where a formula has a number or a symbol: {self.text}")
        if token in FUNCTIONS and self.peek() == "(":
            self.take("(")
            arguments = [self.sum()]
            while self.peek() == ";":
                self.take()
                arguments.append(self.sum())
            self.take(")")
            return Call(token, tuple(arguments))
        return Symbol(token)


@functools.cache
def parse(text: str) -> Node:
    """Raises FormulaError."""
    reader = _Reader(text)
    result = reader.sum()
    if reader.peek():
        raise FormulaError(f"'{reader.peek()}' is left over: {text[:80]}")
    return result


def symbols(node: Node) -> list[str]:
    """In the order they stand in, each once."""
    result: dict[str, None] = {}

    def walk(n: Node) -> None:
        if isinstance(n, Symbol):
            result[n.name] = None
        for part in _parts(n):
            walk(part)

    walk(node)
    return list(result)


def _parts(n: Node) -> tuple[Node, ...]:
    if isinstance(n, Sum):
        return tuple(v for _, v in n.terms)
    if isinstance(n, Product):
        return tuple(v for _, v in n.factors)
    if isinstance(n, Power):
        return (n.base, n.exponent)
    return n.arguments if isinstance(n, Call) else ()


def evaluate(node: Node, values: Mapping[str, float]) -> float:
    """Raises KeyError for a symbol without a value."""
    return _worker(node)(values)


Worker: TypeAlias = Callable[[Mapping[str, float]], float]


@dataclass(frozen=True)
class Ready:
    """A formula to be worked out many times: its `text` as `written` gives it, its symbols, what gives its
    value, and the text in pieces with a symbol between each two."""

    text: str
    names: tuple[str, ...]
    value: Worker
    pieces: tuple[str, ...]
    between: tuple[str, ...]

    def put(self, numbers: Mapping[str, str]) -> str:
        """The text with numbers put in, negative ones in brackets."""
        parts = [self.pieces[0]]
        for name, piece in zip(self.between, self.pieces[1:], strict=True):
            text = numbers[name]
            parts += [f"({text})" if text.startswith("-") else text, piece]
        return "".join(parts)


@functools.cache
def ready(text: str) -> Ready:
    """Raises FormulaError."""
    node = parse(text)
    marked = written(substitute(node, {name: f"\0{name}\0" for name in symbols(node)}))
    split = marked.split("\0")
    return Ready(written(node), tuple(symbols(node)), _worker(node), tuple(split[0::2]), tuple(split[1::2]))


def _worker(node: Node) -> Worker:
    if isinstance(node, Number):
        constant = float(node.text)
        return lambda _: constant
    if isinstance(node, Symbol):
        name = node.name
        return lambda v: v[name]
    if isinstance(node, Sum):
        terms = [(1.0 if sign == "+" else -1.0, _worker(t)) for sign, t in node.terms]
        return lambda v: sum(sign * t(v) for sign, t in terms)
    if isinstance(node, Product):
        factors = [(kind == "*", _worker(t)) for kind, t in node.factors]

        def product(v: Mapping[str, float]) -> float:
            result = 1.0
            for times, t in factors:
                result = result * t(v) if times else result / t(v)
            return result

        return product
    if isinstance(node, Power):
        base, exponent = _worker(node.base), _worker(node.exponent)
        return lambda v: float(base(v) ** exponent(v))
    function, arguments = FUNCTIONS[node.name], [_worker(t) for t in node.arguments]
    return lambda v: float(function(*(t(v) for t in arguments)))


def substitute(node: Node, numbers: Mapping[str, str]) -> Node:
    """Numbers put in for the symbols that have one."""
    if isinstance(node, Symbol):
        return _number(numbers[node.name]) if node.name in numbers else node
    if isinstance(node, Sum):
        return Sum(tuple((k, substitute(v, numbers)) for k, v in node.terms))
    if isinstance(node, Product):
        return Product(tuple((k, substitute(v, numbers)) for k, v in node.factors))
    if isinstance(node, Power):
        return Power(substitute(node.base, numbers), substitute(node.exponent, numbers))
    if isinstance(node, Call):
        return Call(node.name, tuple(substitute(v, numbers) for v in node.arguments))
    return node


def _number(text: str) -> Node:
    return Sum((("-", Number(text[1:])),)) if text.startswith("-") else Number(text)


@dataclass(frozen=True)
class Comparison:
    left: Ready
    mark: str
    right: Ready

    def holds(self, values: Mapping[str, float]) -> bool:
        a, b = self.left.value(values), self.right.value(values)
        return {"<=": a <= b, ">=": a >= b, "<": a < b, ">": a > b}[self.mark]


@functools.cache
def comparison(text: str) -> Comparison:
    """'f_ck <= 50'. Raises FormulaError."""
    result = re.fullmatch(r"(.*?)(<=|>=|<|>)(.*)", text)
    if not result:
        raise FormulaError(f"no comparison: {text}")
    return Comparison(ready(result.group(1)), result.group(2), ready(result.group(3)))


_SUM, _PRODUCT, _POWER, _ATOM = range(4)


def _rank(node: Node) -> int:
    if isinstance(node, Sum):
        return _SUM
    if isinstance(node, Product):
        return _PRODUCT
    if isinstance(node, Power):
        return _POWER
    return _ATOM


def written(node: Node) -> str:
    """In the notation that `parse` reads, with every bracket that is needed and no other."""

    def inside(n: Node, minimum: int) -> str:
        text = written(n)
        return f"({text})" if _rank(n) < minimum else text

    if isinstance(node, Number):
        return node.text
    if isinstance(node, Symbol):
        return node.name
    if isinstance(node, Sum):
        parts = [
            f"{' ' if k else ''}{sign}{' ' if k else ''}" * (k > 0 or sign == "-") + inside(v, _PRODUCT)
            for k, (sign, v) in enumerate(node.terms)
        ]
        return "".join(parts)
    if isinstance(node, Product):
        text = ""
        for k, (kind, v) in enumerate(node.factors):
            text += ("" if k == 0 else "/" if kind == "/" else " ") + inside(v, _POWER)
        return text
    if isinstance(node, Power):
        return f"{inside(node.base, _ATOM)}^{inside(node.exponent, _ATOM)}"
    return f"{node.name}({'; '.join(written(v) for v in node.arguments)})"


def symbol_text(name: str) -> str:
    """Greek letters for their names: 'gamma_C' is 'γ_C', and 'cot_theta' 'cot θ'."""
    base, _, below = name.partition("_")
    if base in ANGLES:
        return f"{base} {GREEK.get(below, below)}"
    below = ",".join(GREEK.get(part, part) for part in below.split(",")) if below else ""
    if re.match(r"phi[A-Z]", base):  # a reduced strength, such as phiV_n
        base = GREEK["phi"] + base[3:]
    return (
        GREEK.get(base.rstrip("*"), base.rstrip("*")) + "*" * name.count("*") + (f"_{below}" if below else "")
    )


def printed(node: Node) -> str:
    """For people, in plain text: Greek letters, roots, small powers, a dot between factors."""

    def inside(n: Node, minimum: int) -> str:
        text = printed(n)
        return f"({text})" if _rank(n) < minimum else text

    if isinstance(node, Number):
        size, _, power = node.text.partition("e")
        return size + (f"·10{power.translate(_SUPERSCRIPTS)}" if power else "")
    if isinstance(node, Symbol):
        return symbol_text(node.name)
    if isinstance(node, Sum):
        text = ""
        for k, (sign, v) in enumerate(node.terms):
            text += ("−" if sign == "-" else "") if k == 0 else (" − " if sign == "-" else " + ")
            text += inside(v, _PRODUCT)
        return text
    if isinstance(node, Product):
        text = ""
        for k, (kind, v) in enumerate(node.factors):
            bare = inside(v, _POWER)
            # a power of ten after a stroke would be read beside it
            bare = f"({bare})" if kind == "/" and isinstance(v, Number) and "e" in v.text else bare
            text += ("" if k == 0 else "/" if kind == "/" else " · ") + bare
        return text
    if isinstance(node, Power):
        if isinstance(node.exponent, Number) and re.fullmatch(r"\d", node.exponent.text):
            base = inside(node.base, _ATOM)
            return (
                f"({base})" if " " in base and not base.startswith("(") else base
            ) + node.exponent.text.translate(_SUPERSCRIPTS)
        return f"{inside(node.base, _ATOM)}^{inside(node.exponent, _ATOM)}"
    sign = {"sqrt": "√", "cbrt": "∛"}.get(node.name, node.name)
    return f"{sign}({'; '.join(printed(v) for v in node.arguments)})"
