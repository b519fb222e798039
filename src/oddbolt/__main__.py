"""The command line: the window, and every main job without a window.

Exit status: 0 done, 1 the job could not be done (one sentence on stderr says why), 2 the command was not understood.
"""

from __future__ import annotations

import os
import sys
from collections.abc import Sequence
from contextlib import redirect_stderr, redirect_stdout
from pathlib import Path
from typing import Any

from oddbolt.commands.parser import near, parser
from oddbolt.commands.terminal import PlainOutput
from oddbolt.core.errors import FileError, OddBoltError, sentence


def main(argv: Sequence[str] | None = None) -> int:
    """Run one command; without one, or with only a study file, open the window."""
    arguments = list(sys.argv[1:] if argv is None else argv)
    if not arguments or arguments[0].endswith(".oddbolt"):
        arguments = ["desk", *arguments]
    parsing = parser()
    names = list(parsing.commands)
    if not arguments[0].startswith("-") and arguments[0] not in names:
        meant = near(arguments[0], names)
        hint = f"; did you mean {meant}?" if meant else f". There are {', '.join(names)}."
        parsing.error(f"there is no command {arguments[0]!r}{hint}")
    options = parsing.parse_args(arguments)
    output = sys.stdout
    try:
        _check_free(options)
        with redirect_stdout(PlainOutput(output)), redirect_stderr(PlainOutput(sys.stderr)):
            status = int(options.run(options))
        output.flush()
        return status
    except OddBoltError as error:
        said = sentence(error)
    except BrokenPipeError:
        _close_output()
        return 1
    except KeyboardInterrupt:
        return 130
    except MemoryError:
        said = "This needs more memory than this machine gives."
    except RecursionError:
        said = "This is nested too deeply to be worked out."
    except OSError as error:
        if error.filename is not None:
            raise
        said = f"The answer could not be written: {error.strerror or error}."
        _close_output()
    print(f"oddbolt: {said}", file=sys.stderr)
    return 1


def _check_free(options: Any) -> None:
    """The one rule of writing over. Raises FileError for a file that is there, unless --replace is given."""
    output: Path | None = getattr(options, "output", None)
    if output is not None and not options.replace and os.path.lexists(output):
        raise FileError(f"{output.name} already exists; choose another name, or add --replace.")


def _close_output() -> None:
    """Nothing more is written to an output that takes nothing, not even at the end."""
    nowhere = os.open(os.devnull, os.O_WRONLY)
    os.dup2(nowhere, 1)
    os.close(nowhere)


if __name__ == "__main__":
    sys.exit(main())
