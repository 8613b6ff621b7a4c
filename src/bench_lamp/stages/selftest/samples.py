"""Where files come from: a typed path, or a sample that ships."""

import os.path
from importlib import resources
from pathlib import Path

#: Between the two files of a pair, as typed.
JOINED = " + "


def samples_folder() -> Path:
    """Return the folder of the sample files that ship: read-outs and a capture of the demo's boards."""
    return Path(str(resources.files("bench_lamp"))) / "resources" / "samples"


def found_files(text: str) -> list[Path]:
    """Return the files that typed names mean, ` + ` between two; a file may have that in its name."""
    whole = found_file(text)
    is_one = os.path.exists(whole)
    return [whole] if is_one else [found_file(name) for name in text.split(JOINED)]


def found_file(text: str) -> Path:
    """Return the file that a typed name means; a bare name may be one of the samples.

    Whatever is typed is a path: the functions of `os.path` take names that `Path` stumbles over,
    too long or of an unknown user.
    """
    path = Path(os.path.expanduser(text.replace("\0", "").strip()))
    sample = samples_folder() / path.name
    is_sample = path.name == str(path) and os.path.isfile(sample)
    return sample if is_sample and not os.path.exists(path) else path
