"""What ships: tests to pick from, and protocols that a trial's own may be copied from. Changing one changes no trial."""

from __future__ import annotations

from nublet.core.protocols.shipped.heat import HEAT
from nublet.core.protocols.shipped.looking import DRYING, LOOKING, OUTDOORS
from nublet.core.protocols.shipped.protocols import READY, REAPPLICATION
from nublet.core.protocols.shipped.stains import STAINS
from nublet.core.protocols.shipped.water import WATER
from nublet.core.protocols.shipped.wear import WEAR
from nublet.core.protocols.tests import Protocol, Test

PROTOCOLS: dict[str, Protocol] = {protocol.id: protocol for protocol in READY}
TESTS: dict[str, Test] = {
    test.id: test for test in (*WATER, *HEAT, *STAINS, *WEAR, REAPPLICATION, *DRYING, *LOOKING, *OUTDOORS)
}
