import os
import sys
from pathlib import Path

from hypothesis import settings

sys.path.insert(0, str(Path(__file__).parent))
os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
# the same examples at every run of continuous integration, new ones at every run by hand
settings.register_profile("oddbolt", deadline=None, max_examples=60, derandomize=bool(os.environ.get("CI")))
settings.load_profile("oddbolt")
