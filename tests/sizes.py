"""How much of what repeats itself is tried: all of it with ``NUBLET_FULL_PROMISES=1``, else what differs most."""

from __future__ import annotations

import os

FULL = os.environ.get("NUBLET_FULL_PROMISES") == "1"
