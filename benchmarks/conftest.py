"""Benchmarks share the tests' fixtures; each writes its figures with pytest-benchmark."""

from tests.conftest import job, library, live_job, make_job, meter, orrery, ruskel
from tests.desktop.conftest import no_forgotten_modal, open_bench, profile_cache

__all__ = [
    "job", "library", "live_job", "make_job", "meter", "no_forgotten_modal", "open_bench",
    "orrery", "profile_cache", "ruskel",
]  # fmt: skip
