"""Evidence and ranking over the stored readings; what was worked out is kept until its data changes."""
