"""The needs of a study as a graph, for other programs: GraphML (graphml.graphdrawing.org) and DOT (graphviz.org).

A node is a step, an edge leads from what must be done to what waits for it. Where any one of several steps will do, the
edges meet in a node of the sort "or".
"""

from __future__ import annotations

from pathlib import Path
from xml.etree.ElementTree import Element, SubElement, indent, tostring

from attrs import frozen

from oddbolt.core.errors import FileError
from oddbolt.core.reach import Needs, needs_of, step_times
from oddbolt.core.reach.describe import step_text
from oddbolt.core.study import Study
from oddbolt.files.text import write_text

RULES = {1: "holds", 2: "lies over", 3: "softens", 4: "power"}
#: what a reader of the graph must know
LOOPS = "Where any one of several steps will do, edges meet in an or node; through these the graph may hold circles."
SPACE = "http://graphml.graphdrawing.org/xmlns"
FIELDS = (
    ("sort", "node", "string"),
    ("label", "node", "string"),
    ("seconds", "node", "double"),
    ("rule", "edge", "string"),
    ("about", "edge", "string"),
)


@frozen
class Node:
    """A step ("step"), or a choice of several ("or")."""

    id: str
    sort: str
    label: str
    seconds: float


@frozen
class Edge:
    """``first`` before ``then``, by which rule and about what."""

    first: str
    then: str
    rule: str
    about: str


def graph(study: Study, facts: str = "least") -> tuple[list[Node], list[Edge]]:
    """The nodes and edges of what each step needs."""
    needs: Needs = needs_of(study, facts)
    times = step_times(study)
    nodes = [Node(id, "step", f"{study.step_number(id)} {step_text(study, id)}", times[id].seconds) for id in needs.ids]
    edges: dict[Edge, None] = {}
    for id, own in zip(needs.ids, needs.needs, strict=True):
        for need in own:
            ways = needs.steps(need.steps)
            rule, about = RULES[need.rule], study.name(need.over or need.cause)
            if len(ways) == 1:
                edges[Edge(ways[0], id, rule, about)] = None
                continue
            choice = f"{id}-{need.rule}-{need.cause}{need.over}"
            nodes.append(Node(choice, "or", "or" if ways else "nothing does it", 0.0))
            edges.update((Edge(way, choice, rule, about), None) for way in ways)
            edges[Edge(choice, id, rule, about)] = None
    return nodes, list(edges)


def write_graph(path: Path, study: Study, facts: str = "least") -> None:
    """Write the needs as FILE.graphml or FILE.dot. Raises FileError."""
    nodes, edges = graph(study, facts)
    ending = path.suffix.lower()
    if ending == ".graphml":
        write_text(path, _graphml(nodes, edges))
    elif ending in (".dot", ".gv"):
        write_text(path, _dot(nodes, edges))
    else:
        raise FileError(f"A graph is written as .graphml or .dot, not {ending or path.name}.")


def _graphml(nodes: list[Node], edges: list[Edge]) -> str:
    root = Element("graphml", xmlns=SPACE)
    for name, of, kind in FIELDS:
        SubElement(root, "key", {"id": name, "for": of, "attr.name": name, "attr.type": kind})
    SubElement(root, "desc").text = LOOPS
    whole = SubElement(root, "graph", id="needs", edgedefault="directed")

    def data(parent: Element, **values: object) -> None:
        for name, value in values.items():
            SubElement(parent, "data", key=name).text = str(value)

    for node in nodes:
        data(SubElement(whole, "node", id=node.id), sort=node.sort, label=node.label, seconds=node.seconds)
    for n, edge in enumerate(edges):
        made = SubElement(whole, "edge", id=f"e{n}", source=edge.first, target=edge.then)
        data(made, rule=edge.rule, about=edge.about)
    indent(root)
    return '<?xml version="1.0" encoding="UTF-8"?>\n' + tostring(root, encoding="unicode") + "\n"


def _dot(nodes: list[Node], edges: list[Edge]) -> str:
    def quoted(text: str) -> str:
        return '"' + text.replace("\\", "\\\\").replace('"', '\\"') + '"'

    out = ["digraph needs {", f"  // {LOOPS}", "  rankdir=LR;"]
    out += [
        f"  {quoted(n.id)} [label={quoted(n.label)}, shape={'box' if n.sort == 'step' else 'diamond'}];" for n in nodes
    ]
    out += [f"  {quoted(e.first)} -> {quoted(e.then)} [label={quoted(f'{e.rule} {e.about}')}];" for e in edges]
    return "\n".join([*out, "}", ""])
