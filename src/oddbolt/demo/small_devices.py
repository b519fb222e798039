"""Three further invented devices of plainly different difficulty, and the tide logger by a second analyst: the demo shelf."""

from __future__ import annotations

from attrs import evolve

from oddbolt.core.study import Device, Fact, Joint, Lap, Part, Run, Step, Study, put_all, remove
from oddbolt.demo import tide_logger


def pump_gauge() -> Study:
    """An invented pressure gauge for a bicycle pump: screws under a label, a cell that slides out, a display on a pull tab."""
    return put_all(
        Study(device=Device("Pump gauge", "Velmar", "G2", mass_g=86.0, spares_to="public", spares_years=7.0, info_to="public free")),
        [
            Part("P1", "Back cover", kind="cover", mass_g=14.0),
            Part("P2", "Coin cell", kind="coin cell", priority=True, role="battery", mass_g=3.0, reuse="renew"),
            Part("P3", "Display", kind="display", priority=True, role="display", mass_g=9.0),
            Part("P4", "Gauge board", kind="main board", priority=True, role="main board", mass_g=11.0),
            Part("P5", "Pressure sensor", "P4", kind="pressure sensor", mass_g=2.0),
            Part("P6", "Cover seal", "P1", kind="O-ring", mass_g=1.0, reuse="renew"),
            Part("P8", "Name label", kind="name plate", mass_g=0.4),
            Part("P7", "Shell", kind="shell", mass_g=44.0),
            Joint("J1", "screw", holds=("P1",), into="P7", count=2, drive="cross", size="PH1", thread="M3", length_mm=8.0, head="pan head", name="Cover screws", place="under the name label"),
            Joint("J5", "adhesive", holds=("P8",), into="P1", count=1, name="Label glue", length_mm=20.0, width_mm=9.0, tab=True),
            Joint("J6", "adhesive", holds=("P3",), into="P7", count=1, name="Display tape", length_mm=28.0, width_mm=4.0, tab=True),
            Joint("J7", "press fit", holds=("P6",), into="P1", count=1, name="Seal groove", reuse="renew"),
            Joint("J2", "clip", holds=("P2",), into="P4", count=1, name="Cell clip", fastener="reusable"),
            Joint("J3", "screw", holds=("P4",), into="P7", count=2, drive="hexalobular", size="T6", thread="M2", length_mm=5.0, head="pan head", name="Board screws"),
            Joint("J4", "connector", holds=("P3", "P4"), count=1, latch="flip-lock", pins=12, name="Display ribbon"),
            Step("S1", "peel", "lifted the label", releases=("J5",), takes_out=("P8",), face="back"),
            Step("S2", "unscrew", "two cross screws under it", releases=("J1", "J7"), takes_out=("P1",), tool="PH1", face="back"),
            Step("S3", "unclip", "slid the cell out", releases=("J2",), takes_out=("P2",), face="back", isolates_power=True),
            Step("S4", "unscrew", "two T6 for the board", releases=("J3",), tool="T6", face="back"),
            Step("S5", "disconnect", "display ribbon open and out", releases=("J4",), face="back"),
            Step("S6", "take out", "board out", takes_out=("P4",), face="back"),
            Step("S7", "take out", "display by its tab", releases=("J6",), takes_out=("P3",), face="back"),
            Fact("F1", "P1", "J2"), Fact("F2", "P1", "J3"), Fact("F3", "P1", "J4"), Fact("F4", "P4", "J6"), Fact("F5", "P8", "J1"),
            _run(5.0, 21.0, 5.0, 20.0, 9.0, 4.0, 9.0),
        ],
    )  # fmt: skip


def reading_lamp() -> Study:
    """An invented reading lamp: screws under its feet, three drivers, a glued battery and diffuser."""
    return put_all(
        Study(device=Device("Reading lamp", "Ostwel", "L5", mass_g=640.0, info_to="professionals for a fee")),
        [
            Part("P1", "Feet", kind="foot", mass_g=4.0, reuse="renew"),
            Part("P2", "Base plate", kind="cover", mass_g=210.0),
            Part("P3", "Battery", kind="battery", priority=True, role="battery", mass_g=92.0),
            Part("P4", "Driver board", kind="driver board", priority=True, role="main board", mass_g=24.0),
            Part("P5", "Diffuser", kind="cover", mass_g=30.0),
            Part("P6", "Light panel", kind="backlight", priority=True, role="display", mass_g=40.0),
            Part("P7", "Head shell", kind="shell", mass_g=80.0),
            Part("P8", "Base shell", kind="shell", mass_g=150.0),
            Joint("J1", "adhesive", holds=("P1",), into="P2", count=4, name="Feet glue", length_mm=10.0, width_mm=10.0, reuse="renew"),
            Joint("J2", "screw", holds=("P2",), into="P8", count=4, drive="cross", size="PH2", thread="M4", length_mm=12.0, head="pan head", name="Base screws", place="under the feet"),
            Joint("J3", "adhesive", holds=("P3",), into="P8", count=1, name="Battery glue", length_mm=50.0, width_mm=10.0, tab=False, reuse="renew"),
            Joint("J4", "connector", holds=("P3", "P4"), count=1, latch="wire plug", pins=2, name="Battery plug"),
            Joint("J5", "screw", holds=("P4",), into="P8", count=3, drive="hexalobular", size="T8", thread="M2.5", length_mm=6.0, head="pan head", name="Board screws"),
            Joint("J6", "adhesive", holds=("P5",), into="P7", count=1, name="Diffuser glue", length_mm=120.0, width_mm=3.0, tab=False),
            Joint("J7", "screw", holds=("P6",), into="P7", count=2, drive="cross", size="PH1", thread="M3", length_mm=6.0, head="pan head", name="Panel screws"),
            Joint("J8", "connector", holds=("P6", "P4"), count=1, latch="wire plug", pins=4, name="Panel lead"),
            Step("S1", "peel", "peeled the feet", releases=("J1",), takes_out=("P1",), tool="pick", face="bottom"),
            Step("S2", "unscrew", "four PH2 under them", releases=("J2",), tool="PH2", face="bottom"),
            Step("S3", "take out", "base plate off", takes_out=("P2",), face="bottom"),
            Step("S4", "disconnect", "battery plug", releases=("J4",), face="bottom", isolates_power=True),
            Step("S5", "pry", "battery out of its glue", releases=("J3",), takes_out=("P3",), tool="pick", face="bottom"),
            Step("S6", "disconnect", "panel lead off", releases=("J8",), face="bottom"),
            Step("S7", "unscrew", "three T8 for the board", releases=("J5",), tool="T8", face="bottom"),
            Step("S8", "take out", "board out", takes_out=("P4",), face="bottom"),
            Step("S9", "soften", "warmed the diffuser", softens=("J6",), tool="dryer", face="front", wait_s=60.0),
            Step("S10", "pry", "diffuser off", releases=("J6",), takes_out=("P5",), tool="pick", face="front"),
            Step("S11", "unscrew", "two PH1", releases=("J7",), tool="PH1", face="front"),
            Step("S12", "take out", "light panel out", takes_out=("P6",), face="front"),
            Fact("F1", "P1", "J2"), Fact("F2", "P2", "J4"), Fact("F3", "P2", "J3"), Fact("F4", "P2", "J5"), Fact("F5", "P2", "J8"),
            Fact("F6", "P5", "J7"),
            _run(35.0, 46.0, 5.0, 8.0, 22.0, 8.0, 38.0, 6.0, 12.0, 55.0, 24.0, 6.0),
        ],
    )  # fmt: skip


def doorbell() -> Study:
    """An invented doorbell: glued shut, a glued cell on soldered wires, screws under a label."""
    return put_all(
        Study(device=Device("Doorbell", "Pandril", "D1", mass_g=148.0, contains="lithium cell", info_to="none", spares_to="none")),
        [
            Part("P1", "Face plate", kind="cover", mass_g=26.0),
            Part("P2", "Battery", kind="battery", priority=True, role="battery", mass_g=31.0),
            Part("P3", "Main board", kind="main board", priority=True, role="main board", mass_g=18.0),
            Part("P4", "Camera", kind="camera", priority=True, role="camera", mass_g=5.0),
            Part("P5", "Loudspeaker", kind="loudspeaker", priority=True, role="loudspeaker", mass_g=8.0),
            Part("P6", "Inner shell", kind="frame", mass_g=34.0),
            Part("P7", "Back label", kind="type label", mass_g=0.4),
            Joint("J1", "adhesive", holds=("P1",), into="P6", count=1, name="Face glue", length_mm=220.0, width_mm=4.0, tab=False, reuse="renew"),
            Joint("J2", "screw", holds=("P3",), into="P6", count=4, drive="three-wing", size="Y000", thread="M1.6", length_mm=4.0, head="pan head", name="Board screws"),
            Joint("J3", "screw", holds=("P6",), into="P1", count=2, drive="hexalobular", size="T5", thread="M2", length_mm=5.0, head="pan head", name="Hidden screws", place="under the back label"),
            Joint("J4", "adhesive", holds=("P2",), into="P6", count=1, name="Cell glue", length_mm=40.0, width_mm=28.0, tab=False, reuse="renew"),
            Joint("J5", "solder", holds=("P2", "P3"), count=2, name="Cell wires"),
            Joint("J6", "connector", holds=("P5", "P3"), count=1, latch="wire plug", pins=2, name="Loudspeaker plug"),
            Joint("J7", "connector", holds=("P4", "P3"), count=1, latch="flip-lock", pins=24, name="Camera ribbon"),
            Joint("J8", "adhesive", holds=("P7",), into="P6", count=1, name="Label glue", length_mm=30.0, width_mm=12.0),
            Joint("J9", "tape", holds=("P5",), into="P6", count=1, name="Loudspeaker tape", length_mm=40.0, width_mm=3.0),
            Step("S1", "peel", "peeled the label", releases=("J8",), takes_out=("P7",), tool="pick", face="back"),
            Step("S2", "unscrew", "two T5 under it", releases=("J3",), tool="T5", face="back"),
            Step("S3", "soften", "hot plate on the face", softens=("J1",), tool="warm plate", face="front", wait_s=300.0),
            Step("S4", "pry", "cut the face glue open", releases=("J1",), takes_out=("P1",), tool="blade", face="front"),
            Step("S5", "desolder", "cell wires off", releases=("J5",), tool="soldering iron", face="front", isolates_power=True),
            Step("S6", "disconnect", "camera ribbon", releases=("J7",), face="front"),
            Step("S7", "disconnect", "loudspeaker plug", releases=("J6",), face="front"),
            Step("S8", "unscrew", "four three-wing screws", releases=("J2",), tool="Y000", face="front"),
            Step("S9", "take out", "board out", takes_out=("P3",), face="front"),
            Step("S10", "take out", "camera out", takes_out=("P4",), face="front"),
            Step("S11", "soften", "warmed the cell glue", softens=("J4",), tool="warm plate", face="back", wait_s=180.0),
            Step("S12", "pry", "cell pried off", releases=("J4",), takes_out=("P2",), tool="pick", face="front", cautions=("Never bend or pierce the cell",)),
            Step("S13", "pry", "loudspeaker pried off", releases=("J9",), takes_out=("P5",), tool="pick", face="front"),
            Fact("F1", "P7", "J3"), Fact("F2", "P1", "J5"), Fact("F3", "P1", "J7"), Fact("F4", "P1", "J6"), Fact("F5", "P1", "J2"),
            Fact("F6", "P3", "J4"), Fact("F7", "P3", "P4"), Fact("F8", "P3", "J9"),
            _run(30.0, 20.0, 25.0, 190.0, 48.0, 12.0, 8.0, 52.0, 8.0, 6.0, 20.0, 95.0, 40.0),
        ],
    )  # fmt: skip


def second_analyst() -> Study:
    """The tide logger as somebody else recorded it: other names, two counts that differ, a part less, slower hands."""
    study = tide_logger.study()
    study = remove(study, "P54")
    parts = dict(study.parts)
    for id, name in {
        "P8": "Screen",
        "P29": "Battery pack",
        "P26": "Radio module",
        "P4": "Upper lid",
        "P42": "Depth sensor",
    }.items():
        parts[id] = evolve(parts[id], name=name)
    joints = dict(study.joints)
    joints["J16"] = evolve(joints["J16"], count=10)
    joints["J4"] = evolve(joints["J4"], length_mm=12.5)
    joints["J10"] = evolve(joints["J10"], kind="press fit")
    joints["J23"] = evolve(joints["J23"], drive="cross", size="PH00")
    laps = next(run for run in study.runs.values() if run.kind == "timed").laps
    run = Run("R1", "timed", "2026-04-11T13:02:00", tuple(Lap(lap.step, round(lap.seconds * 1.22, 1)) for lap in laps))
    return evolve(
        study, parts=parts, joints=joints, runs={"R1": run}, photos={}, callouts={}, board_maps={}, regions={}
    )


def _run(*seconds: float) -> Run:
    return Run("R1", "timed", "2026-04-02T10:00:00", tuple(Lap(f"S{n}", s) for n, s in enumerate(seconds, 1)))


#: file name -> the study on the demo shelf
SHELF = {
    "tide logger": tide_logger.study,
    "tide logger, second analyst": second_analyst,
    "pump gauge": pump_gauge,
    "reading lamp": reading_lamp,
    "doorbell": doorbell,
}
