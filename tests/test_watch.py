"""`watch`: a beam again at each save, by the started program; its page answers this machine alone."""

from __future__ import annotations

import json
import re
import signal
import subprocess
import sys
import time
import urllib.error
import urllib.request

import pytest

import yaml_beams
from upright_bramble.cli.page_server import Page
from upright_bramble.files.result_data import result_model
from upright_bramble.present.saved import since_last_save


class Watching:
    """The started program, what it has printed so far, and a way to wait for more."""

    def __init__(self, folder, *args: str) -> None:
        self.out = (folder / "watch.out").open("w+", encoding="utf-8")
        self.task = subprocess.Popen(
            [sys.executable, "-u", "-m", "upright_bramble", "watch", *args],
            cwd=folder,
            stdout=self.out,
            stderr=subprocess.STDOUT,
        )

    def wait(self, words: str, seconds: float = 60.0) -> str:
        end = time.monotonic() + seconds
        while time.monotonic() < end:
            self.out.flush()
            with open(self.out.name, encoding="utf-8") as seen:
                text = seen.read()
            if re.search(words, text):
                return text
            assert self.task.poll() is None, text
            time.sleep(0.05)
        raise AssertionError(f"{words} was not printed:\n{text}")

    def stop(self) -> int:
        self.task.send_signal(
            signal.SIGTERM
        )  # as SIGINT, which may be switched off for what runs in the background
        return self.task.wait(20)


@pytest.fixture
def watching(bramble):
    tasks: list[Watching] = []

    def start(*args: str) -> Watching:
        tasks.append(Watching(bramble.folder, *args))
        return tasks[-1]

    yield start
    for one in tasks:
        if one.task.poll() is None:
            one.task.kill()
            one.task.wait()
        one.out.close()


def get(address: str, host: str | None = None) -> tuple[int, str]:
    request = urllib.request.Request(address, headers={"Host": host} if host else {})
    try:
        with urllib.request.urlopen(request, timeout=10) as answer:
            return answer.status, answer.read().decode()
    except urllib.error.HTTPError as error:
        return error.code, error.read().decode()


@pytest.mark.slow
def test_each_save_is_designed_and_faults_are_said(bramble, watching):
    file = bramble.write("s.beam.yaml", yaml_beams.SIMPLE)
    run = watching("s.beam.yaml", "--page", "--no-colour")
    text = run.wait(r"watching; Ctrl-C ends it")
    assert "1: designed in" in text
    assert "since the last save" not in text
    address = re.search(r"page: (http://127\.0\.0\.1:\d+/)", text)[1]
    status, page = get(address)
    assert status == 200
    assert "/state?seen=" in page
    state = json.loads(get(address + "state?seen=-1")[1])
    assert "S1" in state["result"]
    assert json.loads(get(f"{address}state?seen={state['number']}")[1]) == {"number": state["number"]}
    assert get(address, "evil.example:80")[0] == 403
    assert get(address + "etc/passwd")[0] == 404
    file.write_text(yaml_beams.SIMPLE.replace("{line: 10}", "{line: 18}"), "utf-8")
    text = run.wait(r"since the last save: .*steel \d+ kg to \d+ kg")
    assert "2: designed in" in text
    file.write_text(yaml_beams.SIMPLE.replace("{line: 10}", "{line: 18 MPa}"), "utf-8")
    run.wait(r"s\.beam\.yaml:\d+: actions\[1\]\.loads\[0\]\.line: '18 MPa' is a stress")
    assert "is a stress" in json.loads(get(address + "state?seen=-1")[1])["fault"]
    other = bramble.folder / "new.yaml"  # as editors do that write aside and rename
    other.write_text(yaml_beams.SIMPLE.replace("{line: 10}", "{line: 95}"), "utf-8")
    other.replace(file)
    text = run.wait(r"(?s)4: designed in.*fail  S1.*suggestion")
    assert text.index("fail  S1") < text.index("suggestion")  # the verdict comes first
    assert not (bramble.folder / "S1").exists()  # nothing is written
    assert run.stop() in (0, 130)


@pytest.mark.slow
def test_a_layout_that_a_hand_edits_is_checked(bramble, watching):
    bramble.write("s.beam.yaml", yaml_beams.SIMPLE)
    bramble("design", "s.beam.yaml", "--quiet", "--no-figures")
    layout = bramble.folder / "S1/S1.layout.yaml"
    run = watching("s.beam.yaml", "--no-colour")
    run.wait(r"watching")
    text = layout.read_text()
    layout.write_text(re.sub(r"count: \d+", "count: 3", text), "utf-8")
    seen = run.wait(r"2: checked with S1\.layout\.yaml")
    run.wait(r"since the last save: .*steel \d+ kg to \d+ kg")
    assert "1: designed in" in seen
    assert layout.read_text() == re.sub(r"count: \d+", "count: 3", text)
    assert run.stop() in (0, 130)


@pytest.mark.slow
def test_rules_that_a_beam_names_are_watched(bramble, watching):
    bramble.write("o.rules.yaml", "bramble_rules: 1\nconcrete: {grade: C30/37}\n")
    bramble.write(
        "s.beam.yaml", yaml_beams.SIMPLE.replace("concrete: {grade: C30/37}", "rules: [o.rules.yaml]")
    )
    run = watching("s.beam.yaml", "--no-colour")
    run.wait(r"watching")
    bramble.write("o.rules.yaml", "bramble_rules: 1\nconcrete: {grade: C50/60}\n")
    assert "C50/60" in run.wait(r"2: designed in[\s\S]*C50/60")
    assert run.stop() in (0, 130)


def test_calls_that_cannot_be_used(bramble):
    bramble.write("s.beam.yaml", yaml_beams.SIMPLE)
    assert bramble("watch", "none.beam.yaml").status == 2
    assert bramble("watch", "s.beam.yaml", "none.layout.yaml").status == 2
    assert bramble("watch", "s.beam.yaml", "--port", "80").status == 2


def test_what_changed_is_said_and_escaped(deck_design):
    result = result_model(deck_design)
    assert since_last_save(None, result) == []
    assert since_last_save(result, result) == ["since the last save: verdict and steel are the same"]
    evil = result.model_copy(
        update={"beam": result.beam.model_copy(update={"title": "<img src=x onerror=alert(1)>"})}
    )
    with Page.serving(0) as page:
        page.show(evil, None, "designed")
        page.show_fault("x.beam.yaml:1: <b>")
        state = page.state(-1)
    assert "<img" not in state["result"]
    assert "&lt;b&gt;" in state["fault"]
