"""The demo study, built from plain tables: an invented rugged tide logger of an invented maker.

Photos are 200 mm x 150 mm seen from above, so a callout at (x, y) mm from the middle lies at known fractions.
"""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from datetime import datetime, timedelta
from importlib.resources import files
from math import sin

from attrs import evolve

from oddbolt.core.reach.step_masks import record_of
from oddbolt.core.study import Callout, Device, Fact, Finding, Joint, Lap, Part, Photo, Run, Step, Study, put_all
from oddbolt.demo.rows import number, rows
from oddbolt.demo.tide_opening import opening
from oddbolt.demo.tide_parts import described, maps, plugged

#: What a newcomer is shown first: the odd one among the board screws.
SHOWN_FIRST = "J17"
DEVICE = Device(
    "Tide logger",
    "Ondrel",
    "T4",
    "twin sensor",
    "T4-000417",
    694.0,
    "rounded 134 x 92 r 14",
    38.0,
    "front",
    arrived="scratched lid, dry inside, all screws there, not opened before",
    made="2022, week 14",
    origin="returned after two seasons",
)

# id, name, inside, kind, priority, reuse rule, mass g
PARTS = """
P1|Rubber feet||trim||inspect|6
P2|Base hatch||cover|||14
P3|Hatch seal|P2|seal||renew|1
P4|Lid||module|||126
P5|Lid seal|P4|seal||renew|3
P6|Lid shell|P4|cover|||62
P7|Window|P4|glass|||18
P8|Display|P4|display|yes||24
P9|Display frame|P4|frame|||5
P10|Display foam|P4|foam||renew|1
P11|Key flex|P4|flex|||2
P12|Key mat|P4|keys|||7
P13|Name plate|P4|label|||2
P14|Lid wedge|P4|frame|||1
P15|Core||module|||298
P16|Memory card|P15|card|yes||2
P17|Shield plate|P15|shield|||9
P18|Shield label|P17|label||renew|
P19|Main board|P15|board|yes||38
P20|Processor|P19|chip|||
P21|Memory chip|P19|chip|||
P22|Clock cell|P19|cell|||3
P23|Buzzer|P19|sounder|||2
P24|Card socket|P19|socket|||
P25|Thermal pad|P15|pad||renew|1
P26|Radio board|P15|board|||21
P27|Radio can|P26|shield|||
P28|Antenna|P15|antenna|||4
P29|Battery|P15|battery|yes|renew|74
P30|Battery tape|P29|tape||renew|1
P31|Battery tray|P15|frame|||11
P32|Port board|P15|board|yes||9
P33|Data port|P32|port|||4
P34|Port seal|P32|seal||renew|1
P36|Vent membrane|P15|membrane||renew|
P37|Liquid sticker|P15|label|||
P38|Sensor head||module|||100
P39|Sensor collar|P38|cover|||31
P40|Collar seal|P38|seal||renew|2
P41|Sensor board|P38|board|||12
P42|Pressure cell|P38|sensor|yes||17
P43|Cell seal|P38|seal||renew|1
P44|Temperature probe|P38|sensor|||6
P45|Second sensor|P38|sensor|||15
P46|Sensor flex|P38|flex|||2
P47|Head core|P38|frame|||11
P48|Base shell||cover|||124
P49|Strap lug|P48|trim|||8
P50|Lug pin|P48|pin|||1
P51|Type label|P48|label|||
P52|Lens cap||trim|||4
P53|Guard ring|P38|trim|||3
P54|Light pipe|P4|trim|||1
"""

# id, kind, what it holds, into, count, figures
JOINTS = """
J1|adhesive|P1|P48|4|length_mm=14,width_mm=14,reuse=inspect,name=Feet glue
J2|screw|P2|P48|2|drive=hexalobular-plus,size=IP5,thread=M2,length_mm=6,head=countersunk,head_mm=3.8,finish=black
J3|tape|P3|P2|1|length_mm=160,width_mm=3,reuse=renew,name=Hatch seal bead
J4|screw|P4|P48|8|drive=hex-socket,size=2.5,thread=M3,length_mm=12,head=cheese head,head_mm=5.5,finish=stainless,torque_ncm=60,name=Lid screws
J5|connector|P8,P19||1|latch=flip-lock,pins=40,name=Display ribbon
J6|connector|P11,P19||1|latch=flip-lock,pins=12,name=Key ribbon
J7|press fit|P5|P4|1|reuse=renew,name=Lid seal groove
J8|connector|P16,P19||1|latch=slide-in,name=Memory card slot
J9|screw|P17|P19|5|drive=cross,size=PH00,thread=M1.6,length_mm=2.5,head=wafer head,head_mm=3.2,finish=silver
J10|clip|P17|P19|3|name=Shield edge clips
J11|coax|P26,P19||2|name=Radio coax leads
J12|connector|P32,P19||1|latch=flip-lock,pins=24,name=Port ribbon
J13|connector|P26,P19||1|latch=board-to-board,pins=30,name=Radio plug
J14|connector|P46,P19||1|latch=flip-lock,pins=16,name=Sensor ribbon
J15|connector|P29,P19||1|latch=board-to-board,pins=6,name=Battery plug
J16|screw|P19|P15|9|drive=cross,size=PH00,thread=M1.6,length_mm=4,head=pan head,head_mm=2.8,finish=silver,torque_ncm=9,name=Board screws
J17|screw|P19|P15|1|drive=cross,size=PH00,thread=M1.6,length_mm=5,head=pan head,head_mm=2.8,finish=silver,torque_ncm=9,name=Long board screw,place=upper left
J18|screw|P26|P15|4|drive=hexalobular,size=T5,thread=M2,length_mm=5,head=pan head,head_mm=3.5,finish=black
J19|coax|P28,P26||1|name=Antenna lead
J20|adhesive|P29|P31|1|length_mm=52,width_mm=34,tab=no,name=Battery glue
J21|adhesive|P28|P15|1|length_mm=30,width_mm=8,tab=yes,name=Antenna tape
J22|screw|P31|P15|4|drive=hexalobular,size=T5,thread=M2,length_mm=4,head=pan head,head_mm=3.5,finish=black
J23|screw|P32|P15|3|drive=cross,size=PH0,thread=M2,length_mm=5,head=pan head,head_mm=3.5,finish=silver
J24|press fit|P34|P32|1|reuse=renew,name=Port seal lip
J25|screw|P15|P48|6|drive=hexalobular,size=T10,thread=M3,length_mm=8,head=pan head,head_mm=5.6,finish=zinc,name=Core screws
J26|screw|P39|P47|6|drive=hexalobular-plus,size=IP8,thread=M2.5,length_mm=8,head=countersunk,head_mm=4.7,finish=coated,reuse=renew,name=Collar screws
J27|press fit|P40|P47|1|reuse=renew,name=Collar seal groove
J28|screw|P41|P47|3|drive=hexalobular,size=T6,thread=M2,length_mm=4,head=pan head,head_mm=3.5,finish=silver
J29|connector|P45,P41||1|latch=wire plug,pins=6,name=Second sensor plug
J30|connector|P44,P41||1|latch=wire plug,pins=2,name=Probe plug
J31|connector|P42,P41||1|latch=board-to-board,pins=8,name=Pressure cell plug
J32|press fit|P42|P47|1|name=Pressure cell seat
J33|screw|P45|P47|2|drive=hexalobular,size=T6,thread=M2,length_mm=5,head=pan head,head_mm=3.5,finish=silver
J34|adhesive|P7|P6|1|length_mm=84,width_mm=4,name=Window glue
J35|screw|P9|P6|4|drive=cross,size=PH00,thread=M1.6,length_mm=3,head=pan head,head_mm=2.8,finish=black
J36|clip|P8|P9|4|name=Display clips
J37|adhesive|P11|P6|1|length_mm=54,width_mm=10,tab=yes,name=Key flex tape
J38|adhesive|P13|P6|1|length_mm=60,width_mm=8,name=Name plate glue
J39|screw|P38|P48|4|drive=hexalobular,size=T10,thread=M3,length_mm=10,head=pan head,head_mm=5.6,finish=zinc,name=Head screws
J40|magnet|P52|P39|2|name=Cap magnets
J41|press fit|P50|P48|1|name=Lug pin
J42|connector|P41,P46||1|latch=flip-lock,pins=16,name=Sensor board ribbon
J43|clip|P53|P39|3|name=Guard ring clips
J44|tape|P25|P19|1|length_mm=20,width_mm=20,reuse=renew,name=Thermal pad tack
"""

# verb, said, tool, face, fields, measured s
STEPS = """
prepare|Logger off, cap on, wrist strap tested||front||42
take out|The lens cap comes off, two magnets hold it||front|releases=J40;takes_out=P52|4
unscrew|Backed out eight 2.5 mm hex socket screws, twelve millimetres, around the lid|hex 2.5|front|releases=J4|96
fold|Folded the lid over to the left, the ribbons are short||front|opens=P4|9
take out|Pulled the memory card, that cuts the power||front|releases=J8;takes_out=P16;isolates_power=yes|7
disconnect|Opened the lid of the display ribbon and slid it out|lifter|front|releases=J5|14
disconnect|Key ribbon out, flip lock again|lifter|front|releases=J6|11
take out|Lid off||front|takes_out=P4|5
peel|Peeled the lid seal out of its groove, renew|pick|front|releases=J7;takes_out=P5|21
unscrew|Five PH00 off the shield plate, 2.5 mm|PH00|front|releases=J9|38
unclip|Three clips along the shield edge|lifter|front|releases=J10|12
take out|Shield plate away||front|takes_out=P17|5
disconnect|Both coax leads off the main board|lifter|front|releases=J11|15
disconnect|Port ribbon open|lifter|front|releases=J12|10
disconnect|Radio plug up|lifter|front|releases=J13|8
disconnect|Sensor ribbon out|lifter|front|releases=J14|12
disconnect|Battery plug up, reached from the side of the board|lifter|front|releases=J15;isolates_power=yes|19
unscrew|Nine PH00 out of the main board, four millimetres|PH00|front|releases=J16|83
unscrew|One more PH00 upper left, this one is longer, five millimetres|PH00|front|releases=J17|11
take out|Main board tipped up and out||front|takes_out=P19|18
peel|Thermal pad stays on the board, peeled it off|pick|front|releases=J44;takes_out=P25|9
disconnect|Antenna lead off the radio board|lifter|front|releases=J19|9
unscrew|Four T5 hold the radio board|T5|front|releases=J18|41
take out|Radio board out||front|takes_out=P26|8
soften|Isopropanol under the battery, wait a minute|dropper|front|softens=J20;wait_s=60|24
pry|Pried the battery out with a film, slowly|film|front|releases=J20;takes_out=P29|64
unscrew|Four T5 out of the battery tray|T5|front|releases=J22|31
take out|Battery tray out||front|takes_out=P31|6
peel|Antenna pulled by its tab||front|releases=J21;takes_out=P28|16
unscrew|Three PH0 hold the port board|PH0|front|releases=J23|22
take out|Port board out with its seal||front|takes_out=P32|9
peel|Port seal off, renew|pick|front|releases=J24;takes_out=P34|13
unscrew|Six T10 through the core|T10|front|releases=J25|40
take out|Core lifted out||front|takes_out=P15|11
unscrew|Four T10 inside the neck hold the sensor head, ten millimetres|T10|front|releases=J39|46
take out|Sensor head off||front|takes_out=P38|10
unclip|Guard ring off, three clips|pick|front|releases=J43;takes_out=P53|12
unscrew|Six IP8 around the collar, coated, single use|IP8|front|releases=J26|71
take out|Collar off||front|takes_out=P39|6
peel|Collar seal out, renew|pick|front|releases=J27;takes_out=P40|14
disconnect|Three plugs on the sensor board|lifter|front|releases=J29,J30,J31|26
disconnect|Sensor board ribbon open|lifter|front|releases=J42|9
unscrew|Three T6 and the sensor board is free|T6|front|releases=J28|27
take out|Sensor board out||front|takes_out=P41|5
take out|Pushed the pressure cell out of its seat|push tool|front|releases=J32;takes_out=P42|28
unscrew|Two T6, second sensor, twin version only|T6|front|releases=J33;takes_out=P45|24
take out|Temperature probe drawn out||front|takes_out=P44|7
peel|Key flex off by its tab||front|releases=J37;takes_out=P11|18
take out|Key mat out||front|takes_out=P12|4
unscrew|Four PH00 black, three millimetres, off the display frame|PH00|front|releases=J35|34
take out|Display frame out||front|takes_out=P9|5
unclip|Four clips and the display lifts out|lifter|front|releases=J36;takes_out=P8|23
peel|Foam behind the display is scrap|pick|front|takes_out=P10|8
soften|Warmed the window for three minutes|warm plate|front|softens=J34;wait_s=180|15
pry|Window pushed out from inside|film|front|releases=J34;takes_out=P7|52
peel|Name plate off with a film|film|front|releases=J38;takes_out=P13|20
peel|Four rubber feet with the spudger|lifter|back|releases=J1;takes_out=P1|34
unscrew|Two IP5 on the hatch, six millimetres|IP5|back|releases=J2|16
take out|Hatch off, the seal tears||back|takes_out=P2;releases=J3|12
disconnect|The battery plug can be reached through the hatch as well|lifter|back|releases=J15;isolates_power=yes|13
take out|Lug pin driven out|punch|back|releases=J41;takes_out=P50|15
take out|Strap lug off||back|takes_out=P49|3
"""

# over, under, state
FACTS = """
P4|J8|seen
P4|J9|seen
P4|J16|seen
P4|J14|seen
P4|J12|seen
P4|S17|seen
P4|J25|seen
P4|J39|seen
P4|J23|seen
P17|J16|seen
P17|J11|seen
P17|J13|seen
P17|J12|assumed
P19|J18|seen
P19|J19|seen
P19|J20|seen
P26|J20|seen
P29|J22|seen
P19|J23|ruled out
P26|J23|ruled out
P29|J23|ruled out
P31|J21|seen
P31|J23|ruled out
P32|J25|seen
P31|J25|seen
P1|J2|ruled out
P2|S60|seen
P39|J28|seen
P39|J29|seen
P39|J30|seen
P39|J31|seen
P39|J42|seen
P41|J32|seen
P41|J33|seen
P38|J26|ruled out
P52|J26|seen
P53|J26|seen
P4|P5|seen
P9|J36|seen
P8|P10|seen
P8|J34|seen
P11|P12|seen
P4|J37|seen
P4|J35|seen
P12|J35|ruled out
P10|J34|ruled out
P40|J29|ruled out
P15|J39|seen
P17|P16|ruled out
P16|J5|ruled out
P16|P5|ruled out
P5|J9|ruled out
P25|J19|ruled out
P25|J18|ruled out
P10|P7|seen
P9|P8|seen
P25|P29|assumed
"""
#: Pairs (over, under) about which nobody has said anything yet; all others the analyst has ruled out.
UNANSWERED = {("P28", "J23"), ("P40", "J31")}

FINDINGS = """
arrival|Lid scratched at one corner, all eight lid screws there|P4
arrival|Liquid sticker white: no water inside|P37
praise|One driver opens the lid, and the seal survives until it is lifted|P4
praise|Arrows on every ribbon show which way its lock turns|J5
praise|The memory card cuts the power in one move|P16
praise|The port board comes out without the main board|P32
complaint|Very strong battery glue and no tab|J20
complaint|One board screw is a millimetre longer and looks the same|J17
complaint|The display sits behind the window glue|P8
complaint|Collar screws are single use|J26
damage|The hatch seal tore on the first opening|P3
spec|11.8 Wh cell, charge limited to 80 percent by the charger|P29
spec|Pressure cell to 20 m|P42
mark|6.5 out of ten from the first analyst|
note|The long screw would reach the display ribbon in any other hole|J17
note|The second sensor is fitted in the twin version only|P45
note|The vent membrane must not be touched|P36
note|The clock keeps running on its own cell for two years|P22
caution|Cell edge lies under the film blade|P29
"""

# stage, step number it belongs to, caption, callouts: letter,x mm,y mm,thing,label
PHOTOS = """
1|3|Lid closed|A,-62,41,J4,8 hex 2.5;B,-8,8,P8,display;C,78,0,P39,collar;D,-8,-30,P13,name plate
2|10|Lid away, shield on|A,-28,28,J9,5 PH00;B,-46,-24,P16,card cuts power;C,-56,-2,J12,port ribbon;D,28,26,J5,display ribbon
3|18|Shield off|A,-12,34,J16,9 PH00;B,-61,34,J17,5 mm, longer;C,28,26,J5,display ribbon;D,30,-18,J14,sensor ribbon;E,4,-24,J15,battery plug;F,34,8,P23,buzzer
4|23|Main board out|A,-50,34,J18,4 T5;B,-26,22,P26,radio board;C,-14,-16,P29,battery;D,26,14,J19,antenna lead
5|27|Radio board out|A,-14,-16,J20,glue, no tab;B,-57,3,J23,3 PH0;C,78,0,P38,sensor head
6|57|Back, feet on|A,-54,32,P1,4 feet;B,-12,0,J2,2 IP5;C,12,-30,P51,type label
7|60|Hatch off|A,-8,8,J15,battery plug;B,12,0,P29,battery
8|50|Inside of the lid|A,-32,32,J35,4 PH00;B,8,8,P8,display;C,-52,6,P11,key flex
9|41|Sensor head open|A,0,38,J26,6 IP8;B,0,6,P42,pressure cell;C,24,-16,P44,probe;D,0,-28,J42,ribbon
10|62|Laid out|
11|23|Main board, back|A,-20,10,P22,clock cell
12|27|Radio board, back|
"""


def photo_bytes(stage: int) -> bytes:
    """A demo photo, JPEG."""
    return files(__package__).joinpath("photos", f"tide-logger-{stage:02d}.jpg").read_bytes()


STARTED = "2026-03-02T09:14:00"
#: in the discovery run somebody was called away during this step
CALLED_AWAY, AWAY_S = 34, 310.0


def _run(id: str, kind: str, started: str, laps: list[Lap], as_in: Callable[[int, float], float] | None = None) -> Run:
    """A run over all steps, each lap with the time it was logged at."""
    out, at = [], datetime.fromisoformat(started)
    for n, one in enumerate(laps, 1):
        seconds = as_in(n, one.seconds) if as_in else one.seconds
        at += timedelta(seconds=seconds)
        out.append(Lap(one.step, seconds, at.isoformat(timespec="seconds")))
    return Run(id, kind, started, tuple(out))


def _first_time(n: int, seconds: float) -> float:
    """What a step took when it was done for the first time: longer, by more or less."""
    return float(round(seconds * (1.32 + 0.3 * sin(1.7 * n)) + (AWAY_S if n == CALLED_AWAY else 0)))


def study() -> Study:
    """The demo study. Its pictures are those of :func:`pictures`."""
    things: list[object] = []
    parts = [
        Part(id, name, inside, kind, bool(priority), reuse, "twin sensor" if id == "P45" else "", number(mass))
        for id, name, inside, kind, priority, reuse, mass in sorted(rows(PARTS), key=lambda r: bool(r[2]))
    ]
    things += described(parts)
    things += plugged([_joint(row) for row in rows(JOINTS)])
    laps = []
    for n, row in enumerate(rows(STEPS), 1):
        step, seconds = _step(n, row)
        things.append(step)
        laps.append(Lap(step.id, seconds))
    things += [Fact(f"F{n}", over, under, state) for n, (over, under, state) in enumerate(rows(FACTS), 1)]
    things += [_run("R1", "discovery", "2026-03-01T09:02:00", laps, _first_time), _run("R2", "timed", STARTED, laps)]
    things += [Finding(f"N{n}", kind, text, about) for n, (kind, text, about) in enumerate(rows(FINDINGS), 1)]
    callouts = 0
    for n, (stage, step_number, caption, marks) in enumerate(rows(PHOTOS), 1):
        digest = hashlib.sha256(photo_bytes(int(stage))).hexdigest()
        things.append(Photo(f"H{n}", digest, f"S{step_number}", caption, 1200, 900))
        for mark in filter(None, marks.split(";")):
            letter, x, y, about, label = mark.split(",", 4)
            callouts += 1
            things.append(
                Callout(f"C{callouts}", f"H{n}", letter, (float(x) + 100) / 200, (75 - float(y)) / 150, about, label)
            )
    built = put_all(Study(device=DEVICE), [*things, *opening(), *maps()])  # type: ignore[list-item]
    stated = {(f.over, f.under) for f in built.facts.values()} | UNANSWERED
    asked = [pair for pair in record_of(built).unstated if pair not in stated]
    first = len(built.facts) + 1
    built = put_all(built, [Fact(f"F{n}", over, under, "ruled out") for n, (over, under) in enumerate(asked, first)])
    return evolve(built, parts={row[0]: built.parts[row[0]] for row in rows(PARTS)})


def pictures() -> list[bytes]:
    """The demo photos in order."""
    return [photo_bytes(int(row[0])) for row in rows(PHOTOS)]


def _fields(text: str, split: str) -> dict[str, str]:
    return dict(pair.split("=", 1) for pair in text.split(split) if pair)


def _joint(row: list[str]) -> Joint:
    id, kind, holds, into, count, figures = row
    values: dict[str, object] = dict(_fields(figures, ","))
    for key in ("length_mm", "width_mm", "head_mm", "torque_ncm"):
        if key in values:
            values[key] = float(str(values[key]))
    if "pins" in values:
        values["pins"] = int(str(values["pins"]))
    if "tab" in values:
        values["tab"] = values["tab"] == "yes"
    return Joint(id, kind, holds=tuple(holds.split(",")), into=into, count=int(count), **values)  # type: ignore[arg-type]


def _step(n: int, row: list[str]) -> tuple[Step, float]:
    verb, said, tool, face, extra, seconds = row
    values = _fields(extra, ";")
    return Step(
        f"S{n}",
        verb,
        said,
        tool=tool,
        face=face,
        releases=tuple(filter(None, values.get("releases", "").split(","))),
        takes_out=tuple(filter(None, values.get("takes_out", "").split(","))),
        opens=tuple(filter(None, values.get("opens", "").split(","))),
        softens=tuple(filter(None, values.get("softens", "").split(","))),
        wait_s=float(values.get("wait_s", 0)),
        isolates_power=values.get("isolates_power") == "yes",
        cautions=CAUTIONS.get(n, ()),
    ), float(seconds)


#: step number -> what to mind
CAUTIONS = {
    4: ("The lid depends on two ribbons: fold it, do not lift it away",),
    18: ("Nine of ten: the tenth, upper left, is a millimetre longer",),
    25: ("Solvent: no heat until it has dried off",),
    26: ("Never bend or pierce the cell; follow local codes and the maker's service notes",),
    54: ("Warm plate: keep the solvent away",),
}
