"""Evidence and ranking over the stored readings. It has no tables of its own."""
