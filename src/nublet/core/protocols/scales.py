"""The scales that eyes and fingers read on: each step with its words and the key that enters it, the best first."""

from __future__ import annotations

from collections.abc import Iterable

from nublet.core.protocols.response import Better, Response, ScaleStep, Weighing

GRADE = Response(
    id="grade",
    name="Grade",
    noun="grade",
    better="high",
    lowest=1,
    highest=5,
    step=1,
    decimals=2,
    passes_from=4,
    unmarked_from=4.75,
    ruined_to=1.25,
    worth_knowing=1,
    alone_by=2,
    weighed=("means", "ranks"),
    steps=(
        ScaleStep(value=5, key="5", words="No change", says="No visible change."),
        ScaleStep(
            value=4,
            key="4",
            words="Only when the light glances",
            says="Slight change, seen only when the light glances off the surface.",
        ),
        ScaleStep(
            value=3,
            key="3",
            words="Slight, several directions",
            says="Slight mark, seen from several directions.",
        ),
        ScaleStep(
            value=2, key="2", words="Strong, surface sound", says="Strong mark, surface otherwise sound."
        ),
        ScaleStep(
            value=1,
            key="1",
            words="Surface altered",
            says="Strong mark and the surface is altered: raised, soft, lifted, torn, or something stuck.",
        ),
    ),
)


# A quick bench school of words; each stands on the same axis, as it was entered.
GRADE_WORDS = (
    ScaleStep(value=5, key="4", words="Clean", says="No visible change."),
    ScaleStep(value=4, key="3", words="Faint", says="Seen only when the light glances off the surface."),
    ScaleStep(value=2.5, key="2", words="Marked", says="A mark that is seen at once; the surface is sound."),
    ScaleStep(
        value=1,
        key="1",
        words="Damaged",
        says="The surface is altered: raised, soft, lifted, torn, or something stuck.",
    ),
)


def _ordered(
    response_id: str,
    name: str,
    noun: str,
    steps: Iterable[tuple[float, str, str, str]],
    *,
    better: Better | None = "high",
    weighed: tuple[Weighing, ...] = ("ranks",),
    passes_from: float | None = None,
) -> Response:
    """A scale of whole steps, given as (value, key, words, definition) with the best first."""
    listed = tuple(
        ScaleStep(value=value, key=key, words=words, says=says) for value, key, words, says in steps
    )
    values = [step.value for step in listed]
    quarter = 0.25 if better != "low" else -0.25
    return Response(
        id=response_id,
        name=name,
        noun=noun,
        better=better,
        lowest=min(values),
        highest=max(values),
        step=1,
        decimals=2,
        passes_from=passes_from,
        unmarked_from=listed[0].value - quarter,
        ruined_to=listed[-1].value + quarter,
        worth_knowing=1 if "means" in weighed else None,
        alone_by=2 if len(values) > 3 else None,
        weighed=weighed,
        steps=listed,
    )


TOUCH = _ordered(
    "touch", "Touch", "touch",
    (
        (0, "0", "Smooth", "Nothing is felt."),
        (1, "1", "Just felt", "Felt when a fingertip goes over it slowly."),
        (2, "2", "Clearly felt", "Felt at once."),
        (3, "3", "Rough", "Fibres stand up, or it catches a cloth."),
    ),
    better="low", passes_from=1,
)  # fmt: skip
EVENNESS = _ordered(
    "evenness", "Evenness", "evenness",
    (
        (5, "5", "Even", "One sheen and one tone from edge to edge."),
        (4, "4", "Nearly even", "Slight patches, found when the light glances."),
        (3, "3", "Some patches", "Slight patches, seen from several directions."),
        (2, "2", "Patchy", "Clear patches or streaks."),
        (1, "1", "Very patchy", "Dry and wet-looking areas side by side."),
    ),
    weighed=("means", "ranks"), passes_from=4,
)  # fmt: skip
LOOKS = _ordered(
    "looks", "Looks", "looks",
    (
        (5, "5", "Very good", "As the best that one would hand over."),
        (4, "4", "Good", "One would hand it over."),
        (3, "3", "Fair", "One would go over it once more."),
        (2, "2", "Poor", "One would not hand it over."),
        (1, "1", "Bad", "One would strip it."),
    ),
    weighed=("means", "ranks"), passes_from=4,
)  # fmt: skip
SHEEN_SEEN = _ordered(
    "sheen-seen", "Sheen seen", "sheen",
    (
        (5, "5", "Mirror", "A lamp is seen in it with sharp edges."),
        (4, "4", "Glossy", "A lamp is seen in it with soft edges."),
        (3, "3", "Satin", "A lamp is a bright patch without edges."),
        (2, "2", "Dull", "A lamp is a wide pale glow."),
        (1, "1", "Dead flat", "No glow from any side."),
    ),
    better=None, weighed=("means", "ranks"),
)  # fmt: skip
WENT_ON = _ordered(
    "went-on", "How it went on", "ease",
    (
        (5, "5", "By itself", "Nothing to watch."),
        (4, "4", "Easy", "Little to watch."),
        (3, "3", "With care", "It wanted attention all the time."),
        (2, "2", "Hard", "It dragged, dried too soon or ran."),
        (1, "1", "A fight", "It could not be put on evenly."),
    ),
    weighed=("means", "ranks"), passes_from=4,
)  # fmt: skip
DRYING_STAGE = _ordered(
    "drying-stage", "Drying stage", "stage",
    (
        (4, "5", "Cured", "A fingernail leaves nothing and nothing smells."),
        (3, "4", "Hard", "A fingernail leaves no dent; a thumb does not mark it."),
        (2, "3", "Touch-dry", "A finger comes away clean; a fingernail dents it."),
        (1, "2", "Tacky", "It holds a finger; nothing comes off."),
        (0, "1", "Wet", "It comes off on a finger."),
    ),
    weighed=("time", "ranks"), passes_from=2,
)  # fmt: skip
SMELL = _ordered(
    "smell", "Smell", "smell",
    (
        (0, "0", "None", "Nothing, nose to the piece."),
        (1, "1", "Some", "Found nose to the piece."),
        (2, "2", "Strong", "Found at arm's length."),
    ),
    better="low", passes_from=1,
)  # fmt: skip
BEAD = _ordered(
    "bead", "Bead", "bead",
    (
        (3, "3", "Round", "It stands up and rolls."),
        (2, "2", "Flat", "It lies spread out with an edge."),
        (1, "1", "Soaked in", "No drop is left, the wood is dark."),
    ),
    passes_from=2,
)  # fmt: skip
REPAIR_SEEN = _ordered(
    "repair-seen", "Repair seen", "repair",
    (
        (4, "4", "Not found", "Nobody finds it who does not know where it was."),
        (3, "3", "Found glancing", "Found only when the light glances."),
        (2, "2", "Found square-on", "Found at once."),
        (1, "1", "Worse than before", "The mend is worse than the damage was."),
    ),
    passes_from=3,
)  # fmt: skip
PENCIL = _ordered(
    "pencil", "Pencil", "pencil",
    tuple(
        (value, key, words, f"The softest pencil that scratches is {words}.")
        for value, key, words in reversed(
            tuple(zip(range(1, 15), "abcdefghijklmn", ("6B", "5B", "4B", "3B", "2B", "B", "HB", "F", "H", "2H", "3H", "4H", "5H", "6H"), strict=True))
        )
    ),
)  # fmt: skip


def _kinds(response_id: str, name: str, noun: str, kinds: Iterable[tuple[str, str, str]]) -> Response:
    """Any of several: each kind stands for a power of two, and a value is the sum of those seen."""
    steps = tuple(
        ScaleStep(value=2**place, key=key, words=words, says=says)
        for place, (key, words, says) in enumerate(kinds)
    )
    return Response(
        id=response_id,
        name=name,
        noun=noun,
        lowest=0,
        highest=2 ** len(steps) - 1,
        decimals=0,
        form="kinds",
        weighed=("counted",),
        steps=steps,
    )


CHANGE_KINDS = _kinds(
    "change-kinds", "Kind of change", "kinds of change",
    (
        ("c", "Colour", "Darker, paler or stained."),
        ("g", "Gloss", "Duller or shinier."),
        ("b", "Blister", "Bubbles under the film."),
        ("s", "Swelling", "It stands higher than around it."),
        ("f", "Raised grain", "Fibres stand up."),
        ("o", "Softening", "A fingernail dents it."),
        ("r", "Ring", "The edge of what stood there."),
        ("e", "Residue", "Something stuck to it."),
    ),
)  # fmt: skip
APPLICATION_FAULTS = _kinds(
    "application-faults", "Faults of application", "faults",
    (
        ("s", "Streaks", ""),
        ("l", "Lap marks", ""),
        ("m", "Brush marks", ""),
        ("b", "Bubbles", ""),
        ("r", "Runs", ""),
        ("d", "Dust nibs", ""),
        ("o", "Blotches", ""),
        ("f", "Fibres raised", ""),
    ),
)  # fmt: skip


def _yes_or_no(response_id: str, name: str, noun: str, no: str, yes: str) -> Response:
    """Something that happened, which is worse, or did not."""
    return Response(
        id=response_id,
        name=name,
        noun=noun,
        better="low",
        lowest=0,
        highest=1,
        step=1,
        decimals=2,
        passes_from=0,
        weighed=("share",),
        steps=(
            ScaleStep(value=0, key="n", words="No", says=no),
            ScaleStep(value=1, key="y", words="Yes", says=yes),
        ),
    )


PEELS = _yes_or_no(
    "peels", "Peels", "peeling", "The film lies flat everywhere.", "Film has lifted somewhere."
)
CRACKS = _yes_or_no("cracks", "Cracks", "cracking", "No crack in the film.", "The film is cracked.")
MILDEW = _yes_or_no(
    "mildew", "Mildew", "mildew", "No dark specks that grow.", "Dark specks that grow or smear."
)
WEEPS_BACK = _yes_or_no(
    "weeps-back",
    "Weeps back",
    "weeping",
    "A paper pressed on it stays dry.",
    "Oil stands on the pores again.",
)
STICKS = _yes_or_no("sticks", "Sticks", "sticking", "It lifts away clean.", "What stood on it stuck.")

WANTS_COAT = _yes_or_no(
    "wants-coat", "Wants a new coat", "want of a coat", "It can stay as it is.", "It should be coated anew."
)
RUB_OFF = _ordered(
    "rub-off", "Rub-off", "rub-off",
    (
        (0, "0", "Clean cloth", "A white cloth stays white."),
        (1, "1", "Some", "The cloth shows a grey or coloured trace."),
        (2, "2", "Strong", "The cloth is black or coloured through."),
    ),
    better="low", passes_from=1,
)  # fmt: skip

PREFERRED = Response(
    id="preferred",
    name="Preferred",
    noun="choice",
    better="high",
    lowest=0,
    highest=1,
    decimals=1,
    form="pair",
    weighed=("paired",),
    steps=(
        ScaleStep(value=1, key="1", words="The left one", says="The left one of the two is preferred."),
        ScaleStep(value=0.5, key="2", words="Neither", says="No preference."),
        ScaleStep(value=0, key="3", words="The right one", says="The right one of the two is preferred."),
    ),
)

SCALES = (
    GRADE, CHANGE_KINDS, APPLICATION_FAULTS, WENT_ON, TOUCH, EVENNESS, LOOKS, SHEEN_SEEN, DRYING_STAGE, SMELL, BEAD, REPAIR_SEEN,
    PEELS, CRACKS, MILDEW, WEEPS_BACK, STICKS, WANTS_COAT, RUB_OFF, PREFERRED, PENCIL,
)  # fmt: skip
