"""Sums of transformers: ratio and regulation, windings that nobody knows, other mains."""

from collections.abc import Iterator

from bench_lamp.sums.values import Sum, SumError, SumResult, SumValues, number, outcome, words
from bench_lamp.units import exact


def _transformer(given: SumValues) -> Iterator[SumResult]:
    yield outcome("turns ratio", given.primary / given.open, "to 1", figures=4)
    if "loaded" in given:
        if given.loaded >= given.open:
            raise SumError("A loaded winding sags", hint="Open volts are above loaded ones.")
        yield outcome("regulation", 100 * (given.open - given.loaded) / given.loaded, "%")
        if "amps" in given:
            yield outcome("its ohms", (given.open - given.loaded) / given.amps, "Ω")
    if "amps" in given:
        yield outcome("primary carries", given.amps * given.open / given.primary, "A")
    if "turns" in given:
        yield outcome("primary has", given.turns * given.primary / given.open, "turns")


def _unknown_winding(given: SumValues) -> Iterator[SumResult]:
    ratio = given.mains / given.fed
    yield outcome("at the mains this winding gives", given.read * ratio, "V", figures=4)
    yield outcome("what was fed is then", given.fed * ratio, "V", figures=4)
    yield words(
        "keep off",
        f"the fed winding as primary: the other has {exact(given.read * ratio, 'V', figures=3)}",
    )


def _mains(given: SumValues) -> Iterator[SumResult]:
    yield outcome(
        "a winding of it reads", given.winding * given.is_now / given.rated, "V", figures=4
    )
    flux = (given.is_now / given.hertz) / (given.rated / given.rated_hertz)
    yield outcome("the core’s flux", 100 * flux, "%")
    yield words(
        "so", "the core saturates: it hums and heats" if flux > 1.1 else "the core is content"
    )


_HERTZ = number("hertz", "mains", "Hz", usual="50")
SUMS = (
    Sum(
        id="transformer",
        title="Transformer: ratio, regulation, primary",
        words="winding turns",
        givens=(
            number("primary", "primary", "V~"),
            number("open", "secondary, open", "V~"),
            number("loaded", "loaded", "V~", is_optional=True),
            number("amps", "at", "A", is_optional=True),
            number("turns", "its turns", "turns", is_optional=True),
        ),
        formula="n = U₁/U₂, (U₀ − U)/U, I₁ = I₂/n",
        source="IEC 61558-1 for regulation",
        work=_transformer,
    ),
    Sum(
        id="windings",
        title="Which winding is which: feed one, read another",
        words="unknown transformer primary by secondary",
        givens=(
            number("fed", "fed with", "V~", usual="6"),
            number("read", "other reads", "V~"),
            number("mains", "mains", "V~", usual="230"),
        ),
        formula="U = Uread · Umains/Ufed",
        source="turns ratio",
        work=_unknown_winding,
        assumes="the fed winding is the mains one; feed it from an isolated low voltage",
    ),
    Sum(
        id="mains",
        title="Other mains, 60 and 50 Hz",
        words="voltage frequency flux",
        givens=(
            number("winding", "winding, as rated", "V~"),
            number("rated", "rated mains", "V~", usual="230"),
            number("rated_hertz", "rated", "Hz", usual="60"),
            number("is_now", "mains here", "V~"),
            _HERTZ,
        ),
        formula="U₂ ∝ U₁, Φ ∝ U/f",
        source="induction law",
        work=_mains,
    ),
)
