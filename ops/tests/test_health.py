"""Processes that do not answer: told, restarted where that is safe, never judged too early."""

import http.server
import json
import os
import signal
import socket
import subprocess
import sys
import threading
import time

import pytest

from spindle_bench.matrix.house import HUNG_S
from spindle_ops.health import (
    ASKED_IN_VAIN,
    PATIENCE,
    STARTS_WITHIN_S,
    WITH_A_STAND,
    Act,
    Prober,
    Watch,
    line_answers,
    web_answers,
    write_troubles,
)
from spindle_ops.leftovers import end_leftovers, record, started_at


def judged(watch, at):
    """What comes of a silence in which it was asked often."""
    watch.in_vain += ASKED_IN_VAIN
    return watch.judge(at)


def acts(watch, times):
    return [judged(watch, at) for at in times]


def test_silence_is_told_once_then_acted_on_once():
    watch = Watch("web process")
    watch.begin(0.0)
    watch.heard(1.0)
    assert acts(watch, [2.0, 3.9]) == [Act.NOTHING] * 2
    assert acts(watch, [4.1, 5.0, 10.9]) == [Act.TELL, Act.NOTHING, Act.NOTHING]
    assert acts(watch, [11.1, 12.0]) == [Act.RESTART, Act.NOTHING]
    assert "11 s" in watch.sentence(12.0)
    assert "STOP works" in watch.sentence(12.0)


def test_one_that_answers_again_is_told_and_watched_anew():
    watch = Watch("stop door")
    watch.begin(0.0)
    watch.heard(0.5)
    assert judged(watch, 2.5) is Act.TELL
    watch.heard(2.9)
    assert acts(watch, [3.0, 3.1]) == [Act.WELL_AGAIN, Act.NOTHING]
    assert judged(watch, 5.0) is Act.TELL


@pytest.mark.parametrize("name", list(PATIENCE))
def test_where_nobody_was_asked_nobody_was_silent(name):
    """The machine stood still for a minute, or the launcher did: nothing is started again."""
    watch = Watch(name)
    watch.begin(0.0)
    watch.heard(1.0)
    assert watch.judge(61.0) is Act.NOTHING
    # One question was on its way when everything stood still.
    watch.not_heard()
    assert watch.judge(61.5) is Act.NOTHING
    watch.heard(62.0)
    assert watch.judge(62.1) is Act.NOTHING
    assert (watch.told, watch.acted) == (False, False)


def test_who_was_asked_again_and_again_was():
    watch = Watch("stop door")
    watch.begin(0.0)
    watch.heard(1.0)
    watch.not_heard()
    watch.not_heard()
    assert watch.judge(4.5) is Act.RESTART


def test_a_slow_start_is_no_silence():
    watch = Watch("database")
    watch.begin(0.0)
    assert acts(watch, [10.0, STARTS_WITHIN_S]) == [Act.NOTHING] * 2
    assert judged(watch, STARTS_WITHIN_S + 4.0) is Act.TELL


def test_a_restarted_one_is_judged_only_after_it_has_answered():
    watch = Watch("bench agent")
    watch.begin(0.0)
    watch.heard(0.1)
    acts(watch, [2.0, 6.0])
    watch.begin(6.5)
    assert acts(watch, [12.0, 20.0]) == [Act.NOTHING] * 2


def test_the_table_of_failures_reckons_with_the_launchers_patience():
    """The virtual launcher restarts no earlier than the real one, whose probes take a second."""
    names = {
        "agent": "bench agent",
        "door": "stop door",
        "web": "web process",
        "database": "database",
    }
    patience = {short: PATIENCE[name] for short, name in names.items()} | {"stand": WITH_A_STAND}
    for short, waited in patience.items():
        assert 0.0 <= HUNG_S[short] - waited.restart_s <= 1.0
        assert waited.tell_s < waited.restart_s


class Silent:
    """A server that accepts and says nothing, as a frozen process does."""

    def __init__(self, family, address):
        self.socket = socket.socket(family)
        self.socket.bind(address)
        self.socket.listen(8)


def test_probes_tell_an_answer_from_a_connection_that_is_merely_accepted(tmp_path, monkeypatch):
    monkeypatch.setattr("spindle_ops.health.ANSWER_WITHIN_S", 0.2)
    silent = Silent(socket.AF_INET, ("127.0.0.1", 0))
    port = silent.socket.getsockname()[1]
    assert not line_answers(("127.0.0.1", port), {"type": "hello"})()
    assert not web_answers(port)()
    hidden = Silent(socket.AF_UNIX, str(tmp_path / "s"))
    assert not line_answers(tmp_path / "s", None)()
    assert not line_answers(tmp_path / "none", None)()
    for server in (silent, hidden):
        server.socket.close()

    class Handler(http.server.BaseHTTPRequestHandler):
        def do_GET(self):
            self.send_response(200 if self.path == "/health" else 500)
            self.end_headers()

        def log_message(self, *ignored):
            pass

    with http.server.ThreadingHTTPServer(("127.0.0.1", 0), Handler) as web:
        threading.Thread(target=web.serve_forever, daemon=True).start()
        assert web_answers(web.server_port)()
        assert not web_answers(web.server_port, "/else")()
        web.shutdown()


def test_a_silent_process_delays_no_other_probe():
    answered = threading.Event()

    def silent():
        time.sleep(0.3)
        return False

    def well():
        answered.set()
        return True

    prober = Prober({"database": silent, "web process": well})
    prober.start()
    assert answered.wait(5)
    prober.stop()
    assert prober.watches["web process"].seen
    assert not prober.watches["database"].seen


def test_troubles_are_left_where_the_door_reads_them(tmp_path):
    path = tmp_path / "health.json"
    write_troubles(path, ["The database has not answered for 4 s."])
    assert json.loads(path.read_text())["troubles"][0].startswith("The database")
    write_troubles(tmp_path / "none" / "health.json", [])  # no place for it: nothing breaks


def sleeper():
    return subprocess.Popen([sys.executable, "-c", "import time; time.sleep(60)"])


@pytest.mark.parametrize("frozen", [False, True])
def test_what_a_killed_launcher_left_is_ended_by_its_record(tmp_path, frozen):
    left, path = sleeper(), tmp_path / "children.json"
    record(path, {"web process": left.pid})
    if frozen:
        os.kill(left.pid, signal.SIGSTOP)
    reaper = threading.Thread(target=left.wait)
    reaper.start()
    assert end_leftovers(path, within_s=0.5) == ["web process"]
    reaper.join(5)
    assert left.returncode in (-signal.SIGTERM, -signal.SIGKILL)
    assert not path.exists()


def test_a_stranger_with_a_reused_process_id_is_left_alone(tmp_path):
    stranger, path = sleeper(), tmp_path / "children.json"
    odd = {"web process": [stranger.pid, "1"], "agent": [1, "x"], "door": [[], ""], "stand": 7}
    path.write_text(json.dumps(odd))
    assert end_leftovers(path, within_s=0.1) == []
    assert stranger.poll() is None
    stranger.kill()
    stranger.wait()


@pytest.mark.parametrize("content", ["", "[", "[1]", "{}"])
def test_a_damaged_record_hinders_no_start(tmp_path, content):
    path = tmp_path / "children.json"
    path.write_text(content)
    assert end_leftovers(path) == []


def test_the_kernels_count_tells_processes_apart():
    own = started_at(os.getpid())
    assert own is not None
    assert own.isdigit()
    assert started_at(2**22 + 1) is None
