"""Formulas of derivations, set: plain text, MathML for HTML, mathematics for typeset pages, LaTeX for Markdown."""

from __future__ import annotations

import functools
import re
from html import escape

from upright_bramble.working.formula import (
    ANGLES,
    GREEK,
    Call,
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
    "N": (1e3, "kN"), "N mm": (1e6, "kN·m"), "lb": (1e3, "kip"), "lb in": (12e3, "kip·ft"), "mm2": (1.0, "mm²"), "mm3": (1.0, "mm³"),
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
        signs.get(p, p) if re.fullmatch(r"<=|>=|[<>=,]", p) else (printed(parse(p)) if p.strip() and is_formula(p) else p.strip())
        for p in parts
    ]
    return " ".join(out).replace(" ,", ",")


def plain_formula(text: str) -> str:
    """Greek letters, roots and small powers."""
    return printed(parse(text))


# ---------------------------------------------------------------- MathML


@functools.cache
def mathml(text: str) -> str:
    """A formula as MathML, without the element around it."""
    return _ml(parse(text))


@functools.cache
def mathml_symbol(name: str) -> str:
    return _ml_symbol(name)


def _ml_symbol(name: str) -> str:
    said = symbol_text(name)
    if name.partition("_")[0] in ANGLES:
        return f'<mrow><mi>{escape(said.split()[0])}</mi><mspace width="0.15em"></mspace><mi>{escape(said.split()[1])}</mi></mrow>'
    if name == "f'c":
        return "<msub><mi>f′</mi><mtext>c</mtext></msub>"
    base, _, below = said.partition("_")
    first = f"<mi>{escape(base)}</mi>" if len(base) <= 2 else f'<mi mathvariant="normal">{escape(base)}</mi>'
    return f"<msub>{first}<mtext>{escape(below)}</mtext></msub>" if below else first


def _ml(node: Node) -> str:
    if isinstance(node, Number):
        size, _, power = node.text.partition("e")
        return f"<mn>{size}</mn>" + (f"<mo>·</mo><msup><mn>10</mn><mn>{power}</mn></msup>" if power else "")
    if isinstance(node, Symbol):
        return _ml_symbol(node.name)
    if isinstance(node, Sum):
        out = ""
        for k, (sign, term) in enumerate(node.terms):
            out += ("<mo>−</mo>" if sign == "-" else "<mo>+</mo>" if k else "") + _ml_inside(term, Sum)
        return f"<mrow>{out}</mrow>"
    if isinstance(node, Product):
        return _ml_product(node)
    if isinstance(node, Power):
        base = _ml(node.base)
        if isinstance(node.base, Sum | Product | Power):
            base = f"<mrow><mo>(</mo>{base}<mo>)</mo></mrow>"
        return f"<msup>{base}<mrow>{_ml(node.exponent)}</mrow></msup>"
    return _ml_call(node)


def _ml_inside(node: Node, around: type) -> str:
    text = _ml(node)
    return f"<mo>(</mo>{text}<mo>)</mo>" if isinstance(node, Sum) or around is Power else text


def _ml_product(node: Product) -> str:
    """A division takes all before it over what comes next."""
    over = ""
    for kind, factor in node.factors:
        if kind == "/":
            over = f"<mfrac><mrow>{over}</mrow><mrow>{_ml(factor)}</mrow></mfrac>"
        else:
            over += ("<mo>·</mo>" if over else "") + _ml_inside(factor, Product)
    return f"<mrow>{over}</mrow>"


def _ml_call(node: Call) -> str:
    inner = "<mo>;</mo>".join(_ml(v) for v in node.arguments)
    if node.name == "sqrt":
        return f"<msqrt>{inner}</msqrt>"
    if node.name == "cbrt":
        return f"<mroot><mrow>{inner}</mrow><mn>3</mn></mroot>"
    return f"<mrow><mi>{node.name}</mi><mo>(</mo>{inner}<mo>)</mo></mrow>"


# ---------------------------------------------------------------- typst


@functools.cache
def typst_math(text: str) -> str:
    """A formula in the notation of typst's mathematics."""
    return _ty(parse(text))


@functools.cache
def typst_symbol(name: str) -> str:
    base, _, below = name.partition("_")
    if base in ANGLES:
        return f"{base} {below}"
    if name == "f'c":
        return 'f\'_"c"'
    first = _GREEK_TYPST.get(base) or (base if len(base) == 1 else f'"{base}"')
    under = ",".join(GREEK.get(part, part) for part in below.split(",")) if below else ""
    return first + (f'_"{under}"' if under else "")


def _ty(node: Node) -> str:
    if isinstance(node, Number):
        size, _, power = node.text.partition("e")
        return f"{size} dot 10^({power})" if power else size
    if isinstance(node, Symbol):
        return typst_symbol(node.name)
    if isinstance(node, Sum):
        out = ""
        for k, (sign, term) in enumerate(node.terms):
            out += ("- " if sign == "-" else " + " if k else "") if k == 0 else (" - " if sign == "-" else " + ")
            out += _ty_inside(term)
        return out
    if isinstance(node, Product):
        over = ""
        for kind, factor in node.factors:
            over = f"({over})/({_ty(factor)})" if kind == "/" else (f"{over} dot {_ty_inside(factor)}" if over else _ty_inside(factor))
        return over
    if isinstance(node, Power):
        base = _ty(node.base)
        if isinstance(node.base, Sum | Product | Power) or " " in base:
            base = f"({base})"
        return f"{base}^({_ty(node.exponent)})"
    inner = "; ".join(_ty(v) for v in node.arguments)
    if node.name in ("sqrt", "cbrt"):
        return f"sqrt({inner})" if node.name == "sqrt" else f"root(3, {inner})"
    return f"{node.name}({inner})"


def _ty_inside(node: Node) -> str:
    return f"({_ty(node)})" if isinstance(node, Sum) else _ty(node)


# ---------------------------------------------------------------- LaTeX


@functools.cache
def latex(text: str) -> str:
    """A formula as Markdown viewers set it."""
    return _la(parse(text))


@functools.cache
def latex_symbol(name: str) -> str:
    base, _, below = name.partition("_")
    if base in ANGLES:
        return f"\\{base}\\{below}"
    first = "\\varepsilon" if base == "eps" else f"\\{base}" if base in GREEK else base if len(base) == 1 else f"\\mathrm{{{base}}}"
    return first + (f"_{{\\mathrm{{{below}}}}}" if below else "")


def _la(node: Node) -> str:
    if isinstance(node, Number):
        size, _, power = node.text.partition("e")
        return f"{size}\\cdot 10^{{{power}}}" if power else size
    if isinstance(node, Symbol):
        return latex_symbol(node.name)
    if isinstance(node, Sum):
        out = ""
        for k, (sign, term) in enumerate(node.terms):
            out += ("-" if sign == "-" else "") if k == 0 else f" {sign} "
            out += _la_inside(term)
        return out
    if isinstance(node, Product):
        over = ""
        for kind, factor in node.factors:
            over = (
                f"\\frac{{{over}}}{{{_la(factor)}}}"
                if kind == "/"
                else (f"{over} \\cdot {_la_inside(factor)}" if over else _la_inside(factor))
            )
        return over
    if isinstance(node, Power):
        base = _la(node.base)
        base = f"\\left({base}\\right)" if isinstance(node.base, Sum | Product | Power) else base
        return f"{base}^{{{_la(node.exponent)}}}"
    inner = ";\\ ".join(_la(v) for v in node.arguments)
    if node.name in ("sqrt", "cbrt"):
        return f"\\sqrt{{{inner}}}" if node.name == "sqrt" else f"\\sqrt[3]{{{inner}}}"
    return f"\\{node.name if node.name in ('min', 'max', 'ln') else 'operatorname{' + node.name + '}'}\\left({inner}\\right)"


def _la_inside(node: Node) -> str:
    return f"\\left({_la(node)}\\right)" if isinstance(node, Sum) else _la(node)
