"""How many outlines of the ray-traced boards in tests/boards are proposed, and how many proposals are of something."""

import json
from pathlib import Path

from shapely.geometry import Polygon

from oddbolt.core.vision.board import propose
from oddbolt.files.pictures import pixels

BOARDS = sorted((Path(__file__).parent / "boards").glob("*.jpg"))


def share(a, b):
    """Intersection over union."""
    return a.intersection(b).area / a.union(b).area


def scores():
    """(found, there, right, proposed, the least share of a board's edge): an outline counts where its share is half."""
    found = there = right = proposed = 0
    edges = []
    for path in BOARDS:
        truth = json.loads(path.with_suffix(".json").read_text())
        made = propose(pixels(path))
        shapes = [Polygon(one.corners) for one in made.outlines]
        hits = set()
        for thing in truth["things"]:
            shares = [share(Polygon(thing["corners"]), shape) for shape in shapes]
            if max(shares, default=0) > 0.5:
                hits.add(shares.index(max(shares)))
                found += 1
        there, right, proposed = there + len(truth["things"]), right + len(hits), proposed + len(shapes)
        edges.append(share(Polygon(truth["edge"]), Polygon(made.edge)))
    return found, there, right, proposed, min(edges)
