"""The typed calls of scripts are those of the declarations as they are, and a type checker holds scripts to them."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

from ravine.cli import typed_calls
from tests.running import ROOT

SCRIPT = """from ravine.core import Model
model = Model()
change = model.do("push", faces=model.faces(kind="plane"), distance="12.5 mm")
found: bool = change.fact("volume")
model.study("clearance", within=2)
{line}
"""


def test_the_stub_is_what_the_declarations_say():
    assert typed_calls.TARGET.read_text() == typed_calls.text(), "run python -m ravine.cli.typed_calls"


def test_a_type_checker_refuses_what_an_edit_does_not_take(tmp_path):
    """One run over a right script and three wrong lines; the right one alone has no complaint."""
    wrong = ['model.do("push", fases=["f1"], distance=1)', 'model.do("puhs")', 'model.study("clearance", within=[])']
    for number, line in enumerate(["", *wrong]):
        (tmp_path / f"script{number}.py").write_text(SCRIPT.format(line=line))
    ran = subprocess.run(
        [Path(sys.executable).with_name("mypy"), "--config-file", ROOT / "pyproject.toml", *tmp_path.glob("*.py")],
        cwd=ROOT, capture_output=True, text=True, check=False,
    )  # fmt: skip
    told = [line for line in ran.stdout.splitlines() if ": error:" in line]
    assert {Path(line.split(":")[0]).name for line in told} == {f"script{n}.py" for n in (1, 2, 3)}, ran.stdout
    assert all(":6: error:" in line and "[call-overload]" in line for line in told), ran.stdout
