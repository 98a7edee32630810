"""The demo: an invented shop with simulated trials."""
