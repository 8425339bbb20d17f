"""Every formula told is the formula used: the text of each clause, worked out with the numbers put in, gives what its function gives."""

from __future__ import annotations

import doctest
import math
import random

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ranges import clause_functions, in_words, sampled
from upright_bramble.codes.aci318.expressions import INCH_POUND, METRIC
from upright_bramble.working import formula as notation
from upright_bramble.working import lines_of, number, recording

NO_CLAUSES = ("code", "symbols", "expressions", "own_rules")
CHOICES = {
    "cement": ["N", "S", "R"], "kind": ["bend", "hook"], "exposure": ["weather", "inside", "earth"],
    "ends": ["simple", "end", "interior", "cantilever"],
}  # fmt: skip


def functions():
    return [(name, f) for name, f in clause_functions() if hasattr(f, "clause")]


def drawn(function, rng):
    """Arguments in their ranges; a set of expressions, or a word of those that a clause knows, by chance."""
    result = sampled(function, rng)
    for name, value in result.items():
        if value in (INCH_POUND, METRIC):
            result[name] = rng.choice([INCH_POUND, METRIC])
        elif isinstance(value, str) and name in CHOICES:
            result[name] = rng.choice(CHOICES[name])
    return result


@pytest.mark.parametrize("function", [pytest.param(f, id=name) for name, f in functions() if in_words(f)])
def test_what_is_told_in_words_has_its_number(function):
    """Of the function's own example: a line with its symbol and its value; none where it gives more than one number."""
    scope = dict(function.__wrapped__.__globals__)
    with recording() as steps:
        for example in doctest.DocTestParser().get_examples(function.__doc__):
            exec(example.source, scope)
    steps = [s for s in steps if s.of is function.clause]
    assert steps
    lines = lines_of(steps)
    if np.size(steps[-1].result) != 1 or isinstance(steps[-1].result, str | tuple):
        assert not lines
        return
    assert lines[-1].symbol == function.clause.symbol
    assert lines[-1].text or lines[-1].formula
    assert lines[-1].value == pytest.approx(
        float(np.asarray(steps[-1].result)) / scale(function, steps[-1].arguments), rel=1e-9
    )


@pytest.mark.parametrize("function", [pytest.param(f, id=name) for name, f in functions() if not in_words(f)])
def test_the_formula_told_is_the_one_used(function):
    rng = random.Random(7)
    for _ in range(20):
        given_ = drawn(function, rng)
        with recording() as steps:
            result = function(**given_)
        line = lines_of(steps)[-1] if lines_of(steps) else None
        assert line is not None
        assert line.formula, (function.__name__, function.clause.formula)
        values = {name: float(v) for name, v in given_.items() if isinstance(v, int | float)}
        assert values or given_
        worked = again(steps)
        assert worked == pytest.approx(line.value, rel=1e-6, abs=1e-9), (function.__name__, line, given_)
        assert line.value == pytest.approx(float(np.asarray(result)) / scale(function, given_), rel=1e-9)


def scale(function, given_) -> float:
    x = given_.get("x")
    return x.units.factors.get(function.clause.unit, 1.0) if x is INCH_POUND else 1.0


def again(steps) -> float:
    """The last formula, worked out from its text with the values of its symbols."""
    from upright_bramble.working import worked_value

    return worked_value(steps)


def test_most_clauses_are_formulas():
    """Of all clause functions no more than a fifth are told in words."""
    all_ = functions()
    assert len(all_) > 120
    assert sum(in_words(f) for _, f in all_) < 0.2 * len(all_)


def test_every_function_of_a_code_is_told():
    """None gives a number that no derivation could tell; what returns several is put together from those that do."""
    several = {"stress_limits", "zero_moment_distances"}
    for name, f in clause_functions():
        if name.startswith(("en1992.", "aci318.")) and f.__name__ not in several:
            assert hasattr(f, "clause"), name


@st.composite
def formulas(draw, depth=3):
    """Any formula, no deeper than `depth`."""
    kind = draw(
        st.sampled_from(
            ["symbol", "number"] if depth == 0 else ["symbol", "number", "sum", "product", "power", "call"]
        )
    )
    if kind == "symbol":
        return notation.Symbol(draw(st.sampled_from(["a", "f_ck", "V_Rd,c", "phi"])))
    if kind == "number":
        return notation.Number(str(draw(st.integers(1, 99))))
    parts = [draw(formulas(depth - 1)) for _ in range(draw(st.integers(2, 3)))]
    if kind == "sum":
        return notation.Sum(tuple((draw(st.sampled_from("+-")), p) for p in parts))
    if kind == "product":
        return notation.Product(
            tuple(("*" if k == 0 else draw(st.sampled_from("*/")), p) for k, p in enumerate(parts))
        )
    if kind == "power":
        return notation.Power(parts[0], notation.Number(str(draw(st.integers(2, 3)))))
    return notation.Call("max", tuple(parts))


@given(formulas())
def test_what_is_written_reads_as_it_was(node):
    values = {"a": 1.7, "f_ck": 3.1, "V_Rd,c": 0.9, "phi": 2.3}
    try:
        expected = notation.evaluate(node, values)
    except (ZeroDivisionError, OverflowError):
        return
    if not math.isfinite(expected):
        return
    assert notation.evaluate(notation.parse(notation.written(node)), values) == pytest.approx(
        expected, rel=1e-12, abs=1e-300
    )


@pytest.mark.parametrize("text", ["", "a +", "(a", "a ) b", "max(a; b", "a $ b", "5 (", "a^"])
def test_what_is_no_formula_is_refused(text):
    with pytest.raises(notation.FormulaError):
        notation.parse(text)


@pytest.mark.parametrize(
    ("value", "text"),
    [(0.0, "0"), (1.0, "1"), (0.0035, "0.0035"), (434.7826, "434.8"), (245312.7, "245300"), (-12.3456, "-12.35"), (1.5e12, "1.5e12"),
     (3.2e-7, "3.2e-7"), (99999.6, "100000"), (0.99996, "1")],
)  # fmt: skip
def test_numbers_are_told_to_four_digits(value, text):
    assert float(number(value)) == pytest.approx(float(text))
    assert number(value) == text or "e" in text


def test_print_of_a_formula():
    node = notation.parse("C_Rd,c k (100 rho_l f_ck)^(1/3) b_w d")
    assert notation.printed(node) == "C_Rd,c · k · (100 · ρ_l · f_ck)^(1/3) · b_w · d"
    assert notation.printed(notation.parse("1 - beta (M_cr/M)^2")) == "1 − β · (M_cr/M)²"
    put = notation.substitute(notation.parse("a - b"), {"a": "2", "b": "-3"})
    assert notation.written(put) == "2 - (-3)"
