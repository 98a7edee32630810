"""The shelf: products, woods, agents, and the build-ups with their versions."""
