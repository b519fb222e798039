"""The exceptions of Odd Bolt. Each carries one sentence meant for the user."""


class OddBoltError(Exception):
    """Base of all errors whose text may be shown to the user as it stands."""


class StudyError(OddBoltError):
    """An edit would leave the study inconsistent, or a figure is outside its range."""


class ReachError(OddBoltError):
    """A part cannot be reached from what is recorded, or recorded facts contradict each other."""


class BenchError(OddBoltError):
    """A bench sum, a warm-up or an edge plan cannot be computed from these figures."""


class NarrationError(OddBoltError):
    """Captions or a word list cannot be read."""


class FileError(OddBoltError):
    """A file cannot be read or written."""


class WriteError(FileError):
    """The disk did not take it now: full, gone, or out of order. It may later."""


class VisionError(OddBoltError):
    """A photo does not show what is needed to measure on it."""
