"""What a system wants of a program: a menu entry and file type, a manual page, completion, the form of its answers."""

from __future__ import annotations

import argparse
import json
import os
import shutil
import subprocess
import sys
from contextlib import suppress
from datetime import date
from importlib.resources import files
from pathlib import Path

from oddbolt import __version__
from oddbolt.core.errors import FileError
from oddbolt.files.text import write_text

ID = "org.oddbolt.OddBolt"
#: a file of ours under the user's data folder -> the file in the package that it is made of
PLACES = {
    f"applications/{ID}.desktop": f"{ID}.desktop",
    f"icons/hicolor/scalable/apps/{ID}.svg": f"{ID}.svg",
    f"mime/packages/{ID}.xml": f"{ID}.mime.xml",
    f"metainfo/{ID}.metainfo.xml": f"{ID}.metainfo.xml",
}
MADE = ("man/man1/oddbolt.1", "bash-completion/completions/oddbolt", "zsh/site-functions/_oddbolt")
#: what tells the desktop that something came, where it is there: command and the folder it takes
TOLD = (("update-mime-database", "mime"), ("update-desktop-database", "applications"))


def integrate(options: argparse.Namespace) -> int:
    """Install for this user, or remove. What is there under these names is ours and is written anew."""
    from oddbolt.commands.parser import parser

    folder = _data_folder()
    if options.remove:
        gone = [name for name in (*PLACES, *MADE) if _removed(folder / name)]
        print(f"{len(gone)} files removed from {folder}." if gone else f"Nothing of Odd Bolt was in {folder}.")
    else:
        program = _program()
        whole = parser()
        texts = {name: _text(source) for name, source in PLACES.items()}
        entry = f"applications/{ID}.desktop"
        texts[entry] = texts[entry].replace("Exec=oddbolt ", f"Exec={_quoted(program)} ")
        texts[entry] = texts[entry].replace("TryExec=oddbolt", f"TryExec={program}")
        made = (manual(whole), completion_of("bash"), completion_of("zsh"))
        for name, text in (*texts.items(), *zip(MADE, made, strict=True)):
            try:
                (folder / name).parent.mkdir(parents=True, exist_ok=True)
            except OSError as error:
                raise FileError(f"{folder / name} cannot be written: {error.strerror or error}.") from None
            write_text(folder / name, text)
        print(
            f"Odd Bolt is in your menu, and opens studies ({folder}); “oddbolt integrate --remove” takes it out again."
        )
    for command, place in TOLD:
        found = shutil.which(command)
        if found and (folder / place).is_dir():
            with suppress(OSError, subprocess.SubprocessError):
                subprocess.run([found, str(folder / place)], capture_output=True, timeout=60, check=False)
    return 0


def man(_options: argparse.Namespace) -> int:
    from oddbolt.commands.parser import parser

    print(manual(parser()), end="")
    return 0


def completion(options: argparse.Namespace) -> int:
    print(completion_of(options.shell))
    return 0


def schema(options: argparse.Namespace) -> int:
    print(schema_of(options.about), end="")
    return 0


def schema_of(command: str) -> str:
    """The JSON Schema of a command's answer, as text. Raises FileError where there is none."""
    if command == "study":
        from oddbolt.files.study_schema import study_schema

        return json.dumps(study_schema(), ensure_ascii=False, indent=1) + "\n"
    answers = files("oddbolt.commands.answers")
    there = sorted(p.name.removesuffix(".json") for p in answers.iterdir() if p.name.endswith(".json"))
    if command not in there:
        raise FileError(f"{command!r} has no answer in JSON; these have: {', '.join(there)}.")
    return answers.joinpath(f"{command}.json").read_text(encoding="utf-8")


def completion_of(shell: str) -> str:
    """A completion script for a shell."""
    import shtab

    from oddbolt.commands.parser import parser

    return str(shtab.complete(parser(), shell))


# -- the manual page --------------------------------------------------------------------------------------


def manual(parser: argparse.ArgumentParser) -> str:
    """The manual page of all commands, in the language of man(7)."""
    whole = [
        f'.TH ODDBOLT 1 "{date.today().isoformat()}" "Odd Bolt {__version__}" "User Commands"',
        ".SH NAME",
        "oddbolt \\- bench book for the teardown analyst",
        ".SH SYNOPSIS",
        ".B oddbolt\n.RI [ STUDY.oddbolt ]\n.br\n.B oddbolt\n.I COMMAND\n.RI [ OPTIONS ]",
        ".SH DESCRIPTION",
        _roff(parser.description or ""),
        "Without a command the window opens. A file named \\- is standard input or output.",
        "What is there is kept, unless \\-\\-replace is given.",
        ".SH COMMANDS",
    ]
    for name, command in parser.commands.items():  # type: ignore[attr-defined]
        whole += [f".SS {_roff(name)}", _roff(command.description or "")]
        for action in command._actions:  # noqa: SLF001 - argparse has no other way to list them
            if action.dest == "help":
                continue
            heads = ", ".join(action.option_strings) or action.metavar or action.dest
            value = action.metavar or (",".join(map(str, action.choices)) if action.choices else action.dest.upper())
            shown = f" {value}" if action.option_strings and action.nargs != 0 else ""
            whole += [".TP", f".B {_roff(f'{heads}{shown}')}", _roff(str(action.help or "")) or "\\&"]
    whole += [".SH EXIT STATUS", "0 done; 1 the job could not be done, and one sentence says why; 2 not understood."]
    return "\n".join(whole) + "\n"


def _roff(text: str) -> str:
    """Text as a manual page takes it."""
    text = text.replace("\\", "\\e").replace("-", "\\-").replace("%%", "%")
    return "\\&" + text if text[:1] in (".", "'") else text


# -- places -----------------------------------------------------------------------------------------------


def _data_folder() -> Path:
    from platformdirs import user_data_path

    return Path(os.environ.get("XDG_DATA_HOME") or user_data_path())


def _program() -> Path:
    """The program as the desktop starts it: beside this interpreter, else on the path."""
    beside = Path(sys.executable).with_name("oddbolt")
    found = beside if beside.exists() else shutil.which("oddbolt")
    if not found:
        raise FileError("The program oddbolt was not found; install the package first.")
    return Path(found)


def _quoted(path: Path) -> str:
    """A path as a desktop entry takes it (desktop entry specification 1.5, the Exec key)."""
    text = str(path).replace("%", "%%")
    for sign in '\\"`$':
        text = text.replace(sign, "\\" + sign)
    return f'"{text}"'.replace("\\", "\\\\")


def _text(name: str) -> str:
    return files("oddbolt.integration").joinpath(name).read_text(encoding="utf-8")


def _removed(path: Path) -> bool:
    try:
        path.unlink()
    except FileNotFoundError:
        return False
    except OSError as error:
        raise FileError(f"{path} cannot be removed: {error.strerror or error}.") from None
    return True
