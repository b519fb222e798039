"""Sample outputs of the demo study: what each reader gets. Run by ``./run samples [FOLDER]``."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

#: file -> the command that writes it, after the study
SAMPLES = {
    "report for a repairer.pdf": ["report", "--for", "repairer"],
    "report for a designer.pdf": ["report", "--for", "designer"],
    "report for a judge.pdf": ["report", "--for", "judge"],
    "report, everything.html": ["report"],
    "replace the battery.pdf": ["instructions", "--target", "battery"],
    "replace the battery.md": ["instructions", "--target", "battery"],
    "tide logger.xlsx": ["export"],
    "tables.zip": ["export"],
    "tide logger.json": ["export"],
    "captions of the first run.vtt": ["captions", "--run", "R1"],
    "chapters of the first run.vtt": ["captions", "--run", "R1", "--chapters"],
    "photos.zip": ["photos-out", "--longest", "1200"],
    "web": ["web", "--others"],
    "for others.oddbolt": ["export", "--others"],
}


def main(folder: Path) -> None:
    """Write every sample into a folder, and tell its size."""
    folder.mkdir(parents=True, exist_ok=True)
    study = folder / "demo.oddbolt"
    run = [sys.executable, "-m", "oddbolt"]
    subprocess.run([*run, "demo", "-o", str(study), "--replace"], check=True)
    for name, (command, *options) in ((name, tuple(words)) for name, words in SAMPLES.items()):
        out = folder / name
        subprocess.run(
            [*run, command, str(study), *options, "-o", str(out), "--replace"], check=True, capture_output=True
        )
        files = [p for p in out.rglob("*") if p.is_file()] if out.is_dir() else [out]
        size = sum(p.stat().st_size for p in files)
        print(f"{size / 1e6:>7.2f} MB  {name}{f' ({len(files)} files)' if len(files) > 1 else ''}")


if __name__ == "__main__":
    main(Path(sys.argv[1] if len(sys.argv) > 1 else "samples"))
