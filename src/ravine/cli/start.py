"""./ravine demo and ./ravine start."""

from __future__ import annotations

import argparse
import signal
import sys
import threading
import time

from .folder import DataFolder
from .stack import Stack


def start(with_demo: bool, arguments: list[str]) -> int:
    parser = argparse.ArgumentParser(prog="ravine demo" if with_demo else "ravine start")
    parser.add_argument("--port", type=int, help="port on this machine (a free one from 8471 when left out)")
    options = parser.parse_args(arguments)
    began = time.monotonic()
    ended = threading.Event()
    for number in (signal.SIGINT, signal.SIGTERM):
        signal.signal(number, lambda *_: ended.set())
    folder = DataFolder()
    stack = Stack(folder, options.port)
    try:
        stack.prepare()
        if with_demo:
            stack.bring_in_demo(ended)
        if ended.is_set():
            return 0
        stack.start()
        took = f"{time.monotonic() - began:.1f} s; Ctrl-C stops it"
        print(f"Ravine is ready at {stack.entering()}  ({took})", flush=True)
        while not ended.wait(0.5):
            if not stack.entrance.exists():
                print(f"ravine: for another browser: {stack.entering()}", flush=True)
        print("ravine: stopping", file=sys.stderr)
    finally:
        stack.stop()
    return 0
