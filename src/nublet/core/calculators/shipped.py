"""All calculators by id, in the order of the page."""

from nublet.core.calculators.declare import Calculator
from nublet.core.calculators.mixing import MIXING
from nublet.core.calculators.using import USING

CALCULATORS: dict[str, Calculator] = {calculator.id: calculator for calculator in (*MIXING, *USING)}
