"""Where files come from: a typed path, or a sample that ships."""

from importlib import resources
from pathlib import Path


def samples_folder() -> Path:
    """Return the folder of the sample files that ship: read-outs and a capture of the demo's boards."""
    return Path(str(resources.files("bench_lamp"))) / "resources" / "samples"


def found_file(text: str) -> Path:
    """Return the file that a typed name means; a bare name may be one of the samples."""
    path = Path(text.strip()).expanduser()
    sample = samples_folder() / path.name
    return sample if not path.exists() and path.name == str(path) and sample.is_file() else path
