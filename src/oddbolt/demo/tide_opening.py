"""What was set up before the demo device was opened: checks, edge plans, warm-ups, a wait and sums."""

from __future__ import annotations

from oddbolt.core.study import Check, EdgePlan, Keepout, Layer, Stretch, Sum, Wait, Warmup
from oddbolt.demo.rows import number, rows

# rule, reading
CHECKS = """
identify|
off|
charge|22
swollen|
strap|8.5
mat|
glass|
air|
"""

# plan, name, from mm, to mm, hold, count, width mm, angle, depth mm, joint
STRETCHES = """
O1|right side|76.7|126.1|glue||2|45|3|J34
O1|bottom side|126.1|207.5|glue||1.5|60|3|J34
O1|left side|207.5|257|glue||1.5|45|5|J34
O1|top side|257|76.7|glue||1.5|60|2|J34
O2|right side|65.2|103.6|clips|1||60|2|J36
O2|bottom side|103.6|173.8|clips|2||60|2|J36
O2|left side|173.8|212.2|nothing|||45|3|
O2|top side|212.2|65.2|clips|1||60|2|J36
"""

# plan, kind, name, part, x, y, wide, high, below mm
KEEPOUTS = """
O1|sensor|Light sensor||58|4.2|5|3.4|0
O1|key flex||P11|26|47.5|26|5|0
O1|cable hinge|Display ribbon||3.5|24|6|15|0
O1|other||P8|43|25|62|34|3.2
O1|antenna|Radio antenna strip||78.5|12|4|13|1.2
O2|cable hinge|Display ribbon||4|21|7|14|0
O2|other|Backlight lead||50|36.8|8|3|0
O2|sensor|Light sensor||55|4|4|3|0
"""

# warm-up, material, mm, role, name
LAYERS = """
W1|acrylic sheet|2|cover|Window
W1|foam tape|0.4|glue|Window glue
W1|air|0.8|gap|
W1|display stack|2.2|guarded|Display
W2|aluminium alloy|1.2|cover|Battery tray
W2|acrylic tape|0.25|glue|Battery glue
W2|lithium pouch cell|9|guarded|Battery
"""


def opening() -> list[object]:
    """What was set up before opening: checks, two edge plans, two warm-ups, a wait and two sums."""
    things: list[object] = []
    for n, (rule, reading) in enumerate(rows(CHECKS), 1):
        things.append(Check(f"K{n}", rule, "B. N.", f"2026-03-02T08:{40 + n:02d}", number(reading)))
    things += [
        EdgePlan("O1", "Window", "rounded 84 x 52 r 6", "P7", "front", 0.4),
        EdgePlan("O2", "Display frame", "rounded 72 x 42 r 5", "P9", "back", 0.7),
    ]
    for n, (plan, name, start, end, hold, count, wide, angle, depth, joint) in enumerate(rows(STRETCHES), 1):
        edge = (float(start), float(end), hold, int(count) if count else None, number(wide), float(angle))
        things.append(Stretch(f"E{n}", plan, name, *edge, float(depth), joint))
    for n, (plan, kind, name, part, x, y, wide_, high, below) in enumerate(rows(KEEPOUTS), 1):
        place = (float(x), float(y), float(wide_), float(high), float(below))
        things.append(Keepout(f"Z{n}", plan, kind, *place, name, part))
    things += [
        Warmup("W1", "Window on the warm plate", "plate", 85, limit_c=70, target_c=62, minutes=20, joint="J34"),
        Warmup("W2", "Battery through its tray", "plate", 75, limit_c=60, target_c=52, minutes=12, joint="J20"),
    ]
    for n, (warmup, material, mm, role, name) in enumerate(rows(LAYERS), 1):
        things.append(Layer(f"L{n}", warmup, material, float(mm), role, name))
    things.append(Wait("T1", "solvent", 60, 64, "S25", "2026-03-02T09:41:07"))
    cell = ("charge = 3200 mAh", "nominal voltage = 3.7 V", "label's energy = 11.8 Wh")
    things.append(Sum("U1", "cell", "11.8 Wh; the label's 11.8 Wh agrees.", "P29", cell))
    tape = ("length = 160 mm", "width = 3 mm", "pieces = 1")
    things.append(Sum("U2", "tape", "4.8 cm² of tape, 160 mm long in all.", "J3", tape))
    return things
