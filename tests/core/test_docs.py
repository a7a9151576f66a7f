"""Code shown in the documents is that of the files it names, and links lead somewhere."""

from __future__ import annotations

import re

import pytest

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
