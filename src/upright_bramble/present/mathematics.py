"""Formulas of derivations, set: plain text, MathML for HTML, mathematics for typeset pages, LaTeX for
Markdown."""

from __future__ import annotations

import functools
import re
from collections.abc import Callable
from dataclasses import dataclass
from html import escape

from upright_bramble.working.formula import (
    ANGLES,
    GREEK,
    FormulaError,
    Node,
    Number,
    Power,
    Product,
    Sum,
    Symbol,
    parse,
    printed,
    symbol_text,
)

# units of lines -> divisor, what is shown
_SHOWN = {
    "N": (1e3, "kN"), "N mm": (1e6, "kN·m"), "lb": (1e3, "kip"), "lb in": (12e3, "kip·ft"), "mm2": (1.0,
    "mm²"), "mm3": (1.0, "mm³"),
    "mm4": (1.0, "mm⁴"), "in2": (1.0, "in²"), "in3": (1.0, "in³"), "in4": (1.0, "in⁴"),
    "mm2/mm": (1.0, "mm²/mm"), "in2/in": (1.0, "in²/in"),
}  # fmt: skip
_GREEK_TYPST = {name: "epsilon" if name == "eps" else name for name in GREEK}


def shown(value: float, unit: str) -> tuple[float, str]:
    """A value as people say it: forces in kN or kip, moments in kN·m or kip·ft."""
    divisor, name = _SHOWN.get(unit, (1.0, unit))
    return value / divisor, name


def is_formula(text: str) -> bool:
    """Whether it can be set."""
    try:
        parse(text)
    except FormulaError:
        return False
    return True


def condition_text(text: str) -> str:
    """'f_ck = 30 <= 50' in plain text."""
    parts = re.split(r"(<=|>=|[<>=,])", text)
    signs = {"<=": "≤", ">=": "≥"}
    out = [
        signs.get(p, p)
        if re.fullmatch(r"<=|>=|[<>=,]", p)
        else (printed(parse(p)) if p.strip() and is_formula(p) else p.strip())
        for p in parts
    ]
    return " ".join(out).replace(" ,", ",")


def plain_formula(text: str) -> str:
    """Greek letters, roots and small powers."""
    return printed(parse(text))


@dataclass(frozen=True)
class Style:
    """How the parts of a formula are set: each gives text for texts."""

    number: Callable[[str, str], str]
    """Of a size and a power of ten ('' for none)."""
    symbol: Callable[[str], str]
    join: Callable[[str], str]
    """Around a sum or a product."""
    plus: str
    minus: str
    times: str
    bracket: Callable[[str], str]
    over: Callable[[str, str], str]
    power: Callable[[str, str], str]
    call: Callable[[str, list[str]], str]


def _set(node: Node, s: Style) -> str:
    """A division takes all before it over what comes next; sums inside products, and bases of powers, stand
    in brackets."""
    if isinstance(node, Number):
        size, _, power = node.text.partition("e")
        return s.number(size, power)
    if isinstance(node, Symbol):
        return s.symbol(node.name)
    if isinstance(node, Sum):
        text = ""
        for k, (sign, term) in enumerate(node.terms):
            text += (s.minus if sign == "-" else s.plus if k else "") + _inside(term, s)
        return s.join(text)
    if isinstance(node, Product):
        text = ""
        for kind, factor in node.factors:
            text = (
                s.over(text, _set(factor, s))
                if kind == "/"
                else (f"{text}{s.times}" if text else "") + _inside(factor, s)
            )
        return s.join(text)
    if isinstance(node, Power):
        base, angle = (
            _set(node.base, s),
            isinstance(node.base, Symbol) and node.base.name.partition("_")[0] in ANGLES,
        )
        return s.power(
            s.bracket(base) if angle or isinstance(node.base, Sum | Product | Power) else base,
            _set(node.exponent, s),
        )
    return s.call(node.name, [_set(v, s) for v in node.arguments])


def _inside(node: Node, s: Style) -> str:
    return s.bracket(_set(node, s)) if isinstance(node, Sum) else _set(node, s)


# ---------------------------------------------------------------- MathML


@functools.cache
def mathml(text: str) -> str:
    """A formula as MathML, without the element around it."""
    return _set(parse(text), _MATHML)


@functools.cache
def mathml_symbol(name: str) -> str:
    """A symbol as MathML."""
    text = symbol_text(name)
    if name.partition("_")[0] in ANGLES:
        return (
            f"<mrow><mi>{escape(text.split()[0])}</mi><mspace "
            f'width="0.15em"></mspace><mi>{escape(text.split()[1])}</mi></mrow>'
        )
    if name == "f'c":
        return "<msub><mi>f′</mi><mtext>c</mtext></msub>"
    base, _, below = text.partition("_")
    first = f"<mi>{escape(base)}</mi>" if len(base) <= 2 else f'<mi mathvariant="normal">{escape(base)}</mi>'
    return f"<msub>{first}<mtext>{escape(below)}</mtext></msub>" if below else first


def _mathml_call(name: str, arguments: list[str]) -> str:
    inner = "<mo>;</mo>".join(arguments)
    if name in ("sqrt", "cbrt"):
        return (
            f"<msqrt>{inner}</msqrt>" if name == "sqrt" else f"<mroot><mrow>{inner}</mrow><mn>3</mn></mroot>"
        )
    return f"<mrow><mi>{name}</mi><mo>(</mo>{inner}<mo>)</mo></mrow>"


_MATHML = Style(
    number=lambda size, power: (
        f"<mn>{size}</mn>" + (f"<mo>·</mo><msup><mn>10</mn><mn>{power}</mn></msup>" if power else "")
    ),
    symbol=mathml_symbol,
    join=lambda text: f"<mrow>{text}</mrow>",
    plus="<mo>+</mo>",
    minus="<mo>−</mo>",
    times="<mo>·</mo>",
    bracket=lambda text: f"<mrow><mo>(</mo>{text}<mo>)</mo></mrow>",
    over=lambda a, b: f"<mfrac><mrow>{a}</mrow><mrow>{b}</mrow></mfrac>",
    power=lambda base, exponent: f"<msup>{base}<mrow>{exponent}</mrow></msup>",
    call=_mathml_call,
)


# ---------------------------------------------------------------- typst


@functools.cache
def typst_math(text: str) -> str:
    """A formula in the notation of typst's mathematics."""
    return _set(parse(text), _TYPST)


@functools.cache
def typst_symbol(name: str) -> str:
    """A symbol in the notation of typst's mathematics."""
    base, _, below = name.partition("_")
    if base in ANGLES:
        return f"{base} {below}"
    if name == "f'c":
        return 'f\'_"c"'
    first = _GREEK_TYPST.get(base) or (base if len(base) == 1 else f'"{base}"')
    under = ",".join(GREEK.get(part, part) for part in below.split(",")) if below else ""
    return first + (f'_"{under}"' if under else "")


def _typst_call(name: str, arguments: list[str]) -> str:
    inner = "; ".join(arguments)
    return {"sqrt": f"sqrt({inner})", "cbrt": f"root(3, {inner})"}.get(name, f"{name}({inner})")


_TYPST = Style(
    number=lambda size, power: f"{size} dot 10^({power})" if power else size,
    symbol=typst_symbol,
    join=lambda text: text,
    plus=" + ",
    minus=" - ",
    times=" dot ",
    bracket=lambda text: f"({text})",
    over=lambda a, b: f"({a})/({b})",
    power=lambda base, exponent: f"{base}^({exponent})",
    call=_typst_call,
)


# ---------------------------------------------------------------- LaTeX


@functools.cache
def latex(text: str) -> str:
    """A formula as Markdown viewers set it."""
    return _set(parse(text), _LATEX)


@functools.cache
def latex_symbol(name: str) -> str:
    """A symbol as Markdown viewers set it."""
    base, _, below = name.partition("_")
    if base in ANGLES:
        return f"\\{base}\\{below}"
    first = (
        "\\varepsilon"
        if base == "eps"
        else f"\\{base}"
        if base in GREEK
        else base
        if len(base) == 1
        else f"\\mathrm{{{base}}}"
    )
    return first + (f"_{{\\mathrm{{{below}}}}}" if below else "")


def _latex_call(name: str, arguments: list[str]) -> str:
    inner = ";\\ ".join(arguments)
    if name in ("sqrt", "cbrt"):
        return f"\\sqrt{{{inner}}}" if name == "sqrt" else f"\\sqrt[3]{{{inner}}}"
    return f"\\{name if name in ('min', 'max', 'ln') else 'operatorname{' + name + '}'}\\left({inner}\\right)"


_LATEX = Style(
    number=lambda size, power: f"{size}\\cdot 10^{{{power}}}" if power else size,
    symbol=latex_symbol,
    join=lambda text: text,
    plus=" + ",
    minus=" - ",
    times=" \\cdot ",
    bracket=lambda text: f"\\left({text}\\right)",
    over=lambda a, b: f"\\frac{{{a}}}{{{b}}}",
    power=lambda base, exponent: f"{base}^{{{exponent}}}",
    call=_latex_call,
)
