"""What happened at the bench: keys of work, what entries amount to, windows, judgement, and what is left.

It stands on :mod:`nublet.core.planning`, which says what is to be done and knows nothing of what was.
"""
