"""Each thing that ``./spindle check`` asks, against a server on which it is not so."""

import http.server
import shlex
import ssl
import subprocess
import threading
from dataclasses import dataclass, field

import pytest

from spindle_ops import cli
from spindle_ops.instance import CHECKOUT, free_port
from spindle_ops.public import Public
from spindle_ops.reach import Reach

HOST = "bench.localhost"
WELL = {
    "status": 200,
    "hsts": "max-age=31536000; includeSubDomains",
    "cookie": "csrftoken=x; Path=/; SameSite=Lax; Secure",
    "other_host": 400,
    "door": 101,
    "foreign_door": 403,
    "location": "",
}


@pytest.fixture(scope="module")
def certificate(tmp_path_factory):
    folder = tmp_path_factory.mktemp("tls")
    command = ["openssl", "req", "-x509", "-newkey", "rsa:2048", "-nodes", "-days", "2"]
    command += ["-subj", f"/CN={HOST}", "-addext", f"subjectAltName=DNS:{HOST}"]
    command += ["-keyout", str(folder / "key.pem"), "-out", str(folder / "cert.pem")]
    subprocess.run(command, check=True, capture_output=True)
    return folder


@dataclass
class Served:
    """A server that does what it is told; ``does`` is changed by the test."""

    reach: Reach
    does: dict = field(default_factory=lambda: dict(WELL))


@pytest.fixture
def served(certificate):
    port = free_port(2)
    made = Served(Reach(Public(HOST, port), certificate / "cert.pem", "127.0.0.1", port + 1))

    class Handler(http.server.BaseHTTPRequestHandler):
        def do_GET(self):
            does = made.does
            own = f"https://{HOST}:{port}"
            if self.headers["Host"] not in (HOST, f"{HOST}:{port}"):
                self.send_response(does["other_host"])
            elif self.path == "/door/":
                mine = self.headers["Origin"] == own
                self.send_response(does["door"] if mine else does["foreign_door"])
            elif does["location"] and self.path == "/":
                self.send_response(301)
                self.send_header("Location", does["location"].replace("OWN", own))
            else:
                self.send_response(does["status"])
                if does["hsts"]:
                    self.send_header("Strict-Transport-Security", does["hsts"])
                if does["cookie"]:
                    self.send_header("Set-Cookie", does["cookie"])
            self.send_header("Content-Length", "0")
            self.end_headers()

        def log_message(self, *_):
            """Say nothing."""

    class Quiet(http.server.ThreadingHTTPServer):
        def handle_error(self, *_):
            """A client that does not believe the certificate hangs up; that is what is tested."""

    servers = []
    for at, encrypted in ((port, True), (port + 1, False)):
        server = Quiet(("127.0.0.1", at), Handler)
        if encrypted:
            context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
            context.load_cert_chain(certificate / "cert.pem", certificate / "key.pem")
            server.socket = context.wrap_socket(server.socket, server_side=True)
        threading.Thread(target=server.serve_forever, daemon=True).start()
        servers.append(server)
    yield made
    for server in servers:
        server.shutdown()
        server.server_close()


def amiss(served):
    return {what: problem for what, problem in served.reach.checks() if problem}


def test_all_is_well_where_all_is_well(served):
    served.does["location"] = "OWN/"
    assert amiss(served) == {}


@pytest.mark.parametrize(
    ("change", "what", "words"),
    [
        ({"status": 503}, "the page answers", "503"),
        ({"hsts": ""}, "HSTS", "--public"),
        ({"hsts": "max-age=60"}, "HSTS", "--public"),
        ({"hsts": "includeSubDomains"}, "HSTS", "--public"),
        ({"cookie": "csrftoken=x; Path=/"}, "cookies", "csrftoken is sent without TLS"),
        ({"cookie": "secure=x; Path=/secure"}, "cookies", "without TLS"),
        ({"cookie": ""}, "cookies", "no cookie"),
        ({"other_host": 200}, "another host", "got 200"),
        ({"other_host": 302}, "another host", "got 302"),
        ({"door": 404}, "door opens", "404"),
        ({"door": 200}, "door opens", "200"),
        ({"foreign_door": 101}, "stays shut", "another page"),
        ({"location": "http://elsewhere/"}, "plain requests", "without TLS"),
        ({"location": ""}, "plain requests", "without TLS"),
    ],
)
def test_what_is_not_so_is_told_and_nothing_else(served, change, what, words):
    served.does |= {"location": "OWN/", **change}
    found = amiss(served)
    assert len(found) == 1, found
    [(asked, problem)] = found.items()
    assert what in asked
    assert words in problem


def test_a_certificate_that_nobody_signed_is_told(served):
    served.reach.authority = None
    found = amiss(served)
    told = next(problem for what, problem in found.items() if "certificate" in what)
    assert "--authority" in told


def test_where_nobody_listens_every_line_says_so():
    found = Reach(Public(HOST, free_port(2)), None, "127.0.0.1", 1).checks()
    assert sum("refused" in problem.lower() for _, problem in found) >= 6


def test_the_command_ends_with_1_where_something_is_amiss(served, capsys):
    reach = served.reach
    asked = ["check", reach.public.origin, "--authority", str(reach.authority)]
    asked += ["--connect-to", "127.0.0.1", "--plain-port", str(reach.plain_port)]
    served.does["location"] = "OWN/"
    assert cli.main(asked) == 0
    served.does["hsts"] = ""
    assert cli.main(asked) == 1
    assert "NO   browsers are told" in capsys.readouterr().out


class TestDeploy:
    def test_writes_both_files_and_says_what_is_next(self, certificate, tmp_path, capsys):
        asked = ["deploy", str(tmp_path / "to"), "--public", f"https://{HOST}"]
        asked += ["--certificate", str(certificate / "cert.pem")]
        assert cli.main([*asked, "--key", str(certificate / "key.pem"), "--workers", "3"]) == 0
        said = capsys.readouterr().out
        assert f"./spindle check https://{HOST}" in said
        # systemd starts nothing whose folder is not there, and it belongs to who runs it.
        assert f"install -d -m 700 -o spindle {CHECKOUT / 'var' / 'start'}\n" in said
        assert f"chown -R spindle: {CHECKOUT}\n" in said
        # Debian's packages need root, which the unit's user is not.
        assert said.index(f"{CHECKOUT / 'spindle'} build") < said.index("chown -R")
        unit = (tmp_path / "to" / "spindle.service").read_text()
        assert "--workers 3" in unit
        assert str(certificate / "key.pem") in (tmp_path / "to" / "spindle.nginx").read_text()

    def test_names_of_folders_can_be_typed_as_they_are_said(self, certificate, tmp_path, capsys):
        folder = tmp_path / "a bench; it's ours"
        asked = ["deploy", str(tmp_path / "to"), "--public", f"https://{HOST}"]
        asked += ["--certificate", str(certificate / "cert.pem"), "--folder", str(folder)]
        asked += ["--key", str(certificate / "key.pem"), "--user", "bench"]
        assert cli.main(asked) == 0
        said = capsys.readouterr().out
        line = next(line for line in said.splitlines() if "install -d" in line)
        assert shlex.split(line) == ["install", "-d", "-m", "700", "-o", "bench", str(folder)]
        assert not folder.exists()

    @pytest.mark.parametrize(
        ("public", "key", "more", "words"),
        [
            ("http://bench", "key.pem", [], "without TLS"),
            (f"https://{HOST}", "nowhere.pem", [], "is not there"),
            (f"https://{HOST}", "key.pem", ["--workers", "0"], "1 to 16"),
            (f"https://{HOST}", "key.pem", ["--stand", "serial:x"], "A stand is"),
        ],
    )
    def test_half_of_it_writes_nothing(
        self, certificate, tmp_path, capsys, public, key, more, words
    ):
        asked = ["deploy", str(tmp_path / "to"), "--public", public, *more]
        asked += ["--certificate", str(certificate / "cert.pem"), "--key", str(certificate / key)]
        assert cli.main(asked) == 1
        assert words in capsys.readouterr().err
        assert not (tmp_path / "to").exists()
