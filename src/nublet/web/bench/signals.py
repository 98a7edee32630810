"""What the bench asks of the rooms above it.

``asks_what_was_seen`` (``trial``): receivers answer with the triples of (panel's code, exposure, look) at which something was read.
"""

from __future__ import annotations

from django.dispatch import Signal

asks_what_was_seen = Signal()
