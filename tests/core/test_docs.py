"""Code shown in the documents is that of the files it names, and links lead somewhere."""

from __future__ import annotations

import json
import re

import pytest

from ravine.cli.recipe import apply_recipe
from tests.parts import boss_block, step_file
from tests.running import ROOT

PAGES = [*ROOT.glob("*.md"), *ROOT.glob("docs/*.md")]
SHOWN = re.compile(r"```python\n(# \S+\.py.*?)```", re.S)
BLOCKS = [(page.name, code) for page in PAGES for code in SHOWN.findall(page.read_text())]


def test_there_is_a_whole_edit_and_a_whole_study_to_read():
    assert sorted(name for name, _ in BLOCKS) == ["writing-a-study.md", *["writing-an-edit.md"] * 3]


@pytest.mark.parametrize(("page", "code"), BLOCKS)
def test_shown_code_is_that_of_its_file(page, code):
    head, _, shown = code.partition("\n")
    file, _, function = head.removeprefix("# ").partition(", ")
    text = (ROOT / file).read_text()
    assert shown.strip() in text
    assert function or shown.strip() == text.strip(), f"{page} shows {file} in part"


@pytest.mark.parametrize("page", PAGES, ids=lambda p: p.name)
def test_links_lead_somewhere(page):
    for target in re.findall(r"\]\(([^)#:]+)\)", page.read_text()):
        assert (page.parent / target).exists(), target


def test_the_script_of_the_readme_runs(tmp_path, monkeypatch):
    (script,) = re.findall(r"```python\n(from ravine.*?)```", (ROOT / "README.md").read_text(), re.S)
    monkeypatch.chdir(tmp_path)
    step_file(tmp_path / "bracket.step", boss_block(), "Bracket")
    names: dict = {}
    exec(script, names)
    assert (tmp_path / "out.step").read_bytes().startswith(b"ISO-10303-21")
    assert [line.split()[0] for line in names["model"].journal] == [
        "Brought", "Pushed", "Rounded", "Dimensioned", "Set", "Set", "Took", "Joined",
    ]  # fmt: skip


def test_the_recipe_of_the_readme_runs(tmp_path):
    (recipe,) = re.findall(r"`(\{\"steps\".*?\]\})`", (ROOT / "README.md").read_text(), re.S)
    path = step_file(tmp_path / "bracket.step", boss_block(), "Bracket")
    row = apply_recipe(json.loads(recipe)["steps"], path, tmp_path, None)
    assert [sentence.split()[0] for sentence in row["done"]] == ["Pushed", "Rounded", "Saved"]
    (written,) = tmp_path.glob("*.stl")
    assert written.stat().st_size > 1000
