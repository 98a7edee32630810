"""Trial design: blocks, lots, codes and where each spot stands."""
