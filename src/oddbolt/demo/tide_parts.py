"""What the parts of the demo are: kinds, bodies, markings and so on, all invented; and the maps of its two boards."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from attrs import evolve

from oddbolt.core.study import BoardMap, Joint, Part, Region
from oddbolt.core.study.board_map import corners_typed
from oddbolt.demo.rows import rows

# id, kind, length x width x height mm, material, colour, markings, figures
WHAT = """
P1|foot|14x14x3|rubber TPU|black|>TPU<|condition=one edge worn;spare=yes
P2|cover|62x34x2|PC+ABS|dark grey|>PC+ABS<|function=closes the battery plug's hatch;role=hatch
P3|gasket|152x2.4x2|silicone|black||condition=torn on opening;spare=yes;price=1.10 EUR
P4|module|146x92x14|||
P5|O-ring|140x86x2.6|silicone|orange||function=keeps the lid tight;spare=yes;price=2.40 EUR
P6|shell|146x92x12|PC-GF20|dark grey|>PC-GF20<
P7|window|84x50x1.8|acrylic PMMA|clear||condition=two scratches
P8|display|88x54x3.1||grey|DV-57A|2211|number=DV-57A;function=shows tide and time;value=320 x 240 points;pins=40;date_code=2211;role=display;spare=no
P9|frame|92x58x2|steel|silver||function=holds the display down
P10|foam strip|86x3x1.2|polyurethane foam|black|
P11|flex|54x14x0.2|polyimide|amber|KX-3|function=joins the three keys;pins=12
P12|key mat|58x16x5|silicone|grey|
P13|name plate|60x8x0.6|aluminium|silver|TIDE T4|
P14|wedge|18x6x4|PC|black|
P15|module|134x80x20|||
P16|memory card|15x11x0.7||black|4 GB|function=keeps the readings; carries the power line;rating=4 GB;pins=8;role=storage;spare=yes
P17|shield can|58x40x1.4|tin-plated steel|silver|
P18|seal sticker|26x9x0.1|paper|white|QC 07|
P19|main board|104x66x1.6|FR-4|green|T4-MB/3|number=T4-MB/3;date_code=2214;role=main board;spare=no
P20|processor|20x20x1.8||black|OM7724 / 2209 K|number=OM7724;package=ball grid 1.0 mm;pins=324;date_code=2209;function=runs everything
P21|flash memory|16x14x1.6||black|FN128 / 2148|number=FN128;package=land grid;pins=52;value=128 MB;date_code=2148;function=keeps the program
P22|coin cell|20x20x3.2|steel|silver|CR2032|rating=3 V, lithium manganese dioxide;function=keeps the clock running
P23|buzzer|13x13x3.6|PBT|black|+|pins=2;function=tide alarm
P24|card socket|16x12x3|steel|silver||pins=9
P25|thermal pad|20x20x1|silicone|grey|
P26|radio board|84x30x1.4|FR-4|blue|T4-RF/1|number=T4-RF/1;function=sends the readings ashore
P27|shield can|30x20x2.6|tin-plated steel|silver|
P28|antenna|34x9x0.2|copper on polyimide|amber||condition=one corner lifted
P29|battery|60x36x7|pouch|silver|3.7 V 3190 mAh 11.8 Wh / ICP 7/36/60|rating=3.7 V, 3190 mAh, 11.8 Wh;date_code=2213;role=battery;spare=yes;price=18 EUR;condition=no swelling
P30|adhesive seal|52x34x0.2|acrylic foam|clear|
P31|frame|70x42x8|PA6-GF30|black|>PA6-GF30<
P32|port board|40x14x1.4|FR-4|blue|T4-IO/1|number=T4-IO/1;role=port
P33|data port|10x9x3.8|steel|silver||function=reads out and charges;pins=16
P34|gasket|14x7x2|silicone|black|
P36|vent membrane|9x9x0.3|PTFE film|white|
P37|liquid sticker|6x6x0.1|paper|white||condition=white: no water
P38|module|64x64x34|||
P39|cover|38x38x12|PA6-GF30|orange|>PA6-GF30<
P40|O-ring|30x30x1.8|NBR rubber|black|
P41|sensor board|32x32x1.6|FR-4|blue|T4-SB/2|number=T4-SB/2
P42|pressure sensor|16x16x9|stainless steel|brass|0-20 m|rating=0 to 20 m of water;role=sensor;pins=8;spare=yes;price=42 EUR
P43|O-ring|18x18x1.5|NBR rubber|black|
P44|temperature probe|14x6x6|stainless steel|silver||function=water temperature;value=10 kilohm at 25 °C
P45|pressure sensor|14x14x7|stainless steel|silver|0-2 m|rating=0 to 2 m of water;function=second sensor of the twin version
P46|flex|62x9x0.2|polyimide|amber||pins=16
P47|frame|58x58x24|PA6-GF30|blue|>PA6-GF30<
P48|shell|150x96x28|PC-GF20|dark grey|>PC-GF20<
P49|handle|26x12x8|PA6-GF30|black||function=carries the strap
P50|pin|18x3x3|stainless steel|silver|
P51|type label|46x12x0.1|polyester film|white|5 V 1 A / IP68|rating=5 V, 1 A;condition=legible
P52|cap|40x40x5|TPE|orange|
P53|bezel|42x42x4|PC|grey|
P54|light pipe|22x4x3|PMMA|clear|
"""

# connector of the record: family, ways, pitch mm, width mm
PLUGS = """
J5|flex socket, flip lid|40|0.3|14.6
J6|flex socket, flip lid|12|0.5|8.4
J12|flex socket, flip lid|24|0.5|14.5
J13|board-to-board 0.5 mm|30|0.5|10
J14|flex socket, flip lid|16|0.5|10.4
J15|board-to-board 0.8 mm|6|0.8|5
J29|wire plug 1.0 mm|6|1.0|8.2
J30|wire plug 1.0 mm|2|1.25|5
J31|board-to-board 0.8 mm|8|0.8|6.5
J42|flex socket, flip lid|16|0.5|10.4
J8|memory card socket|8|1.1|11
"""

MASSES = {"P18": 0.1, "P20": 1.6, "P21": 0.9, "P24": 1.4, "P27": 2.2, "P33": 1.2, "P36": 0.1, "P37": 0.1, "P51": 0.3}

# photo, board, face
MAPS = """
M1|H3|P19|front
M2|H11|P19|back
M3|H4|P26|front
M4|H12|P26|back
"""
#: how much of the bench a demo photo shows, mm
WIDE_MM, HIGH_MM = 200.0, 150.0

# photo, what is outlined, part or name, x, y, width, height of its middle, mm from the middle of the photo
OUTLINES = """
H3|edge|P19|-12|4|104|66
H3|part|P20|-38|14|20|20
H3|part|P21|-8|18|16|14
H3|part||-34|-14|22|12
H3|part||12|2|10|18
H3|part|P23|34|8|13|13
H3|part|P24|-46|-24|16|12
H3|area|processing|-25|14|54|40
H3|area|power|4|-22|40|16
H3|area|input|-54|2|12|40
H11|edge|P19|0|0|104|66
H11|part|P22|-20|10|22|22
H11|part||18|12|12|8
H11|part||26|-12|9|9
H11|area|power|22|0|34|44
H4|edge|P26|-10|22|84|30
H4|part|P27|-26|22|30|20
H4|part||12|24|14|12
H4|area|radio|-20|22|50|26
H12|edge|P26|0|0|84|30
H12|part||-14|0|12|8
"""


def described(parts: Sequence[Part]) -> list[Part]:
    """The parts with what they are."""
    told = {row[0]: row for row in rows(WHAT)}
    out = []
    for part in parts:
        row = told.get(part.id)
        if row is None:
            out.append(part)
            continue
        _, kind, size, material, colour, marks, *more = row
        sides = [float(side) for side in size.split("x")]
        fields: dict[str, Any] = {"long_mm": sides[0], "wide_mm": sides[1], "high_mm": sides[2]}
        for pair in ";".join(more).split(";"):
            name, found, value = pair.partition("=")
            if found:
                fields[name] = int(value) if name == "pins" else value
        markings = tuple(line.strip() for line in marks.split(" / ") if line.strip())
        mass = part.mass_g if part.mass_g is not None else MASSES.get(part.id)
        out.append(evolve(part, kind=kind, material=material, colour=colour, markings=markings, mass_g=mass, **fields))
    return out


def plugged(joints: Sequence[Joint]) -> list[Joint]:
    """The connectors with their families, contacts, pitch and width."""
    told = {row[0]: row for row in rows(PLUGS)}
    out = []
    for joint in joints:
        if joint.id not in told:
            out.append(joint)
            continue
        _, family, ways, pitch, width = told[joint.id]
        out.append(evolve(joint, family=family, pins=int(ways), pitch_mm=float(pitch), width_mm=float(width)))
    return out


def maps() -> list[BoardMap | Region]:
    """Both faces of two boards, with what is outlined on them; a few bodies are not named yet."""
    out: list[BoardMap | Region] = [
        BoardMap(id, photo, part, face, WIDE_MM, 0.005, "mat") for id, photo, part, face in rows(MAPS)
    ]
    for n, (photo, kind, about, x, y, wide, high) in enumerate(rows(OUTLINES), 1):
        left, top = (float(x) - float(wide) / 2 + WIDE_MM / 2), (HIGH_MM / 2 - float(y) - float(high) / 2)
        right, foot = left + float(wide), top + float(high)
        corners = [(left, top), (right, top), (right, foot), (left, foot)]
        outline = corners_typed((a / WIDE_MM, b / HIGH_MM) for a, b in corners)
        part, name = ("", about) if kind == "area" else (about, "")
        out.append(Region(f"G{n}", photo, outline, kind, part, name))
    return out
