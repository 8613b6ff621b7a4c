"""House rules: the schools that shops differ on, each with what speaks for and against it."""

from collections.abc import Mapping

from msgspec import Struct

from bench_lamp.case.case import Case


class Option(Struct, frozen=True, kw_only=True):
    """One school."""

    name: str
    pro: str
    con: str


class HouseRule(Struct, frozen=True, kw_only=True):
    """One question that shops answer differently; the first option is the default."""

    key: str
    question: str
    options: tuple[Option, ...]
    #: What the choice changes in the program.
    changes: str


RULES: tuple[HouseRule, ...] = (
    HouseRule(
        key="first",
        question="What comes first?",
        changes="the order in which the path goes on",
        options=(
            Option(
                name="look-over",
                pro="What you can see costs nothing to find.",
                con="It delays the reading that names the rail.",
            ),
            Option(
                name="rails",
                pro="One minute with the meter says where to look.",
                con="Power meets what the eye would have seen.",
            ),
        ),
    ),
    HouseRule(
        key="wake-up",
        question="How is a set powered up?",
        changes="the gates of Wake-up",
        options=(
            Option(
                name="in stages",
                pro="A bad supply or a locked-on coil destroys nothing.",
                con="Ten minutes more on a sound set.",
            ),
            Option(
                name="straight on",
                pro="Fast, and shows the fault as the customer saw it.",
                con="A short damages the parts beside it.",
            ),
        ),
    ),
    HouseRule(
        key="limiting",
        question="What limits the first current?",
        changes="what Wake-up expects of lamp and readings",
        options=(
            Option(
                name="series lamp",
                pro="Costs a lamp; a short lights it and nothing burns.",
                con="Readings are low while it glows.",
            ),
            Option(
                name="variable transformer",
                pro="Brings old capacitors up gently.",
                con="Regulators do nothing until it is nearly up.",
            ),
            Option(
                name="bench supply",
                pro="Volts and amps are both held, and one rail at a time.",
                con="What lies before the rail is not tried at all.",
            ),
            Option(
                name="nothing",
                pro="Readings are true from the first second.",
                con="The fuse is the only limit.",
            ),
        ),
    ),
    HouseRule(
        key="live boards",
        question="How many boards are live on one bench?",
        changes="whether switching one on makes the others not confirmed",
        options=(
            Option(
                name="one",
                pro="A hand that slips touches a board that is off.",
                con="Two boards cannot be compared live side by side.",
            ),
            Option(
                name="several",
                pro="A known-good board runs beside the faulty one.",
                con="Nobody remembers for certain which of five is on.",
            ),
        ),
    ),
    HouseRule(
        key="sweep",
        question="In which order are points read?",
        changes="the order of Rails, where points are placed on a picture",
        options=(
            Option(
                name="as they are listed",
                pro="Supply by supply, as the current flows.",
                con="The probe crosses the board again and again.",
            ),
            Option(
                name="the shortest way",
                pro="The meter's mode and the side stay; the probe goes from neighbour to neighbour.",
                con="A supply and what it feeds stand apart.",
            ),
        ),
    ),
    HouseRule(
        key="measure at",
        question="Where is a rail measured first?",
        changes="the order of the points on Rails",
        options=(
            Option(
                name="the supply",
                pro="Says at once whether the supply is to blame.",
                con="A lossy connector shows only later.",
            ),
            Option(
                name="the board",
                pro="What the chips get is what counts.",
                con="A low reading does not name the part.",
            ),
        ),
    ),
    HouseRule(
        key="in circuit",
        question="Are parts tested in circuit?",
        changes="what the diode checks ask for",
        options=(
            Option(
                name="in circuit",
                pro="No joint is disturbed for a part that is good.",
                con="What is beside the part is read with it.",
            ),
            Option(
                name="lift a leg",
                pro="The reading is the part's own.",
                con="Old tracks come off with the leg.",
            ),
        ),
    ),
    HouseRule(
        key="electrolytics",
        question="When are old electrolytics replaced?",
        changes="what the charging checks say",
        options=(
            Option(
                name="by test",
                pro="Only what is bad goes; the rest stays original.",
                con="A test in circuit proves none good.",
            ),
            Option(
                name="by age",
                pro="Catches those that fail next month.",
                con="Good old parts go with the bad ones.",
            ),
            Option(
                name="on sight",
                pro="The board does not return for a capacitor.",
                con="Work, cost, and joints disturbed for nothing.",
            ),
        ),
    ),
    HouseRule(
        key="sockets",
        question="Are chips socketed when they are changed?",
        changes="what Swap reminds you of",
        options=(
            Option(
                name="when it helps",
                pro="Fewer contacts to corrode.",
                con="A second change of the chip damages the tracks.",
            ),
            Option(
                name="always",
                pro="The next change is a minute.",
                con="A cheap socket is the next fault.",
            ),
        ),
    ),
    HouseRule(
        key="removal",
        question="How does a chip come out?",
        changes="what Swap reminds you of",
        options=(
            Option(
                name="cut out",
                pro="The board is worth more than the chip.",
                con="The chip cannot be tried again.",
            ),
            Option(
                name="desolder", pro="The chip may be good after all.", con="Heat lifts old pads."
            ),
        ),
    ),
    HouseRule(
        key="whole supply",
        question="May a modern supply replace a whole old one?",
        changes="what Swap offers at a transformer, rectifier or regulator",
        options=(
            Option(
                name="repair it",
                pro="The set stays as it was made, with every AC winding it needs.",
                con="Old transformers and hot regulators stay too.",
            ),
            Option(
                name="replace it",
                pro="Cool, light, and its parts can be bought.",
                con="Grounds, AC loads and noise become your own problem.",
            ),
        ),
    ),
    HouseRule(
        key="sense lines",
        question="What becomes of sense lines?",
        changes="what Wake-up says at an adjustable supply",
        options=(
            Option(
                name="kept",
                pro="The board gets its volts whatever the harness drops.",
                con="A corroded line drives the supply up.",
            ),
            Option(
                name="tied at the supply",
                pro="No corroded line can drive it up.",
                con="What the harness drops is missing at the board: set it a little high.",
            ),
        ),
    ),
)
BY_KEY: Mapping[str, HouseRule] = {r.key: r for r in RULES}


def rule(case: Case, key: str) -> str:
    """Return the shop's choice; its default where nothing, or nothing known, was chosen."""
    return chosen(case.rules, key)


def chosen(rules: Mapping[str, str], key: str) -> str:
    """Return the option of a rule that holds."""
    names = [o.name for o in BY_KEY[key].options]
    return rules[key] if rules.get(key) in names else names[0]
