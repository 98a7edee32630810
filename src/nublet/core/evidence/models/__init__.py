"""Models that make a fit, one file each."""
