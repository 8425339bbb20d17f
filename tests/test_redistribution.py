"""Redistribution: in equilibrium, verified on the section that results, refused where the code does not allow it."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

import yaml_beams
from upright_bramble.analysis import analyse
from upright_bramble.analysis.redistribution import redistribute
from upright_bramble.beam import Concrete, Detailing, Redistribution, Service, Steel
from upright_bramble.codes import get_code
from upright_bramble.errors import InputFaults
from upright_bramble.files.beam_file import beam_from
from upright_bramble.files.yaml_source import parse_yaml
from upright_bramble.pipeline import run_check, run_design
from yaml_beams import line, uniform

EN = get_code("en1992-1-1")


def beam_of(lengths: list[float], delta: float, **more):
    n = len(lengths)
    beam = line(lengths, uniform(n, lengths, 20.0), live=uniform(n, lengths, 15.0), **more)
    return replace(beam, redistribution=Redistribution(delta, tuple(range(1, n))))


@given(st.lists(st.floats(4000.0, 8000.0), min_size=2, max_size=5), st.floats(0.7, 1.0))
def test_every_set_of_forces_stays_in_equilibrium(lengths, delta):
    """Loads, shears, moments and reactions of each row agree after the change as before it."""
    beam = beam_of(lengths, delta)
    forces = analyse(beam, EN)
    at, f, r = forces.stations, forces.factors["strength"], forces.responses
    before = f @ r.moment, f @ r.shear, f @ r.reaction, f @ r.moment_reaction
    m, v, reaction, turning = redistribute(beam, at, forces.delta, *before)
    np.testing.assert_allclose(turning, before[3], atol=1e-6)
    size = np.abs(before[0]).max()
    np.testing.assert_allclose(reaction.sum(axis=1), f @ r.load, rtol=1e-9)
    for index, span in enumerate(beam.spans):
        rows = at.of(index)
        x = at.local[rows]
        # what is left after the end moments is the same simple beam: the loads have not changed
        chord = [
            q[:, [rows.start]] * (1 - x / span.length) + q[:, [rows.stop - 1]] * x / span.length
            for q in (before[0], m)
        ]
        np.testing.assert_allclose(before[0][:, rows] - chord[0], m[:, rows] - chord[1], atol=1e-9 * size)
        slope = (m[:, [rows.stop - 1]] - m[:, [rows.start]]) / span.length
        old = (before[0][:, [rows.stop - 1]] - before[0][:, [rows.start]]) / span.length
        np.testing.assert_allclose(
            v[:, rows] - before[1][:, rows], np.broadcast_to(slope - old, v[:, rows].shape), atol=1e-6
        )
    for s in range(1, len(lengths)):
        over = int(at.first[s])
        assert m[:, over].min() == pytest.approx(delta * before[0][:, over].min(), rel=1e-9)


def test_by_hand():
    """Two equal spans, one load: w L^2/8 cut by 20 %, the span moment from statics."""
    lengths = [6000.0, 6000.0]
    beam = replace(line(lengths, uniform(2, lengths, 20.0)), redistribution=Redistribution(0.8, (1,)))
    forces = analyse(beam, EN)
    assert forces.redistributed is not None
    w = 1.35 * 20.0
    support = 0.8 * w * 6000.0**2 / 8
    assert forces.redistributed.moment_min.min() == pytest.approx(-support)
    end = w * 6000.0 / 2 - support / 6000.0
    assert forces.redistributed.moment_max.max() == pytest.approx(end**2 / (2 * w), rel=1e-3)
    assert forces.redistributed.reaction_max[0] == pytest.approx(end)
    # the elastic envelope is kept beside it, and its shear is still designed for
    assert forces.envelopes["strength"].moment_min.min() == pytest.approx(-w * 6000.0**2 / 8)
    assert forces.design.shear.max() == pytest.approx(0.625 * w * 6000.0)
    assert forces.envelopes["quasi_permanent"].moment_min.min() == pytest.approx(-20.0 * 6000.0**2 / 8)


def test_the_section_that_results_is_verified():
    """x/d <= (delta - k_1)/k_2 with the bars over the support, and delta itself against k_5."""
    lengths = [6000.0, 6000.0]
    plain, less = (run_design(beam_of(lengths, d)).result for d in (1.0, 0.8))
    assert plain is not None
    assert less is not None
    assert less.status != "fail"
    check = next(c for c in less.checks if c.id == "ductility.hogging.B")
    assert check.resistance == pytest.approx((0.8 - 0.44) / 1.25)
    assert next(c for c in plain.checks if c.id == "ductility.hogging.B").resistance == pytest.approx(0.448)
    assert next(c for c in less.checks if c.id == "redistribution.minimum.B").ratio == pytest.approx(
        0.7 / 0.8
    )

    def top(result) -> float:
        over = (b for b in result.bars if b.bar.face == "top" and b.bar.start < 6000 < b.bar.end)
        return sum(b.bar.count * b.diameter**2 for b in over)

    assert top(less) <= top(plain)
    again = run_check(less.beam, less.layout)
    assert [c.ratio for c in again.checks] == [c.ratio for c in less.checks]


@pytest.mark.parametrize(("name", "share"), [("bs8110-97", 0.7), ("is456-2000", 0.7), ("en1992-1-1", 0.0)])
def test_a_share_of_the_elastic_moments_is_kept_everywhere(name, share):
    """BS 8110 3.2.2.1(b), IS 456 37.1.1(b): 70 %. Near the points of inflection a support moment less 30 % leaves less."""
    code, beam = get_code(name), replace(beam_of([6000.0, 6000.0], 0.7), code=name)
    beam = replace(beam, actions=beam.actions[:1])
    elastic = analyse(replace(beam, redistribution=Redistribution(None, ())), code)
    design = analyse(beam, code).design
    own, kept = elastic.envelopes[code.actions.levels[0]], ~design.inside
    assert (design.moment_min[kept] <= share * own.moment_min[kept] + 1e-3).all()
    assert (design.moment_max >= share * own.moment_max - 1e-3).all()
    binding = np.isclose(design.moment_min, 0.7 * own.moment_min) & kept & (own.moment_min < -1e6)
    assert binding.any() == (share > 0.0)


@pytest.mark.slow
def test_a_violation_is_a_failing_check_with_its_clause():
    too_much = run_design(beam_of([6000.0, 6000.0], 0.65)).result
    assert too_much is not None
    assert too_much.status == "fail"
    check = next(c for c in too_much.checks if c.id == "redistribution.minimum.B")
    assert not check.ok
    assert check.clause == "5.5(4)"
    unlike = run_design(beam_of([3000.0, 6500.0], 0.85)).result
    assert unlike is not None
    assert not next(c for c in unlike.checks if c.id == "redistribution.spans.B").ok


@pytest.mark.slow
def test_class_a_steel_allows_less():
    beam = beam_of([6000.0, 6000.0], 0.75)
    brittle = replace(beam, bars=replace(beam.bars, ductility="A"))
    checks = run_design(brittle).result
    assert checks is not None
    assert next(c for c in checks.checks if c.id == "redistribution.minimum.B").demand == 0.8


TWO = yaml_beams.SIMPLE.replace(
    "  - {support: B, width: 300}\n",
    "  - {support: B, width: 300}\n  - {span: 5, profile: p}\n  - {support: C, width: 300}\n",
)


def test_the_file_asks_for_it():
    beam = beam_from(parse_yaml(TWO + "redistribution: {percent: 15}\n", "x"))
    assert beam.redistribution == Redistribution(0.85, (1,))
    assert beam_from(parse_yaml(TWO + "redistribution: {percent: 0}\n", "x")).redistribution.supports == ()
    for extra, words in (
        (
            "redistribution: {percent: 15, supports: [A]}",
            "no span without hinges on both sides, nor is it a fixed end; such are B",
        ),
        ("redistribution: {percent: 80}", "at most 60"),
        ("redistribution: {percent: 10}\narrangements: every", "set by set"),
        ("redistribution: {per_cent: 10}", "did you mean 'percent'?"),
    ):
        with pytest.raises(InputFaults) as refused:
            beam_from(parse_yaml(TWO + extra + "\n", "x"))
        assert words in str(refused.value)


@pytest.mark.slow
@pytest.mark.parametrize("code", ["en1992-1-1", "aci318m-19"])
def test_as_far_as_allowed_is_as_far_as_the_bars_allow(code, tmp_path):
    """Design and check agree, the neutral axis holds, and a bit less redistribution is not asked for without need."""
    from upright_bramble.files.layout_file import layout_text, read_layout

    lengths = [5000.0, 6000.0]
    grade = {
        "concrete": Concrete(35.0),
        "bars": Steel(420.0, "B"),
        "stirrups": Steel(420.0, "B"),
        "code": code,
    }
    sizes = (
        Detailing(("16", "19", "22"), ("10",))
        if code != "en1992-1-1"
        else Detailing(("12", "16", "20"), ("8",))
    )
    beam = line(lengths, uniform(2, lengths, 22.0), live=uniform(2, lengths, 18.0), detailing=sizes,
                redistribution=Redistribution(None, (1,)), service=Service(after_finishes=(240.0, None)), **grade)  # fmt: skip
    beam = replace(
        beam,
        actions=(
            beam.actions[0],
            replace(beam.actions[1], category="B" if code == "en1992-1-1" else "heavy"),
        ),
    )
    designed = run_design(beam).result
    assert designed is not None
    assert designed.status != "fail"
    assert designed.forces.delta[1] < 1.0
    path = tmp_path / "x.layout.yaml"
    path.write_text(layout_text(beam, designed.layout, "test"), "utf-8")
    checked = run_check(beam, read_layout(path, beam))
    assert [(c.id, c.ratio) for c in checked.checks] == [(c.id, c.ratio) for c in designed.checks]


@pytest.mark.parametrize("length", [6600.0, 7000.0])
def test_as_far_as_the_section_lets_its_steel_yield(length):
    """The least ratio delta for which delta M is balanced with x no deeper than (delta - 0.44)/1.25 d: half of the bars assumed 15 mm in."""
    lengths = [length, length]
    beam = line(
        lengths,
        uniform(2, lengths, 20.0),
        live=uniform(2, lengths, 12.0),
        redistribution=Redistribution(None, (1,)),
    )
    elastic = analyse(replace(beam, redistribution=Redistribution(None, ())), EN)
    peak = -float(elastic.envelopes["strength"].moment_min.min()) / (1.0 - beam.detailing.reserve)
    d = 500.0 - beam.cover.top - 25.0 - 15.0
    f_cd = EN.materials.concrete_law(beam.concrete).stress

    def balanced(delta: float) -> float:
        block = 0.8 * (delta - 0.44) / 1.25 * d
        return f_cd * 300.0 * block * (d - 0.5 * block)

    low, high = 0.7, 1.0
    assert balanced(low) < low * peak
    for _ in range(50):
        middle = 0.5 * (low + high)
        low, high = (low, middle) if balanced(middle) >= middle * peak else (middle, high)
    assert analyse(beam, EN).delta[1] == pytest.approx(high, abs=0.0016)
