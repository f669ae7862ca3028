"""An installation that people reach from other machines: behind a proxy with TLS, on this machine.

Everything still listens on loopback. What the proxy has to do is written out by
:func:`proxy_site`, what starts the installation by :func:`unit`.
"""

from __future__ import annotations

import ipaddress
import re
import shlex
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from urllib.parse import urlsplit

from spindle_ops.problem import Problem

MOST_WORKERS = 16
BY_HAND = ("SPINDLE_HOSTS", "SPINDLE_ORIGINS", "SPINDLE_HTTPS", "SPINDLE_DOOR_URL")
"""What makes a public installation; a half of it is refused."""

_LABEL = re.compile(r"(?!-)[a-z0-9-]{1,63}(?<!-)")


@dataclass(frozen=True)
class Public:
    """Where people reach it: ``https://HOST`` or ``https://HOST:PORT``."""

    host: str
    port: int = 443

    @property
    def origin(self) -> str:
        """The address that stands in the browser, without a path."""
        return f"https://{self.netloc}"

    @property
    def netloc(self) -> str:
        """Host, and port where it is not the usual one."""
        return self.host if self.port == 443 else f"{self.host}:{self.port}"

    @property
    def door_url(self) -> str:
        """Where pages reach the stop door: a path of the same address."""
        return f"wss://{self.netloc}/door/"

    def environment(self) -> dict[str, str]:
        """What the processes are told."""
        return {
            "SPINDLE_HOSTS": f"{self.host},127.0.0.1,localhost",
            "SPINDLE_ORIGINS": self.origin,
            "SPINDLE_HTTPS": "1",
            "SPINDLE_DOOR_URL": self.door_url,
        }


def public_at(text: str) -> Public:
    """The address that people type.

    :raises Problem: it cannot be one; the sentence says why.
    """
    text = text.strip()
    if any(not one.isprintable() or one.isspace() for one in text):
        raise Problem(f"{text!r} is no name of a host.")
    parts = urlsplit(text)
    if parts.scheme == "http":
        raise Problem(
            f"{text!r} is without TLS: passwords and the stop would go over the network for "
            "everybody to read and to forge. Give https://HOST."
        )
    if parts.scheme != "https" or not parts.netloc:
        raise Problem(f"A public address is https://HOST or https://HOST:PORT, got {text!r}.")
    if parts.path not in ("", "/") or parts.query or parts.fragment:
        raise Problem(f"{text!r} has a path; Taut Spindle has an address of its own, not a folder.")
    if "@" in parts.netloc:
        raise Problem("A public address holds no name and no password.")
    try:
        host, port = (parts.hostname or "").lower(), parts.port or 443
    except ValueError:
        raise Problem(f"The port of {text!r} is none.") from None
    if "*" in host or host.startswith("."):
        raise Problem(f"{host!r} stands for many hosts; name the one that is meant.")
    try:
        address = ipaddress.ip_address(host)
        if address.version == 6:
            raise Problem(f"{host} is an IPv6 address; give the host a name.")
        if address.is_loopback:
            raise Problem(f"{host} is reached from this machine only; leave --public out.")
    except ValueError:
        if host == "localhost":
            raise Problem(
                "localhost is reached from this machine only; leave --public out."
            ) from None
        if len(host) > 253 or not all(_LABEL.fullmatch(part) for part in host.split(".")):
            raise Problem(f"{host!r} is no name of a host.") from None
    return Public(host, port)


def refuse_half(environment: Mapping[str, str], public: Public | None) -> None:
    """See that nothing of a public installation is set by hand that ``--public`` would set.

    :raises Problem: a half of it is.
    """
    if public is not None:
        other = [
            name
            for name, value in public.environment().items()
            if environment.get(name, value) != value
        ]
        if other:
            raise Problem(
                f"{other[0]} is set to {environment[other[0]]!r}, which is not what --public "
                f"{public.origin} means; unset it."
            )
        return
    there = [name for name in BY_HAND if environment.get(name)]
    if there and len(there) < len(BY_HAND):
        lacking = next(name for name in BY_HAND if name not in there)
        raise Problem(
            f"{', '.join(there)} without {lacking} is half a public installation; "
            "unset it, and start with --public https://HOST, which sets all of it."
        )


def check_workers(count: int) -> int:
    """So many web processes.

    :raises Problem: not 1 to 16.
    """
    if not 1 <= count <= MOST_WORKERS:
        raise Problem(f"Web workers are 1 to {MOST_WORKERS}, got {count}.")
    return count


def proxy_site(
    public: Public, port: int, door_port: int, certificate: Path, key: Path, plain_port: int = 80
) -> str:
    """A site of nginx: TLS, the page, the event stream, the stop door; every other host is closed.

    :param port: of the web process on loopback; ``door_port``: of the stop door.
    """
    other = "" if plain_port == 80 else f":{plain_port}"
    return f"""\
# Taut Spindle at {public.origin}{other and f" (plain requests at {other})"}.
# Written by ./spindle deploy; the proxy runs on the machine of the installation.

server {{
    listen {plain_port} default_server;
    return 444;
}}
server {{
    listen {plain_port};
    server_name {public.host};
    return 301 {public.origin}$request_uri;
}}
server {{
    listen {public.port} ssl default_server;
    ssl_certificate {certificate};
    ssl_certificate_key {key};
    return 444;
}}
server {{
    listen {public.port} ssl http2;
    server_name {public.host};

    ssl_certificate {certificate};
    ssl_certificate_key {key};
    ssl_protocols TLSv1.2 TLSv1.3;
    ssl_session_cache shared:spindle:2m;
    server_tokens off;

    # The server judges the length of an upload itself, before it takes the body.
    client_max_body_size 64m;
    proxy_request_buffering off;

    proxy_http_version 1.1;
    proxy_set_header Host {public.netloc};
    # Set, and not added to: what a browser claims of where it comes from is thrown away.
    proxy_set_header X-Forwarded-For $remote_addr;
    proxy_set_header X-Forwarded-Proto https;
    proxy_set_header Connection "";

    location / {{
        proxy_pass http://127.0.0.1:{port};
        proxy_read_timeout 300s;
    }}
    location = /api/v1/bench/stream/ {{
        proxy_pass http://127.0.0.1:{port};
        proxy_buffering off;
        proxy_read_timeout 1h;
    }}
    location /door/ {{
        proxy_pass http://127.0.0.1:{door_port}/;
        proxy_set_header Upgrade $http_upgrade;
        proxy_set_header Connection upgrade;
        proxy_read_timeout 1h;
        proxy_buffering off;
    }}
}}
"""


def unit(
    checkout: Path,
    folder: Path,
    public: Public,
    port: int,
    workers: int,
    user: str,
    stands: Sequence[str],
) -> str:
    """A systemd unit that starts the installation with the machine and ends it in order."""

    def said(text: object) -> str:
        # To systemd a lone % begins a name of its own.
        return str(text).replace("%", "%%")

    command = [
        str(checkout / "spindle"),
        "start",
        "--folder",
        str(folder),
        "--port",
        str(port),
        "--public",
        public.origin,
        "--workers",
        str(workers),
        *(word for stand in stands for word in ("--stand", stand)),
    ]
    return f"""\
[Unit]
Description=Taut Spindle at {public.origin}
After=network.target

[Service]
User={user}
WorkingDirectory={said(checkout)}
ExecStart={said(shlex.join(command))}
Restart=on-failure
RestartSec=5
# The launcher makes the stand safe and ends its processes one after the other.
KillMode=mixed
TimeoutStopSec=90
# Agent, stop door and stand come first at the processor.
LimitNICE=-10
NoNewPrivileges=yes
ProtectSystem=full
ProtectHome=read-only
ReadWritePaths="{said(folder)}" "{said(checkout)}"
PrivateTmp=yes
UMask=0077

[Install]
WantedBy=multi-user.target
"""


STEPS = """\
Written to {to}. As root, then:

  {spindle} build
  chown -R {user}: {checkout}
  install -d -m 700 -o {user} {folder}
  install -m 644 {to}/spindle.service /etc/systemd/system/
  systemctl enable --now spindle
  install -m 644 {to}/spindle.nginx /etc/nginx/sites-enabled/spindle
  nginx -t && systemctl reload nginx

and from any machine:  ./spindle check {origin}
The first start prints the administrator's password into the journal: journalctl -u spindle
"""
