"""Whether those who read agree well enough to carry a conclusion."""

from __future__ import annotations

from nublet.core.evidence.checks import Check
from nublet.core.evidence.judges import ALPHA_LOWEST, JudgesResult
from nublet.core.protocols.responses import Response

# A judge who reads this share of a step above another shifts what he alone reads.
_LENIENT_STEPS = 0.5


def check_judges(judges: JudgesResult | None, response: Response) -> list[Check]:
    """Check that the judges agree with each other and with themselves; empty where there is nobody to compare.

    Parameters
    ----------
    judges : JudgesResult or None
    response : Response
    """
    if judges is None or (judges.alpha_ordinal is None and not judges.repeatability):
        return []
    says = []
    alpha = judges.alpha_ordinal
    is_weak = alpha is not None and alpha < ALPHA_LOWEST
    if is_weak:
        says.append(
            f"The judges agree too little (alpha {alpha:.2f}, wanted {ALPHA_LOWEST:g}): the scoring, not the finish, is the "
            "weak point. Practise on drawn marks together, then read again."
        )
    if response.step is not None:
        lenient = [
            each for each in judges.leniency if abs(each.mean_difference) > _LENIENT_STEPS * response.step
        ]
        for each in lenient:
            way = "above" if each.mean_difference > 0 else "below"
            says.append(f"{each.judge} reads {abs(each.mean_difference):.1f} {way} the others on average.")
        for own in judges.repeatability:
            if own.n >= 5 and own.sd > 0.7 * response.step:
                says.append(
                    f"{own.judge} did not read alike what came round again (SD {own.sd:.1f} of one reading, {own.n} places)."
                )
    if says:
        return [
            Check(
                check="judges",
                level="fail" if is_weak and alpha is not None and alpha < 0.4 else "warn",
                says=" ".join(says),
            )
        ]
    if alpha is None:
        return [Check(check="judges", level="pass", says="The judge read alike what came round again.")]
    return [Check(check="judges", level="pass", says=f"The judges agree (alpha {alpha:.2f}).")]
