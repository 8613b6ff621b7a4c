"""What was done to a part to see whether it changes anything: moved, cooled, heated; in words."""

#: What is logged: nothing changes, or it does.
SAME, CHANGES = 0.0, 1.0
#: What was done, by mode of the reading.
DONE = {"wiggle": "moved", "cool": "cooled", "heat": "heated"}
#: As one says it to somebody who does it; with what, and what to mind.
DO = {"wiggle": "move", "cool": "cool", "heat": "heat"}
WITH = {
    "wiggle": ("a dry stick on the plug; watch the reading behind it", ""),
    "cool": (
        "freezing spray in short bursts, on this part alone; watch the reading behind it",
        "Spray burns skin and eyes, and may catch fire: no flame, no sparks, air the room.",
    ),
    "heat": (
        "hot air from a hand’s breadth, half a minute, on this part alone; watch the reading",
        "Hot metal afterwards. Electrolytics burst above what is printed on them.",
    ),
}


def said(mode: str, value: float) -> str:
    """Say what came of it.

    >>> said("wiggle", CHANGES), said("cool", SAME)
    ('moved, it changes', 'cooled, nothing changes')
    """
    return f"{DONE[mode]}, {'it changes' if value else 'nothing changes'}"
