"""Commands about photos: what a study has, adding some, the contact sheet, the practice camera."""

from __future__ import annotations

import argparse
from time import sleep
from typing import Any

from oddbolt.commands.loading import load, print_json
from oddbolt.core.errors import FileError


def photos(options: argparse.Namespace) -> int:
    from oddbolt.core.study import Photo, new_id, put
    from oddbolt.core.study.photos import callouts_of, step_when
    from oddbolt.files.contact_sheet import contact_sheet
    from oddbolt.files.pdf import write_page
    from oddbolt.files.pictures import look_at_file
    from oddbolt.files.store import Store

    if options.add:
        looked = [(path, look_at_file(path)) for path in options.add]
        steps = list(load(options.study).steps)
        if options.step is not None and not 1 <= options.step <= len(steps):
            raise FileError(f"There is no step {options.step}; steps run from 1 to {len(steps)}.")
        store, study = Store.open(options.study)
        with store:
            after = study
            for path, one in looked:
                given = steps[options.step - 1] if options.step else ""
                step = given or step_when(study, one.taken) or (steps[-1] if steps else "")
                digest = store.add_picture(one.data)
                photo = Photo(new_id(after, "H"), digest, step, path.stem, one.width, one.height, one.taken)
                after = put(after, photo)
            store.save(study, after)
    if options.output:
        store, study = Store.open(options.study, read_only=True)
        with store:
            write_page(options.output, contact_sheet(study, store.picture))
    study = load(options.study)
    rows: list[dict[str, Any]] = [
        {
            "id": p.id,
            "step": study.step_number(p.step) if p.step else None,
            "caption": p.caption,
            "shows": p.role,
            "taken": p.taken,
            "size": [p.width, p.height],
            "callouts": [
                {"letter": c.letter, "label": c.label or (study.name(c.about) if c.about else "")}
                for c in callouts_of(study, p.id)
            ],
        }
        for p in study.photos.values()
    ]
    if options.json:
        print_json({"photos": rows})
        return 0
    for row in rows:
        at = f"step {row['step']}" if row["step"] else "no step"
        letters = " ".join(c["letter"] for c in row["callouts"])
        print(f"{row['id']:<5} {at:<9} {row['shows']:<7} {row['caption'] or row['taken']:<30} {letters}".rstrip())
    print(f"{len(rows)} photos.")
    return 0


def camera(options: argparse.Namespace) -> int:
    from oddbolt.demo import tide_logger
    from oddbolt.instruments import INSTRUMENTS

    if not options.folder.is_dir():
        raise FileError(f"{options.folder} is not a folder.")
    camera = INSTRUMENTS["camera"](tide_logger.pictures())
    for n in range(options.count):
        if n:
            sleep(options.every)
        print(camera.use(options.folder, n), flush=True)
    return 0
