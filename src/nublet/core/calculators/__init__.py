"""The calculators: the arithmetic that people do on scrap paper, each with its formula and source."""
