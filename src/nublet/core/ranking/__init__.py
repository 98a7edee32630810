"""From evidence to a verdict for a use."""
