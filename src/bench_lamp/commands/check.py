"""`bench-lamp check FILE`: the errors of a profile, one a line, each with file, line, field and mend."""

import sys
from collections.abc import Sequence
from pathlib import Path

from bench_lamp.board.library import SUFFIX, ProfileLibrary
from bench_lamp.board.load import ProfileError, load_profile


def check_profiles(paths: Sequence[Path]) -> int:
    """Check profile files; print what is wrong, and return 0 where nothing is, else 1."""
    errors = 0
    for path in paths:
        # A profile may extend one beside it, or one that ships.
        parents = ProfileLibrary(own=path.parent).paths()
        try:
            profile = load_profile(path, parents=parents)
        except ProfileError as exc:
            lines = [str(p) for p in exc.problems] or [f"{path.name}: {exc}"]
            errors += len(lines)
            print("\n".join(lines))
            continue
        wanted = f"{profile.id}{SUFFIX}"
        if path.name != wanted:
            errors += 1
            print(f"{path.name}: id: holds the id “{profile.id}”; name the file {wanted}")
            continue
        print(
            f"{path.name}: no errors; {profile.name}, {len(profile.test_points)} points",
            file=sys.stderr,
        )
    return 1 if errors else 0
