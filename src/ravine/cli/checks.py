"""./ravine test: style, types, layers, scripts, then the tests of the core beside those of the page."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
from pathlib import Path

from .folder import ROOT

BIN = Path(sys.executable).parent
PYTEST = [sys.executable, "-m", "pytest"]
CHECKS = [
    [str(BIN / "ruff"), "check", "src", "tests", "bench"],
    [str(BIN / "ruff"), "format", "--check", "src", "tests", "bench"],
    [str(BIN / "mypy")],
    [str(BIN / "lint-imports")],
    ["tsc", "-p", "src/ravine/web/static/js"],
    ["node", "--test", "--test-reporter=dot", "--import", "./tests/scripts/resolve.js"]
    + [str(p.relative_to(ROOT)) for p in sorted(ROOT.glob("tests/scripts/*.test.js"))],
]


CORES = min(os.cpu_count() or 1, 8)
CORE = ["-n", str(max(1, CORES // 2)), "--dist", "worksteal", "--durations=25", "tests/core"]
# each with a browser, a database and an engine of its own: more of them at once than cores only hinder one another
STACK = [
    "-n",
    str(min(CORES, 4)),
    "--dist",
    "loadfile",
    "--no-loadscope-reorder",  # the long files first, as they are collected
    "--durations=40",
    *(f"tests/{part}" for part in ("browser", "web", "service", "store", "engine")),
]
BEHIND = 10  # how far the tests of the core stand back: those on the page wait for half of their time, the core never


def test(arguments: list[str]) -> int:
    """With arguments, only pytest runs, with them."""
    failed = []
    if not arguments:
        for check in CHECKS:
            print(f"== {Path(check[0]).name} {' '.join(check[1:])}", flush=True)
            if subprocess.run(check, cwd=ROOT, check=False).returncode:
                failed.append(Path(check[0]).name)
    if arguments:
        failed += _pytest(arguments)
    else:
        failed += _side_by_side()
    if failed:
        print(f"failed: {', '.join(failed)}", flush=True)
    return 1 if failed else 0


def _pytest(arguments: list[str]) -> list[str]:
    print(f"== pytest {' '.join(arguments)}", flush=True)
    return ["pytest"] if subprocess.run([*PYTEST, *arguments], cwd=ROOT, check=False).returncode else []


def _side_by_side() -> list[str]:
    """The tests of the core in what time those of the page leave; what they print comes last."""
    with tempfile.TemporaryFile() as printed:
        core = subprocess.Popen(
            [*PYTEST, *CORE], cwd=ROOT, stdout=printed, stderr=subprocess.STDOUT, preexec_fn=lambda: os.nice(BEHIND)
        )
        try:
            failed = _pytest(STACK)
            core.wait()
        finally:
            core.kill()
        printed.seek(0)
        print(f"== pytest {' '.join(CORE)}", flush=True)
        sys.stdout.buffer.write(printed.read())
        sys.stdout.flush()
    return failed + (["pytest of the core"] if core.returncode else [])
