"""The colours of both themes, by token. Contrast is computed in the tests."""

from typing import Literal

ThemeName = Literal["lamp", "daylight"]

_PAPER = {"ink": "#231D15", "ink dim": "#6A5E4C", "rule": "#DDD0B2"}

THEMES: dict[ThemeName, dict[str, str]] = {
    "lamp": {
        "bench": "#1F1C19",
        "raised": "#292521",
        "groove": "#3D372F",
        "press": "#332D25",
        "text": "#EDE6D8",
        "dim": "#B5AB9A",
        "faint": "#857B6C",
        "paper": "#FBF3DE",
        **_PAPER,
        "caution": "#FBE1C3",
        "caution ink": "#7A2A05",
        "field": "#FFFCF2",
        "field edge": "#B4872E",
        "lamp": "#FFC65A",
        "lamp ink": "#231D15",
        "within": "#5CC2AE",
        "edge": "#E3D27A",
        "low": "#7FB4F0",
        "high": "#FF8A5C",
        "absent": "#F07BA8",
        "noisy": "#B79BF0",
        "live": "#FF6B4A",
        "live ink": "#1F1C19",
    },
    "daylight": {
        "bench": "#EFE9DC",
        "raised": "#E4DCCB",
        "groove": "#CBBFA8",
        "press": "#D9CFBA",
        "text": "#221D16",
        "dim": "#5A5042",
        "faint": "#857A68",
        "paper": "#FFFDF6",
        **_PAPER,
        "caution": "#FBE1C3",
        "caution ink": "#7A2A05",
        "field": "#FFFFFF",
        "field edge": "#A86A00",
        "lamp": "#A06400",
        "lamp ink": "#FFFDF6",
        "within": "#0E7463",
        "edge": "#7C6200",
        "low": "#1F5FA8",
        "high": "#B3400F",
        "absent": "#A8235F",
        "noisy": "#6440B0",
        "live": "#C8321A",
        "live ink": "#FFFDF6",
    },
}

#: On the lit card, verdicts need darker inks than on the bench, in both themes.
ON_PAPER = {
    "within": "#0A5448",
    "edge": "#5E4A00",
    "low": "#17477E",
    "high": "#7C2A07",
    "absent": "#861749",
    "noisy": "#4C2F8C",
}
