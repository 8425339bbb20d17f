"""National annexes and values of one's own: what they change, what they leave out, what may be zero."""

from __future__ import annotations

import numpy as np
import pytest

from plain_beams import EN, beam, dead, live, written
from upright_bramble import design
from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes import get_code
from upright_bramble.codes.parts import Group
from upright_bramble.errors import CodeError

ANNEXES = get_code("en1992-1-1").annexes
C30, B500 = Concrete(30.0), Steel(500.0)


def test_the_recommended_values_come_first_and_all_annexes_are_known():
    assert ANNEXES[0] == "recommended"
    assert set(ANNEXES) == {
        "recommended", "uk", "ireland", "germany", "france", "italy", "netherlands", "sweden", "poland", "singapore",
    }  # fmt: skip


@pytest.mark.parametrize("annex", ANNEXES[1:])
def test_every_value_of_an_annex_names_its_clause_and_none_is_new(annex):
    code, usual = get_code("en1992-1-1", annex), get_code("en1992-1-1")
    assert set(code.values) == set(usual.values)
    for key, value in code.values.items():
        assert value.clause, key
    assert annex in code.title.lower() or code.title.split(", ")[1].endswith("national annex")


@pytest.mark.parametrize(
    ("annex", "key", "value"),
    [
        ("uk", "alpha_cc", 0.85), ("ireland", "alpha_cc", 0.85), ("germany", "C_Rd_c", 0.15), ("germany", "k_1", 0.64),
        ("italy", "alpha_cc", 0.85), ("netherlands", "psi_0_A", 0.4), ("netherlands", "xi", 0.89), ("poland", "gamma_c", 1.4),
        ("poland", "cot_theta_max", 2.0), ("sweden", "psi_0_snow", 0.8), ("singapore", "xi", 0.925), ("france", "alpha_cc", 1.0),
    ],
)  # fmt: skip
def test_values_of_annexes(annex, key, value):
    assert get_code("en1992-1-1", annex).values[key].value == value


def test_german_redistribution_has_its_own_line():
    """delta >= 0.64 + 0.8 x_u/d: x_u/d 0.45 without, 0.2 at 0.8."""
    limit = get_code("en1992-1-1", "germany").bending.neutral_axis_limit(C30, B500, np.array([1.0, 0.8]))
    assert limit == pytest.approx([0.45, 0.2])


def test_the_annex_has_its_own_usual_rule_of_combination():
    groups = [Group("B", "imposed", "B")]
    names = {
        a: {
            c.permanent
            for c in get_code("en1992-1-1", a).actions.combinations(groups)
            if c.level == "strength"
        }
        for a in ("recommended", "sweden")
    }
    assert names["recommended"] == {1.35, 1.0}
    assert names["sweden"] == {1.35, 1.0, 0.89 * 1.35}


@pytest.mark.parametrize("annex", ["germany", "uk"])
def test_what_an_annex_leaves_out_is_said_in_the_result(annex):
    result = design(
        beam(written({**EN, "annex": annex}, [5.0], [dead({"line": 12}, weight=True), live({"line": 8})]))
    )
    said = [m.text for m in result.messages if m.text.startswith(f"annex {annex}")]
    assert bool(said) == (annex == "germany")
    assert any("German" in text for text in result.out_of_scope) == (annex == "germany")


def test_combination_factors_and_zero_are_values_like_others():
    code = get_code("en1992-1-1", None, {"psi_0_B": 0.0, "psi_2_wind": 0.1, "beta_1": 0.0})
    assert code.actions.accompanying()["B"][0] == 0.0
    assert code.actions.accompanying()["wind"][2] == 0.1
    assert float(code.analysis.end_hogging(np.array([1e8]))[0]) == 0.0
    assert get_code("aci318-19", None, {"psi_2_storage": 0.8}).actions.accompanying()["storage"][2] == 0.8
    assert get_code("bs8110-97", None, {"lasting_general": 0.5}).actions.accompanying()["general"][2] == 0.5


@pytest.mark.parametrize(
    ("code", "action", "values"),
    [
        ("en1992-1-1", "A", (0.7, 0.5, 0.3)),  # EN 1990, table A1.1
        ("en1992-1-1", "E", (1.0, 0.9, 0.8)),
        ("en1992-1-1", "wind", (0.6, 0.2, 0.0)),
        ("csa-a23.3-19", "wind", (0.4, 0.75, 0.0)),  # NBCC, tables 4.1.3.2.-A and 4.1.7.3
        ("csa-a23.3-19", "snow", (0.5, 0.9, 0.0)),
        ("csa-a23.3-19", "storage", (1.0, 1.0, 1.0)),
    ],
)
def test_what_goes_with_others_is_as_the_tables_have_it(code, action, values):
    """As companion, at the level where it counts least beside itself, and what of it lasts."""
    assert get_code(code).actions.accompanying()[action] == pytest.approx(values)


@pytest.mark.parametrize("wrong", [{"psi_0_B": 1.2}, {"gamma_c": 0.0}, {"psi_9_B": 0.1}, {"beta_1": -0.1}])
def test_values_that_cannot_be_meant_are_refused(wrong):
    with pytest.raises(CodeError):
        get_code("en1992-1-1", None, wrong)
