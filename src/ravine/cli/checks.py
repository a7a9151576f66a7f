"""./ravine test: style, types, layers, scripts and tests, the fast ones first."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

from .folder import ROOT

BIN = Path(sys.executable).parent
CHECKS = [
    [str(BIN / "ruff"), "check", "src", "tests", "bench"],
    [str(BIN / "ruff"), "format", "--check", "src", "tests", "bench"],
    [str(BIN / "mypy")],
    [str(BIN / "lint-imports")],
    ["tsc", "-p", "src/ravine/web/static/js"],
    ["node", "--test", "--test-reporter=dot", "--import", "./tests/scripts/resolve.js"]
    + [str(p.relative_to(ROOT)) for p in sorted(ROOT.glob("tests/scripts/*.test.js"))],
]


CORES = os.cpu_count() or 1
RUNS = [
    ["-n", str(min(CORES, 4)), "--dist", "worksteal", "--durations=25", "tests/core"],
    # each with a browser, a database and an engine of its own: more of them at once than cores only hinder one another
    [
        "-n",
        str(min(CORES, 4)),
        "--dist",
        "loadfile",
        "--no-loadscope-reorder",  # the long files first, as they are collected
        "--durations=40",
        *(f"tests/{part}" for part in ("browser", "web", "service", "store", "engine")),
    ],
]


def test(arguments: list[str]) -> int:
    """With arguments, only pytest runs, with them."""
    failed = []
    if not arguments:
        for check in CHECKS:
            print(f"== {Path(check[0]).name} {' '.join(check[1:])}", flush=True)
            if subprocess.run(check, cwd=ROOT, check=False).returncode:
                failed.append(Path(check[0]).name)
    for run in [arguments] if arguments else RUNS:
        print(f"== pytest {' '.join(run)}", flush=True)
        if subprocess.run([sys.executable, "-m", "pytest", *run], cwd=ROOT, check=False).returncode:
            failed.append("pytest")
    if failed:
        print(f"failed: {', '.join(failed)}", flush=True)
    return 1 if failed else 0
