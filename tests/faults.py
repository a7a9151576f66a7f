"""Planted faults: tasks and edits that hang, crash or eat memory inside a worker.  Loaded into the engine's children by
the tests only (Settings.extra)."""

from __future__ import annotations

import contextlib
import os
import socket
import time
from pathlib import Path

import OCP.StdFail

from ravine.core.edits.base import Edit
from ravine.core.edits.declared import field
from ravine.core.edits.fields import ChoiceField
from ravine.core.edits.registry import edit
from ravine.core.operations.work import Outcome, Work
from ravine.engine.tasks import task


def _hang() -> None:
    time.sleep(600)


def _crash() -> None:
    os.abort()


def _eat() -> None:
    held = []
    while True:
        held.append(bytearray(64 << 20))


def _kernel() -> None:
    raise OCP.StdFail.StdFail_NotDone("no way through")


def _wrong() -> None:
    raise KeyError("hinge")


FAULTS = {"hang": _hang, "crash": _crash, "eat": _eat, "kernel": _kernel, "wrong": _wrong}


@task
def fault(workshop, args, progress):
    FAULTS[args["kind"]]()


@task
def look_around(workshop, args, progress):
    """What a file that takes over a worker would find."""
    reached = False
    with contextlib.suppress(OSError), socket.create_connection(("127.0.0.1", args["port"]), 2):
        reached = True
    privileges = [line for line in Path("/proc/self/status").read_text().splitlines() if line.startswith("NoNewPrivs")]
    return {"environment": dict(os.environ), "reached": reached, "privileges": privileges[0].split()[1]}


@task
def slow(workshop, args, progress):
    """Works for a while, in steps."""
    for i in range(args["steps"]):
        progress(i / args["steps"], f"step {i}")
        time.sleep(0.05)
    return "done"


@edit
class Misbehave(Edit):
    name = "zz misbehave"
    title = "Misbehave"
    sentence = "Misbehave by {kind}"
    past = "Misbehaved by {kind}"
    help = "Plants a fault in the worker."
    drawing = "struck"

    kind: str = field(ChoiceField("the kind", "Which.", options={k: k for k in FAULTS}))

    def apply(self, work: Work) -> Outcome:
        FAULTS[self.kind]()
        return Outcome(work.snapshot)
