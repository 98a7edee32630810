"""Trials: what is asked, of which woods, by which protocol, and who judges."""
