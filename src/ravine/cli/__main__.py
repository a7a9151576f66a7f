"""`python -m ravine.cli COMMAND`; the shell script ./ravine has made the environment ready."""

from __future__ import annotations

import sys

from ravine.core import RavineError


def main(arguments: list[str]) -> int:
    command, rest = arguments[0], arguments[1:]
    try:
        if command in ("demo", "start"):
            from .start import start

            return start(with_demo=command == "demo", arguments=rest)
        if command == "run":
            from .recipe import run

            return run(rest)
        if command == "test":
            from .checks import test

            return test(rest)
        if command == "shots":
            from .shots import shots

            return shots(rest)
    except RavineError as error:
        print(f"ravine: {error}", file=sys.stderr)
        return 1
    print(f"ravine: there is no command “{command}”", file=sys.stderr)
    return 2


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
