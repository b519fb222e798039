"""A whole teardown of thirty mixed sentences spoken through the say line of a real window, by keys alone: three spoken
corrections, two doubts settled. Run by test_real_window.py under a virtual screen."""

import sys
from pathlib import Path

from journey import Control, Key, press, to_front, type_into, until
from PySide6.QtWidgets import QApplication

from oddbolt.core.narration.doubts import unsure_steps
from oddbolt.core.study import Study
from oddbolt.desk.shell.window import open_window
from oddbolt.desk.state.settings import Settings
from oddbolt.files.store import Store

SPOKEN = """unplugged
Turn the unit over onto its back.
backed out four IP5 under the feet, two are longer
undo tree PH00 screws on the fan
lift the fan out
four T8 x12 rear cover
sorry, those were T10
rear cover off
So now you want to go ahead and disconnect the battery.
Careful, there's a ribbon underneath.
flip the little black tab up and slide the display ribbon out
There are three more screws holding the main board, PH0.
All three out.
no, four of them
And then the board just lifts right out.
the speaker is glued, so heat gun, 80 degrees for a minute
then pry it off with a card
snip the cable tie
motor lead off, fan lead off
loosen the grub screw of the gear
gear off
this chip marked MV2207 is the motor driver
the motor weighs 212 grams
To replace the lens you would have to take off the bezel first.
What a lovely design.
okay, back together now
gear back on
board in, four PH0
make it 12 N·cm
rear cover on with its four screws"""

#: verb, kind of joint, count, drive or size, length mm, holds, takes out, puts in, phase: written by hand
RECORD = """
prepare||||||||apart
turn||||||||apart
unscrew|screw|4|IP5|||||apart
unscrew|screw|3|PH00||Fan|||apart
take out||||||Fan||apart
unscrew|screw|4|T10|12|Rear cover|||apart
take out||||||Rear cover||apart
disconnect|connector|1|||Battery|||apart
disconnect|connector|1|||Display ribbon|||apart
unscrew|screw|4|PH0||Main board|||apart
take out||||||Main board||apart
soften|adhesive|1|||Speaker|||apart
pry|adhesive|1|||Speaker|Speaker||apart
cut|other|1|||Cable tie|||apart
disconnect|connector|1|||Motor lead|||apart
disconnect|connector|1|||Fan lead|||apart
loosen|screw|1|||Gear|||apart
take out||||||Gear||apart
place|||||||Gear|back
place|||||||Main board|back
fasten|screw|4|PH0||Main board|||back
place|||||||Rear cover|back
fasten|screw|4|T10|12|Rear cover|||back
"""


def as_rows(study):
    """The steps of a study in the form of RECORD."""
    for step in study.steps.values():
        joint = study.joints[(*step.releases, *step.softens)[0]] if step.releases or step.softens else None
        names = lambda ids: ", ".join(study.parts[p].name for p in ids)  # noqa: E731
        figures = ("", "", "", "", "")
        if joint is not None:
            length = f"{joint.length_mm:g}" if joint.length_mm else ""
            figures = (joint.kind, str(joint.count or ""), joint.size, length, names(joint.holds))
        yield "|".join((step.verb, *figures, names(step.takes_out), names(step.puts_in), step.phase))


def sit(folder, path):
    Store.create(path, Study()).close()
    window = open_window(Settings(folder), path)
    to_front(window)
    say = window.take_apart.say
    until(lambda: say.vocabulary.tagger is not None)
    window.show_stage(window.take_apart)
    for sentence in SPOKEN.splitlines():
        type_into(say.edit, sentence)
        understood = not say.reading.empty or say.reading.aside or "announced" in say.otherwise()
        assert understood or sentence[:2] in ("ok", "To"), sentence
        press(say.edit, Key.Key_Return)
        if say.edit.toPlainText():  # no step, caution or finding: nothing to log
            press(say.edit, Key.Key_Escape)
    study = window.session.study
    wanted = RECORD.strip().split("\n")
    got = list(as_rows(study))
    assert got == wanted, "\n".join(f"{g}    {w}" for g, w in zip(got, wanted, strict=False) if g != w) or len(got)
    assert next(p.mass_g for p in study.parts.values() if p.name == "Motor") == 212
    assert [j.torque_ncm for j in study.joints.values() if j.size == "PH0"] == [12]
    assert any("MV2207" in p.markings for p in study.parts.values())
    assert sum("ribbon" in c for s in study.steps.values() for c in s.cautions) == 1
    doubts = unsure_steps(study)
    assert len(doubts) >= 2, doubts
    press(window, Key.Key_U, Control)
    press(window, Key.Key_I, Control)
    press(window, Key.Key_I, Control)
    assert unsure_steps(window.session.study) == doubts[2:]
    press(window, Key.Key_Z, Control)
    assert unsure_steps(window.session.study) == doubts[1:]
    window.close()
    QApplication.processEvents()


if __name__ == "__main__":
    app = QApplication(sys.argv)
    sit(Path(sys.argv[1]), Path(sys.argv[2]))
    print("spoken and recorded")
