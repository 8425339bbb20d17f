"""Kinds of action, combinations, columns and settlement: what makes the forces."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

import yaml_beams
from upright_bramble.analysis import analyse
from upright_bramble.beam import Action, Column, Combining, UserCombination
from upright_bramble.codes import get_code
from upright_bramble.codes.parts import Group
from upright_bramble.errors import InputFaults
from upright_bramble.files.beam_file import beam_from
from upright_bramble.files.yaml_source import parse_yaml
from upright_bramble.pipeline import UnknownAction, only_action, run_design
from yaml_beams import line, uniform

EN, UK = get_code("en1992-1-1"), get_code("en1992-1-1", "uk")


def named(code, groups, level="strength", rule="") -> set[tuple[float, tuple[float, ...]]]:
    return {
        (round(c.permanent, 4), tuple(round(v, 4) for v in c.variable))
        for c in code.actions.combinations(groups, rule)
        if c.level == level
    }


def test_snow_wind_and_roofs_have_their_factors():
    groups = [
        Group("B", "imposed", "B"),
        Group("snow", "snow", None),
        Group("wind", "wind", None, None, True),
    ]
    result = named(EN, groups)
    assert (1.35, (1.5, 0.75, 0.9)) in result  # imposed leads: snow 0.5, wind 0.6
    assert (1.35, (1.5, 0.75, 0.0)) in result  # and without the wind
    assert (1.35, (1.05, 1.5, 0.9)) in result
    assert (1.0, (1.05, 0.75, 1.5)) in result
    assert (1.35, (1.5, 0.75, 0.75)) in named(UK, groups)  # wind accompanies with 0.5 in the UK
    assert named(EN, groups, "quasi_permanent") == {(1.0, (0.3, 0.0, 0.0))}
    assert (1.0, (0.3, 0.2, 0.0)) in named(EN, groups, "frequent")


def test_two_winds_never_blow_together():
    groups = [
        Group("B", "imposed", "B"),
        Group("east", "wind", None, None, True),
        Group("west", "wind", None, None, True),
    ]
    result = [v for _, v in named(EN, groups)]
    assert all(v[1] == 0.0 or v[2] == 0.0 for v in result)
    assert any(v[1] for v in result)
    assert any(v[2] for v in result)


def test_the_two_expressions():
    """6.10a with psi_0 on the leader, 6.10b with xi on permanent actions; together never above 6.10."""
    groups = [Group("B", "imposed", "B")]
    assert named(EN, groups, rule="6.10ab") == {
        (1.35, (0.0,)), (1.35, (1.05,)), (1.0, (0.0,)), (1.0, (1.05,)), (round(0.85 * 1.35, 4), (0.0,)),
        (round(0.85 * 1.35, 4), (1.5,)), (1.0, (1.5,)),
    }  # fmt: skip
    assert (round(0.925 * 1.35, 4), (1.5,)) in named(UK, groups, rule="6.10ab")
    lengths = [6000.0, 7000.0]
    beam = line(lengths, uniform(2, lengths, 20.0), live=uniform(2, lengths, 15.0))
    one, two = (
        analyse(replace(beam, combining=Combining(rule)), EN).envelopes["strength"]
        for rule in ("6.10", "6.10ab")
    )
    assert two.moment_max.max() < one.moment_max.max()
    assert two.moment_min.min() > one.moment_min.min()


def test_earthquake_and_a_kind_of_ones_own():
    groups = [Group("E", "imposed", "E"), Group("quake", "earthquake", None, None, True)]
    result = named(EN, groups)
    assert (1.0, (0.8, 1.0)) in result  # 6.12b: G + A_Ed + psi_2 Q
    assert all(v[1] == 0.0 for p, v in result if p == 1.35)
    assert all(
        v[1] == 0.0
        for level in ("characteristic", "frequent", "quasi_permanent")
        for _, v in named(EN, groups, level)
    )
    own = [Group("crane", "other", None, (0.9, 0.8, 0.4))]
    assert (1.0, (0.4,)) in named(EN, own, "quasi_permanent")


def test_settlement_is_there_or_not():
    lengths = [6000.0, 6000.0]
    beam = line(lengths, uniform(2, lengths, 20.0))
    middle = replace(beam.supports[1], settles=8.0)
    sunk = replace(beam, supports=(beam.supports[0], middle, beam.supports[2]))
    plain, moved = (analyse(b, EN) for b in (beam, sunk))
    a, b = plain.envelopes["strength"], moved.envelopes["strength"]
    assert b.moment_min.min() == pytest.approx(
        a.moment_min.min()
    )  # without it the support moment is the larger
    assert b.moment_max.max() > a.moment_max.max()
    modulus = 22_000 * 3.8**0.3
    alone = (
        3 * modulus * (beam.spans[0].profile.width * beam.spans[0].profile.depth ** 3 / 12) * 8.0 / 6000.0**2
    )
    index = int(moved.stations.first[1])
    assert moved.responses.moment[-1, index] == pytest.approx(alone)
    permanent = -1.0 * 20.0 * 6000.0**2 / 8
    assert b.moment_max[index] == pytest.approx(permanent + 1.2 * alone)
    assert (
        np.abs(
            moved.reactions("strength").sum(axis=1) - moved.factors["strength"] @ moved.responses.load
        ).max()
        < 1e-3
    )


def test_a_sinking_spring_pulls_less():
    lengths = [6000.0, 6000.0]
    beam = line(lengths, uniform(2, lengths, 20.0), springs={1: 1e4})
    sunk = replace(
        beam, supports=(beam.supports[0], replace(beam.supports[1], settles=8.0), beam.supports[2])
    )
    rigid = replace(
        sunk, supports=(sunk.supports[0], replace(sunk.supports[1], spring_vertical=None), sunk.supports[2])
    )
    soft, stiff = (np.abs(analyse(b, EN).responses.moment[-1]).max() for b in (sunk, rigid))
    assert 0 < soft < stiff


def test_columns_turn_with_the_beam():
    """By moment distribution: an end column takes k_c / (k_c + k_b) of the fixed-end moment of a far-fixed span."""
    column = Column(3000.0, 300.0**4 / 12, True)
    beam = line([6000.0], uniform(1, [6000.0], 20.0), fixed=(1,))
    framed = replace(beam, supports=(replace(beam.supports[0], columns=(column,)), beam.supports[1]))
    result = analyse(framed, EN).responses.moment[0, 0]
    k_b, k_c = (
        4 * (beam.spans[0].profile.width * beam.spans[0].profile.depth ** 3 / 12) / 6000.0,
        4 * 300.0**4 / 12 / 3000.0,
    )
    assert result == pytest.approx(-(k_c / (k_c + k_b)) * 20.0 * 6000.0**2 / 12)
    weak = replace(
        beam,
        supports=(replace(beam.supports[0], columns=(replace(column, stiffness=0.5),)), beam.supports[1]),
    )
    assert abs(analyse(weak, EN).responses.moment[0, 0]) < abs(result)
    both = replace(beam, supports=(replace(beam.supports[0], columns=(column, column)), beam.supports[1]))
    assert abs(analyse(both, EN).responses.moment[0, 0]) > abs(result)


def test_beams_on_columns_are_designed_for_their_end_moments():
    column = Column(3000.0, 350.0**4 / 12, True)
    lengths = [6000.0, 6000.0]
    beam = line(lengths, uniform(2, lengths, 25.0), live=uniform(2, lengths, 15.0))
    framed = replace(beam, supports=tuple(replace(s, columns=(column,)) for s in beam.supports))
    result = run_design(framed).result
    assert result is not None
    assert result.status != "fail"
    end = next(c for c in result.checks if c.id == "bending.hogging.A")
    # the line gives less at the end than 0.65 of what both ends fixed would have (5.3.2.2(3)): that governs
    fixed = (1.35 * 25.0 + 1.5 * 15.0) * 6000.0**2 / 12.0
    assert -analyse(framed, EN).envelopes["strength"].moment_min[0] < 0.65 * fixed
    assert end.demand == pytest.approx(0.65 * fixed, rel=1e-6)
    assert any(c.id == "anchorage.end.A" for c in result.checks)
    top = [b for b in result.layout.bars if b.face == "top" and b.start < 0]
    assert all(b.ends[0] == "bend" for b in top)


def test_combinations_of_ones_own_are_added_or_stand_alone():
    lengths = [6000.0]
    beam = line(lengths, uniform(1, lengths, 20.0), live=uniform(1, lengths, 10.0))
    own = UserCombination("strength", "mine", {"permanent": 2.0, "B": 2.5})
    added = analyse(replace(beam, combining=Combining("", (own,))), EN)
    alone = analyse(replace(beam, combining=Combining("", (own,), True)), EN)
    expected = (2.0 * 20.0 + 2.5 * 10.0) * 6000.0**2 / 8
    for forces in (added, alone):
        e = forces.envelopes["strength"]
        assert e.moment_max.max() == pytest.approx(expected)
        assert e.labels[e.moment.high_by[e.moment_max.argmax()]] == "mine; all spans"
    assert {r.combination.name for r in alone.rows["strength"]} == {"mine", "mine, without B"}
    assert len(added.rows["strength"]) > len(alone.rows["strength"])
    assert len(alone.rows["characteristic"]) == len(added.rows["characteristic"])


def test_whole_actions_are_not_arranged_by_span():
    lengths = [6000.0, 6000.0, 6000.0]
    wind = Action("uplift", "wind", None, tuple(uniform(3, lengths, -8.0)))
    for kind in ("code", "every"):
        beam = line(lengths, uniform(3, lengths, 20.0), arrangements=kind)
        blown = replace(beam, actions=(*beam.actions, wind))
        forces = analyse(blown, EN)
        assert len(forces.responses.moment) == 2  # permanent, and the wind as one
        smallest = forces.envelopes["strength"].reaction_min[0]
        assert smallest == pytest.approx((20.0 - 1.5 * 8.0) * 0.4 * 6000.0, rel=1e-9)


def test_one_action_alone(deck):
    whole = analyse(deck, UK)
    parts = [analyse(only_action(deck, a.name), UK).responses.reaction[0].sum() for a in deck.actions]
    assert sum(parts) == pytest.approx(whole.responses.load.sum())
    with pytest.raises(UnknownAction, match="canoe racks"):
        only_action(deck, "boats")


FRAME = yaml_beams.SIMPLE.replace(
    "  - {support: B, width: 300}",
    "  - {support: B, width: 300, settles: 5 mm, column: {below: {height: 3.2 m, size: [350, 400], far_end: pinned, stiffness: 0.7}}}",
) + (
    "  - {name: drift, kind: snow, loads: [{line: 3}]}\n"
    "  - {name: crane, kind: other, psi: [0.9, 0.8, 0.4], loads: [{point: 20, at: 3}]}\n"
    "combinations:\n  rule: 6.10ab\n  add:\n    - {level: strength, name: site rule, factors: {permanent: 1.4, B: 1.6, drift: 1.2}}\n"
)


def test_the_file_says_all_this():
    beam = beam_from(parse_yaml(FRAME, "x"))
    assert beam.supports[1].settles == 5.0
    column = beam.supports[1].columns[0]
    assert column.second_moment == pytest.approx(400 * 350.0**3 / 12)
    assert column.turning == pytest.approx(3 * 0.7 * column.second_moment / 3200.0)
    assert [a.kind for a in beam.actions] == ["permanent", "imposed", "snow", "other"]
    assert beam.combining.rule == "6.10ab"
    assert beam.combining.added[0].factors == {"permanent": 1.4, "B": 1.6, "drift": 1.2}
    keys = {g.key for g in analyse(beam, EN).groups}
    assert keys == {"B", "drift", "crane", "settlement"}


@pytest.mark.parametrize(
    ("old", "new", "words"),
    [
        ("rule: 6.10ab", "rule: '6.11'", "not a valid rule of combination (valid: 6.10, 6.10ab)"),
        ("level: strength", "level: ultimate", "is not a valid level"),
        ("drift: 1.2", "snow: 1.2", "no action counts as 'snow'"),
        ("permanent: 1.4, ", "", "'permanent' is missing"),
        ("name: drift", "name: settlement", "is already the name of other actions"),
        ("name: crane", "name: B", "is already the name of other actions"),
        ("name: crane", "name: permanent", "is already the name of other actions"),
        ("kind: snow", "kind: hail", "'hail' is not a valid kind"),
        ("kind: snow", "kind: other", "needs 'psi"),
        (", psi: [0.9, 0.8, 0.4]", "", "needs 'psi"),
        ("kind: snow", "kind: snow, category: B", "only imposed actions"),
        ("stiffness: 0.7", "stiffness: 2", "at most 1"),
        ("far_end: pinned", "far_end: loose", "'fixed'"),
        ("settles: 5 mm", "fixed: true", "does not turn"),
        ("height: 3.2 m", "heigth: 3.2 m", "did you mean 'height'?"),
    ],
)
def test_faults_of_actions_and_columns(old, new, words):
    assert old in FRAME
    with pytest.raises(InputFaults) as refused:
        beam_from(parse_yaml(FRAME.replace(old, new, 1), "x"))
    assert words in str(refused.value)


def test_a_rule_without_quotes():
    assert beam_from(parse_yaml(FRAME.replace("6.10ab", "6.10"), "x")).combining.rule == "6.10"


@pytest.mark.slow
def test_commands_that_list(bramble):
    bramble.write("frame.beam.yaml", FRAME)
    listed = bramble("forces", "frame.beam.yaml", "--combinations")
    assert listed.status == 0
    assert "site rule" in listed.out
    rows = bramble("forces", "frame.beam.yaml", "--combinations", "--json").json
    assert {r["level"] for r in rows} == set(EN.actions.levels)
    told = bramble("forces", "frame.beam.yaml")
    assert "M max span 1:" in told.out
    assert "balance" in told.out
    alone = bramble("forces", "frame.beam.yaml", "--action", "crane", "--figure", "crane.png")
    assert "crane alone, unfactored" in alone.out
    assert (bramble.folder / "crane.png").stat().st_size > 10_000
    assert "unknown" not in alone.err
    assert bramble("forces", "frame.beam.yaml", "--action", "tide").status == 2
    assert "en1992-1-1" in bramble("codes").out
    uk = bramble("codes", "en1992-1-1", "--annex", "uk", "--json").json
    assert uk["values"]["alpha_cc"] == {"value": 0.85, "clause": "NA 3.1.6(1)"}
    assert uk["psi"]["snow"] == [0.5, 0.2, 0.0]
    assert bramble("codes", "en9999").status == 2
    table = bramble("codes", "en1992-1-1").out
    assert "cot_theta_max" in table
    assert "psi_0" in table


def test_values_of_ones_own_are_told_with_the_forces(bramble):
    bramble.write("own.beam.yaml", yaml_beams.SIMPLE + "code_values: {gamma_Q: 1.6}\n")
    assert "gamma_Q = 1.6 is yours" in bramble("forces", "own.beam.yaml").out
    assert bramble("forces", "own.beam.yaml", "--json").json["code_values"] == {"gamma_Q": 1.6}


@pytest.mark.parametrize(
    ("level", "imposed"),
    [("characteristic", (0.0, 1.0)), ("frequent", (0.0, 0.5)), ("quasi_permanent", (0.3,))],
)
def test_in_service_settlement_counts_as_it_is_with_every_level(level, imposed):
    """EN 1990, 6.14b to 6.16b, for offices: the factors of the imposed load; 1.0 on permanent load and settlement."""
    groups = [Group("B", "imposed", "B"), Group("settlement", "settlement", None)]
    assert named(EN, groups, level) == {(1.0, (f, s)) for f in imposed for s in (0.0, 1.0)}


def test_parts_act_together_in_every_sense_that_an_arrangement_gives_them():
    """One part pulls down where it stands on the first of two spans and up on the second; another acts everywhere: together all four
    senses are the worst of some arrangement."""
    from upright_bramble.analysis.cases import Cases, senses_of

    cases = Cases(
        loads=[[], [], []], sinking=np.zeros((3, 3)), group=np.array([0, 0, 1]), span=np.array([0, 1, -1])
    )
    patterns = np.array([[True, False], [False, True], [True, True]])
    effect = np.array([[-1.0], [1.0], [1.0]])
    senses = senses_of(patterns, cases, [None, None], [effect])
    assert {tuple(s) for s in senses.tolist()} == {(1, 1), (1, -1), (-1, 1), (-1, -1)}
    assert senses[0].tolist() == [1, 1]
