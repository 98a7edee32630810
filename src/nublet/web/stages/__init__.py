"""The stages of a trial and how far each has come: what rail and lists show. It stands on all other rooms."""
