"""What the bench asks of the rooms above it.

``asks_what_was_seen`` (``trial``): receivers answer with the triples of (panel's code, exposure, look) at which something was read, and
when first.

``asks_which_values_were_read`` (``trial``, ``tests``, their ids): receivers answer with what was read of the tests, as (panel's code,
test, look, response).

``asks_which_were_read`` (``trials``, their numbers): receivers answer with the numbers of those at which anything was read.
"""

from __future__ import annotations

from django.dispatch import Signal

asks_what_was_seen = Signal()
asks_which_were_read = Signal()
asks_which_values_were_read = Signal()
