"""Build-ups of a trial: its candidates, its benchmarks and its bare controls."""
