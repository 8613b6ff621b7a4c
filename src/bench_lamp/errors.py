"""The one tree of expected failures: `str()` says what, `hint` says the mend."""


class BenchLampError(Exception):
    """Base of everything that can go wrong without being a bug."""

    def __init__(self, message: str, *, hint: str = "") -> None:
        super().__init__(message)
        #: What the reader can do about it; may be empty.
        self.hint = hint

    def __reduce__(self) -> tuple[object, ...]:
        return _rebuild, (type(self), self.args, self.__dict__.copy())


def _rebuild(
    kind: type[BenchLampError], args: tuple[object, ...], data: dict[str, object]
) -> BenchLampError:
    error = kind.__new__(kind)
    error.args = args
    error.__dict__.update(data)
    return error
