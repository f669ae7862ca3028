"""The errors of the core: one small tree, each with a stable code and its context."""

from __future__ import annotations

from typing import Any


class CoreError(ValueError):
    """Input the core cannot work with.

    ``code`` is stable and meant for programs; the message is a sentence for a person.
    """

    code = "core_error"

    def __init__(self, message: str, *, code: str | None = None) -> None:
        super().__init__(message)
        self.message = message
        if code is not None:
            self.code = code

    def __reduce__(self) -> tuple[Any, ...]:
        """Errors go from process to process with all that they say."""
        return rebuilt_error, (type(self), self.args, self.__dict__)


def rebuilt_error(kind: type[CoreError], arguments: tuple[Any, ...], said: dict[str, Any]) -> Any:
    """An error as another process raised it.

    :raises TypeError: ``kind`` is no error of the core.
    """
    if not (isinstance(kind, type) and issubclass(kind, CoreError)):
        raise TypeError("This is no error of the core.")
    error = kind.__new__(kind)
    error.args = tuple(arguments)
    error.__dict__.update(said)
    return error


class SizeCodeError(CoreError):
    """A size code that cannot be read."""

    code = "size_code"


class QuantityError(CoreError):
    """A number outside the range in which a formula or a record makes sense."""

    code = "quantity_range"


class ReductionError(CoreError):
    """A trace that cannot be reduced to figures of its kind."""

    code = "reduction"


class IdentificationError(CoreError):
    """Runs from which no motor or propeller can be identified."""

    code = "identification"


class ReadingError(CoreError):
    """A curve that cannot be built or read."""

    code = "reading"


class VocabularyError(CoreError):
    """An observation that the teardown vocabulary does not allow."""

    code = "vocabulary"


class MappingError(CoreError):
    """A mapping of columns that contradicts itself or its file."""

    code = "mapping"


class LogFormatError(CoreError):
    """A bench log that cannot be read: says where and what was expected.

    ``line`` counts from 1 over the whole file; ``column`` is the name of the column, the
    key of a preamble line, or the number of the character.
    """

    code = "log_format"

    def __init__(
        self,
        message: str,
        *,
        code: str,
        line: int | None = None,
        column: str | None = None,
        expected: str = "",
    ) -> None:
        super().__init__(message, code=code)
        self.line = line
        self.column = column
        self.expected = expected

    def describe(self, file_name: str) -> str:
        """One line that names file, line, column, what is wrong and what was expected."""
        where = file_name
        if self.line is not None:
            where += f", line {self.line}"
        if self.column is not None:
            where += f", column {self.column}"
        text = f"{where}: {self.message}"
        return f"{text}; expected {self.expected}" if self.expected else text
