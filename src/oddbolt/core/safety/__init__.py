"""What to check before, and what to mind at each step: shown beside, never instead of, licensed practice."""

from oddbolt.core.safety.contents import contents
from oddbolt.core.safety.hazards import Caution, cautions, cautions_along
from oddbolt.core.safety.preflight import DEFER, CheckLine, finals, preflight

__all__ = ["DEFER", "Caution", "CheckLine", "cautions", "cautions_along", "contents", "finals", "preflight"]
