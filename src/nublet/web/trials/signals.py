"""What other rooms do when a trial changes. A receiver that raises an error refuses the change, and nothing is written.

``trial_made`` (``trial``), ``trial_checked`` (``trial``, ``fields``: names of what was set; not saved yet),
``trial_saved`` (``trial``), ``sections_named`` (``trial``, ``follow``: turns what is kept by the sections' earlier names into what
is kept by those they have now),
``judges_chosen`` (``trial``, ``judges``; not set yet), ``design_dropped`` (``trial``). ``asks_whether_read`` (``trial``) is a
question: a receiver answers whether anything was read.
"""

from __future__ import annotations

from django.dispatch import Signal

trial_made = Signal()
trial_checked = Signal()
trial_saved = Signal()
sections_named = Signal()
judges_chosen = Signal()
design_dropped = Signal()
asks_whether_read = Signal()
