"""Whether an installation is reached from outside as it should be, and in no other way."""

from __future__ import annotations

import base64
import contextlib
import http.client
import os
import socket
import ssl
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path

from spindle_ops.public import Public

WITHIN_S = 10.0
LEAST_HSTS_S = 180 * 24 * 3600
FOREIGN = "elsewhere.example"


class Unmet(Exception):  # noqa: N818 - not an error: what a check found
    """What is asked is not so; the message says what to do."""


@dataclass
class Reach:
    """How one address is asked.

    :param authority: a certificate that signs the address's own, where the system knows none.
    :param connect_to: another address to connect to, for a name that is not resolved here.
    """

    public: Public
    authority: Path | None = None
    connect_to: str = ""
    plain_port: int = 80

    def checks(self) -> list[tuple[str, str]]:
        """Each thing that is asked, and what is wrong with it (blank where nothing is)."""
        found = []
        for what, check in self._all():
            try:
                check()
                problem = ""
            except Unmet as unmet:
                problem = str(unmet)
            except (OSError, http.client.HTTPException) as error:
                problem = f"{type(error).__name__}: {error}"
            found.append((what, problem))
        return found

    def _all(self) -> Iterator[tuple[str, Callable[[], None]]]:
        yield "TLS with a certificate that browsers believe", self._certificate
        yield "the page answers, and its database", self._answers
        yield "browsers are told to come with TLS only (HSTS)", self._hsts
        yield "cookies go over TLS only", self._cookies
        yield "another host's name is not answered", self._other_host
        yield "plain requests are sent to TLS, or not answered", self._plain
        yield "the stop door opens for this page", self._door
        yield "the stop door stays shut for other pages", self._foreign_door
        yield "nothing is reached past the proxy", self._past_the_proxy

    def _socket(self) -> ssl.SSLSocket:
        context = ssl.create_default_context(cafile=str(self.authority) if self.authority else None)
        context.minimum_version = ssl.TLSVersion.TLSv1_2
        raw = socket.create_connection(
            (self.connect_to or self.public.host, self.public.port), timeout=WITHIN_S
        )
        try:
            return context.wrap_socket(raw, server_hostname=self.public.host)
        except BaseException:
            raw.close()
            raise

    def ask(
        self,
        path: str,
        *,
        host: str = "",
        body: bytes | None = None,
        headers: dict[str, str] | None = None,
    ) -> tuple[int, dict[str, list[str]]]:
        """Status and headers (their names in small letters) of a GET, or of a POST with a body."""
        with contextlib.closing(self._socket()) as line:
            connection = http.client.HTTPConnection(self.public.host)
            connection.sock = line
            sent = {"Host": host or self.public.netloc, "Connection": "close", **(headers or {})}
            if body is not None:
                sent["Content-Length"] = str(len(body))
            connection.putrequest(
                "GET" if body is None else "POST", path, skip_host=True, skip_accept_encoding=True
            )
            for name, value in sent.items():
                connection.putheader(name, value)
            connection.endheaders(body)
            answer = connection.getresponse()
            found: dict[str, list[str]] = {}
            for name, value in answer.getheaders():
                found.setdefault(name.lower(), []).append(value)
            return answer.status, found

    def _certificate(self) -> None:
        try:
            self._socket().close()
        except ssl.SSLCertVerificationError as error:
            raise Unmet(
                f"the certificate is not believed: {error.verify_message}. With one of your own "
                "authority, name it with --authority."
            ) from None

    def _answers(self) -> None:
        status, _ = self.ask("/healthz")
        if status != 200:
            raise Unmet(f"/healthz answered {status}: is the installation started?")

    def _hsts(self) -> None:
        _, headers = self.ask("/healthz")
        told = "".join(headers.get("strict-transport-security", []))
        age = next((p for p in told.replace(" ", "").split(";") if p.startswith("max-age=")), "")
        if not age[8:].isdigit() or int(age[8:]) < LEAST_HSTS_S:
            raise Unmet(
                "no Strict-Transport-Security: start with --public, and let the proxy pass "
                "X-Forwarded-Proto https."
            )

    def _cookies(self) -> None:
        _, headers = self.ask("/api/v1/session/")
        cookies = headers.get("set-cookie", [])
        if not cookies:
            raise Unmet("no cookie was set: is this Taut Spindle?")
        for cookie in cookies:
            marks = {part.strip().lower() for part in cookie.split(";")[1:]}
            if "secure" not in marks:
                raise Unmet(f"{cookie.partition('=')[0]} is sent without TLS too.")

    def _other_host(self) -> None:
        try:
            status, _ = self.ask("/healthz", host=FOREIGN)
        except (OSError, http.client.HTTPException):
            return
        if status < 400:
            raise Unmet(f"a request for {FOREIGN} got {status}; name the host in the proxy.")

    def _plain(self) -> None:
        try:
            with socket.create_connection(
                (self.connect_to or self.public.host, self.plain_port), timeout=WITHIN_S
            ) as line:
                asked = ["GET / HTTP/1.1", f"Host: {self.public.host}", "Connection: close", "", ""]
                line.sendall("\r\n".join(asked).encode())
                answer = line.makefile("rb").read(4096).decode("latin-1")
        except OSError:
            return
        if not answer:
            return
        head = answer.split("\r\n\r\n")[0].lower()
        if f"location: {self.public.origin}" not in head:
            raise Unmet("a request without TLS is answered; send it to the address with TLS.")

    def _open_door(self, origin: str) -> str:
        with contextlib.closing(self._socket()) as line:
            key = base64.b64encode(os.urandom(16)).decode()
            asked = [
                "GET /door/ HTTP/1.1",
                f"Host: {self.public.netloc}",
                "Upgrade: websocket",
                "Connection: Upgrade",
                f"Sec-WebSocket-Key: {key}",
                "Sec-WebSocket-Version: 13",
                f"Origin: {origin}",
            ]
            line.sendall("\r\n".join([*asked, "", ""]).encode())
            return line.recv(200).decode("latin-1").split("\r\n")[0]

    def _door(self) -> None:
        said = self._open_door(self.public.origin)
        if " 101" not in said:
            raise Unmet(
                f"the stop door answered {said!r}: STOP would go the long way. Does the proxy pass "
                "/door/ with its Upgrade header?"
            )

    def _foreign_door(self) -> None:
        said = self._open_door(f"https://{FOREIGN}")
        if " 101" in said:
            raise Unmet("another page may open the stop door.")

    def _past_the_proxy(self) -> None:
        """The web process listens on loopback; from elsewhere its usual port is shut."""
        host = self.connect_to or self.public.host
        if socket.gethostbyname(host).startswith("127."):
            return
        for port in (8137, 8138, 8139, 8140):
            with contextlib.suppress(OSError):
                socket.create_connection((host, port), timeout=2.0).close()
                raise Unmet(f"port {port} is open to other machines; it belongs on loopback.")
