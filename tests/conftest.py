import os
import sys
from pathlib import Path

from hypothesis import settings

sys.path.insert(0, str(Path(__file__).parent))
os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
settings.register_profile("oddbolt", deadline=None, max_examples=60)
settings.load_profile("oddbolt")
