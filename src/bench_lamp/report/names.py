"""Names of a job's papers as files: two jobs never have the same."""

import hashlib

#: Bytes of the longest name without its ending.
LONGEST = 120


def name_of(job: str) -> str:
    """Return a job's name as a file can have it; two jobs never have the same.

    The slash becomes `_`; whatever else a file system or a shell could take amiss becomes `=` and
    its two digits: `QH-017/1` is `QH-017_1`, `QH_1` is `QH=5F1`.

    >>> name_of("QH-017/1"), name_of("QH-017-1"), name_of(".hidden")
    ('QH-017_1', 'QH-017-1', '=2Ehidden')
    """
    made = "".join(
        "_" if c == "/" else c if c.isalnum() or (c in ".-" and number) else _escaped(c)
        for number, c in enumerate(job)
    )
    if len(made.encode()) <= LONGEST:
        return made or "="
    digest = hashlib.sha256(job.encode("utf-8", "surrogatepass")).hexdigest()[:16]
    return f"{made.encode()[: LONGEST - 17].decode('utf-8', 'ignore')}={digest}"


def _escaped(character: str) -> str:
    return "".join(f"={byte:02X}" for byte in character.encode("utf-8", "surrogatepass"))
