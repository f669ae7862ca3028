"""``./spindle node-check``: tells a balancer over HTTP whether a node of a cluster may be asked."""

from __future__ import annotations

import contextlib
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any

import MySQLdb

from spindle_ops.galera import may_be_asked

ANSWERS_WITHIN_S = 1


def status_of(socket: str, user: str, password: str) -> dict[str, str]:
    """What a node says of its cluster; empty where it does not answer."""
    try:
        line = MySQLdb.connect(
            unix_socket=socket,
            user=user,
            passwd=password,
            connect_timeout=ANSWERS_WITHIN_S,
            read_timeout=ANSWERS_WITHIN_S,
        )
    except MySQLdb.Error:
        return {}
    try:
        with line.cursor() as cursor:
            cursor.execute("SHOW GLOBAL STATUS LIKE 'wsrep%'")
            return dict(cursor.fetchall())
    except MySQLdb.Error:
        return {}
    finally:
        line.close()


def server(host: str, port: int, socket: str, user: str, password: str) -> ThreadingHTTPServer:
    """Answers 200 to every GET while the node may be asked, else 503 with the reason."""

    class Answering(BaseHTTPRequestHandler):
        def do_GET(self) -> None:
            well, why = may_be_asked(status_of(socket, user, password))
            body = (f"{why}\n" if why else "may be asked\n").encode()
            self.send_response(200 if well else 503)
            self.send_header("Content-Type", "text/plain")
            self.send_header("Content-Length", str(len(body)))
            self.end_headers()
            # A balancer that has read the status need not wait for the rest.
            with contextlib.suppress(ConnectionError):
                self.wfile.write(body)

        def log_message(self, format: str, *args: Any) -> None:
            """Twice a second is nothing for a log."""

    return ThreadingHTTPServer((host, port), Answering)
