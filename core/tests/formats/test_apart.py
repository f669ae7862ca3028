"""What reads apart sends nothing but data, and errors with all that they say."""

import enum
import io
import os
import pickle

import numpy as np
import pytest

from spindle_core import errors
from spindle_core.errors import CoreError, LogFormatError
from spindle_core.figures.measured import Origin
from spindle_core.formats import apart
from spindle_core.formats.apart import JOBS, answer_from, answered, read_frame, write_frame
from spindle_core.formats.pack.errors import PackError
from spindle_core.formats.strict_json import JsonFaultError

from ..fuzzing.corpus import CORPUS


def sent(content):
    stream = io.BytesIO()
    write_frame(stream, content)
    stream.seek(0)
    return read_frame(stream)


def through(request):
    return answer_from(sent(answered(request)))


def test_a_log_comes_back_as_it_was_read():
    data = CORPUS[".parquet"][0]
    what, log = through(("read_log", ("x.parquet", data)))
    here = JOBS["read_log"]("x.parquet", data)
    assert what == "done"
    assert dict(log.header) == dict(here.header)
    assert np.array_equal(log.time_s, here.time_s)
    for name, values in here.channels.items():
        assert np.array_equal(log.channels[name], values, equal_nan=True)
    what, reduction = through(("reduce_log", (log,)))
    assert reduction == JOBS["reduce_log"](here)


def test_a_choice_comes_back_however_python_would_send_it(monkeypatch):
    """Debian 12's own Python sends it as a call of ``getattr``."""
    monkeypatch.setattr(
        enum.Enum, "__reduce_ex__", lambda self, protocol: (getattr, (type(self), self._name_))
    )
    for choice in (Origin.MEASURED, [Origin.MEASURED], {"a": (Origin.MEASURED, 1)}):
        with pytest.raises(pickle.UnpicklingError, match=r"builtins\.getattr is no data"):
            answer_from(pickle.dumps(("done", choice)))
        assert answer_from(sent(("done", choice))) == ("done", choice)


def test_a_strangers_table_comes_back_whole():
    _, text = through(("as_text_table", ("x.xlsx", CORPUS[".xlsx"][2])))
    what, sheet = through(("read_sheet", (text,)))
    assert what == "done"
    assert "Thrust (g)" in sheet.names


@pytest.mark.parametrize(
    "error",
    [
        CoreError("plain", code="c"),
        LogFormatError("bad", code="c", line=3, column="x", expected="y"),
        PackError("bad", code="c", where="a/b", expected="y"),
        JsonFaultError("bad", 4, 5),
        errors.QuantityError("range"),
    ],
)
def test_errors_say_elsewhere_what_they_said_here(error):
    what, back = answer_from(sent(("refused", error)))
    assert what == "refused"
    assert type(back) is type(error)
    assert back.__dict__ == error.__dict__
    assert str(back) == str(error)


def test_every_error_of_the_core_travels():
    kinds = [one for one in vars(errors).values() if isinstance(one, type)]
    for kind in [one for one in kinds if issubclass(one, CoreError)]:
        error = kind("said", code="c")
        assert answer_from(sent(("refused", error)))[1].message == "said"


class Calls:
    """Names a function to be called where it is taken apart."""

    def __init__(self, function, *arguments):
        self.what = (function, arguments)

    def __reduce__(self):
        return self.what


@pytest.mark.parametrize(
    "hostile",
    [
        Calls(os.system, "true"),
        Calls(eval, "1"),
        Calls(open, "/etc/passwd"),
        Calls(getattr, [], "append"),
        Calls(errors.rebuilt_error, dict, (), {}),
        Calls(apart.main),
        Calls(apart.read_log, "x.csv", b""),
        Calls(np.load, "x.npy"),
        Calls(pickle.loads, b""),
        ("done", Calls(os.getpid)),
    ],
)
def test_a_reader_that_a_file_took_over_can_call_nothing(hostile):
    with pytest.raises((pickle.UnpicklingError, TypeError)):
        answer_from(sent(hostile))


@pytest.mark.parametrize("answer", [None, [], ("done",), (1, 2), ("done", 1, 2)])
def test_what_is_no_answer_is_not_taken_for_one(answer):
    with pytest.raises(pickle.UnpicklingError, match="no answer"):
        answer_from(sent(answer))


def test_a_frame_that_was_cut_short_is_the_end():
    whole = io.BytesIO()
    write_frame(whole, ("done", 1))
    for length in range(len(whole.getvalue())):
        assert read_frame(io.BytesIO(whole.getvalue()[:length])) is None


def test_what_stumbles_sends_its_trace():
    what, trace = through(("read_log", (None, None)))
    assert what == "stumbled"
    assert "Traceback" in trace
    assert through(("unknown", ()))[0] == "stumbled"


def test_memory_that_ran_out_is_no_fault_of_the_reader(monkeypatch):
    def greedy():
        raise MemoryError

    monkeypatch.setattr(apart, "JOBS", {"greedy": greedy})
    assert through(("greedy", ())) == ("stumbled", "MemoryError")
