"""Board: what a kind of board is, and how its profile is loaded and checked.

For: the profile's frozen models, YAML loading with line numbers, `extends`, the
feed order of the power tree, the library of shipped and own profiles.
May import: `units`, pydantic and ruamel.yaml (only when a file is read).
Must not import: any other room.
"""

from bench_lamp.board.blocks import Block
from bench_lamp.board.feeds import FeedTree
from bench_lamp.board.library import ProfileLibrary
from bench_lamp.board.load import ProfileError, load_profile
from bench_lamp.board.profile import Ground, MainsOption, Part, Profile, TestPoint

__all__ = [
    "Block",
    "FeedTree",
    "Ground",
    "MainsOption",
    "Part",
    "Profile",
    "ProfileError",
    "ProfileLibrary",
    "TestPoint",
    "load_profile",
]
