"""Work that takes longer than a request may: asked for, queued, followed, stopped, fetched."""
