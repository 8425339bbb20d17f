"""Rules that many beam files share: which value wins, in whose units, and whose file and line a fault is told with."""

from __future__ import annotations

import pytest

import yaml_beams
from upright_bramble.errors import InputFaults
from upright_bramble.files.beam_file import read_beam

OFFICE = """bramble_rules: 1
code: en1992-1-1
annex: uk
units: si
concrete: {grade: C30/37, aggregate: 20}
reinforcement: {bars: B500B, stirrups: B500B}
cover: {top: 30, bottom: 30, sides: 30}
service: {crack_width: 0.3}
detailing: {main_bars: [16, 20, 25], stirrup_bars: [8], reserve: 0.05}
rates: {steel: 1.5}
about: {project: Boathouse}
"""
BARE = """bramble: 1
beam: One span
mark: S1
rules: [../office.rules.yaml, ../job.rules.yaml]
profiles:
  p: {shape: rectangle, depth: 500, width: 300}
line:
  - {support: A, width: 300}
  - {span: 6, profile: p}
  - {support: B, width: 300}
actions:
  - {name: dead, kind: permanent, self_weight: true, loads: [{line: 12}]}
  - {name: live, kind: imposed, category: B, loads: [{line: 10}]}
"""


def beam(bramble, own: str = "", job: str = "bramble_rules: 1\n", office: str = OFFICE):
    """Read a beam of a level's folder with the rules of the office and of the job."""
    (bramble.folder / "level").mkdir(exist_ok=True)
    bramble.write("office.rules.yaml", office)
    bramble.write("job.rules.yaml", job)
    bramble.write("level/s1.beam.yaml", BARE + own)
    return read_beam(bramble.folder / "level" / "s1.beam.yaml")


def said(bramble, **given) -> list[str]:
    with pytest.raises(InputFaults) as told:
        beam(bramble, **given)
    return [str(f) for f in told.value.faults]


def test_rules_make_the_same_beam_as_keys_of_its_own(bramble):
    shared = beam(bramble)
    whole = BARE.replace("rules: [../office.rules.yaml, ../job.rules.yaml]\n", "") + OFFICE.replace(
        "bramble_rules: 1\n", ""
    ).replace("reserve: 0.05}\nrates: {steel: 1.5}", "reserve: 0.05, rates: {steel: 1.5}}")
    bramble.write("whole.beam.yaml", whole)
    alone = read_beam(bramble.folder / "whole.beam.yaml")
    assert {k: v for k, v in vars(shared).items() if k != "origins"} == {
        k: v for k, v in vars(alone).items() if k != "origins"
    }
    assert (shared.detailing.rates.steel, shared.annex, shared.about["project"]) == (1.5, "uk", "Boathouse")


def test_later_rules_win_and_the_beam_wins_over_all(bramble):
    job = "bramble_rules: 1\nconcrete: {aggregate: 32}\nrates: {steel: 2.5}\ndetailing: {layers: 3}\n"
    seen = beam(bramble, "detailing: {reserve: 0.1}\n", job)
    assert (seen.concrete.grade, seen.concrete.aggregate) == ("C30/37", 32.0)  # key by key, not set by set
    assert (seen.detailing.layers, seen.detailing.reserve, seen.detailing.rates.steel) == (3, 0.1, 2.5)
    assert seen.detailing.main_bars == ("16", "20", "25")
    assert seen.origins["concrete.aggregate"] == "../job.rules.yaml"
    assert seen.origins["concrete.grade"] == "../office.rules.yaml"
    assert "detailing.reserve" not in seen.origins


def test_keys_that_stand_for_one_another_replace_one_another(bramble):
    assert beam(bramble, "concrete: {strength: 40 MPa}\n").concrete.strength == 40.0
    assert beam(bramble, "reinforcement: {yield: 420 MPa}\n").bars.strength == 420.0
    assert (
        beam(bramble, "cover: {exposure: XC4}\n").cover.top > 30.0
    )  # the office's 30 mm do not stay against the exposure
    sizes = OFFICE.replace("main_bars: [16, 20, 25]", "bottom_bars: [25]")
    assert beam(bramble, "detailing: {main_bars: [16]}\n", office=sizes).detailing.sizes("bottom") == ("16",)


def test_an_annex_goes_with_its_code(bramble):
    own = "code: aci318m-19\nconcrete: {strength: 30 MPa}\nreinforcement: {yield: 420 MPa}\ncover: {top: 40, bottom: 40, sides: 40}\n"
    own += "service: {crack_width: null}\n"
    text = BARE.replace("category: B", "category: office") + own
    (bramble.folder / "level").mkdir()
    bramble.write("office.rules.yaml", OFFICE)
    bramble.write("job.rules.yaml", "bramble_rules: 1\n")
    bramble.write("level/s1.beam.yaml", text)
    with pytest.raises(
        InputFaults
    ) as told:  # sizes and categories are of the other code, and each is told; the annex is not
        read_beam(bramble.folder / "level" / "s1.beam.yaml")
    assert not any("annex" in str(f) for f in told.value.faults)


def test_bare_numbers_are_in_the_units_of_their_own_file(bramble):
    job = "bramble_rules: 1\nunits: us\ncover: {top: 2}\ndetailing: {vibrator_gap: 3, layers: 3}\nconcrete: {strength: 5000, aggregate: 1}\n"
    seen = beam(bramble, "units: si\n", job)
    assert seen.cover.top == pytest.approx(50.8)
    assert seen.detailing.vibrator_gap == pytest.approx(76.2)
    assert (seen.concrete.aggregate, seen.concrete.strength) == pytest.approx((25.4, 34.474), rel=1e-4)
    assert seen.detailing.layers == 3  # a count has no unit
    assert seen.cover.bottom == 30.0
    assert seen.units == "si"
    inherited = beam(bramble, "", "bramble_rules: 1\nunits: technical\n", OFFICE)
    assert (inherited.units, inherited.cover.top, inherited.spans[0].profile.depth) == (
        "technical",
        30.0,
        5000.0,
    )


def test_faults_are_told_once_with_the_file_and_line_they_stand_in(bramble):
    job = "bramble_rules: 1\n\ncover: {top: 3 kN}\ndetailing: {laiers: 2}\nwidth: 3\n"
    told = said(bramble, own="concrete: {grade: C31/37}\n", job=job)
    assert any(t.startswith("../job.rules.yaml:3: cover.top: '3 kN' is a force") for t in told)
    assert any(t.startswith("../job.rules.yaml:4: detailing.laiers:") for t in told)
    assert any(t.startswith("../job.rules.yaml:5: width: unknown key") for t in told)
    assert any(t.startswith("s1.beam.yaml:14: concrete.grade:") for t in told)
    assert len(told) == len(set(told)) == 4, told
    late = said(
        bramble, job="bramble_rules: 1\nconcrete: {grade: C31/37}\n"
    )  # what only the code knows is of that file too
    assert late == [t for t in late if t.startswith("../job.rules.yaml:2: concrete.grade:")]


@pytest.mark.parametrize(
    ("job", "words"),
    [
        ("cover: {top: 3}\n", "is no file of rules"),
        ("bramble_rules: 2\n", "bramble_rules"),
        ("bramble_rules: 1\ncover: [1\n", "is not YAML"),
        ("bramble_rules: 1\nrules: [other.yaml]\n", "unknown key 'rules'"),
        ("bramble_rules: 1\nabout: &a {project: x}\n", "anchors"),
    ],
)
def test_files_that_are_no_rules(bramble, job, words):
    told = said(bramble, job=job)
    assert any("job.rules.yaml" in t and words in t for t in told), told


def test_names_lead_to_nothing_outside_the_root(bramble, monkeypatch):
    (bramble.folder / "level").mkdir()
    bramble.write("office.rules.yaml", OFFICE)
    bramble.write(
        "level/s1.beam.yaml",
        BARE.replace("../office.rules.yaml, ../job.rules.yaml", "../../office.rules.yaml"),
    )
    monkeypatch.chdir(bramble.folder / "level")
    with pytest.raises(InputFaults, match="lies outside"):
        read_beam(bramble.folder / "level" / "s1.beam.yaml")
    (bramble.folder / "link.rules.yaml").symlink_to("/etc/hostname")
    bramble.write(
        "level/s1.beam.yaml", BARE.replace("../office.rules.yaml, ../job.rules.yaml", "../link.rules.yaml")
    )
    with pytest.raises(InputFaults, match="lies outside"):
        read_beam(bramble.folder / "level" / "s1.beam.yaml")
    bramble.write(
        "level/s1.beam.yaml", BARE.replace("../office.rules.yaml, ../job.rules.yaml", "../office.rules.yaml")
    )
    assert read_beam(bramble.folder / "level" / "s1.beam.yaml").concrete.grade == "C30/37"
    with pytest.raises(InputFaults, match="--root"):
        read_beam(bramble.folder / "level" / "s1.beam.yaml", bramble.folder / "level")


def test_results_name_the_file_of_a_value_and_know_when_it_changes(bramble):
    beam(bramble)
    ran = bramble("design", "level/s1.beam.yaml", "--json", "--no-figures")
    sources = {(i["topic"], i["name"]): i["source"] for i in ran.json["inputs"]}
    named = [
        ("materials", "concrete"),
        ("rates", "steel"),
        ("service", "crack width"),
        ("steel wanted", "main bars"),
        ("rules", "annex"),
    ]
    assert {sources[key] for key in named} == {"../office.rules.yaml"}
    assert sources["line", "span 1"] == ""
    assert "from ../office.rules.yaml" in _report(bramble)
    bramble.write("office.rules.yaml", OFFICE.replace("reserve: 0.05", "reserve: 0.02"))
    stale = bramble("bars", "level/S1")
    assert stale.status == 2
    assert "has changed" in stale.err


@pytest.mark.parametrize(("key", "name"), [('"r\\u0075les"', "o.rules.yaml"), ("rules", "o.txt")])
def test_what_a_file_names_counts_however_it_is_spelled(bramble, key, name):
    bramble.write(name, OFFICE)
    bramble.write(
        "s1.beam.yaml", BARE.replace("rules: [../office.rules.yaml, ../job.rules.yaml]", f"{key}: [{name}]")
    )
    assert bramble("design", "s1.beam.yaml", "--no-figures", "--quiet").status == 0
    assert "up to date" in bramble("design", "s1.beam.yaml", "--no-figures").out
    bramble.write(name, OFFICE.replace("C30/37", "C25/30"))
    assert "C25/30" in bramble("design", "s1.beam.yaml", "--no-figures").out


def _report(bramble) -> str:
    assert bramble("report", "level/S1", "--format", "md", "--quiet").status == 0
    return (bramble.folder / "level/S1/S1.report.md").read_text()


def test_rules_to_begin_with_can_be_used(bramble):
    assert bramble("start", "office.rules.yaml", "--rules").status == 0
    (bramble.folder / "level").mkdir()
    bramble.write("level/s1.beam.yaml", BARE.replace(", ../job.rules.yaml", ""))
    assert bramble("design", "level/s1.beam.yaml", "--quiet", "--no-figures").status == 0
    schema = bramble("schema", "rules").json
    assert set(schema["properties"]) >= {"code", "annex", "units", "cover", "profiles", "rates", "about"}
    assert yaml_beams.faults(BARE.replace("rules: [../office.rules.yaml, ../job.rules.yaml]", "rules: 3"))
