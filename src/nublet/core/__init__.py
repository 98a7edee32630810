"""The job itself: rules and computation, free of interface, files, clock and network."""
