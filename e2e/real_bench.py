"""The bench of a running application, used as a page uses it: session, stop door and agent over
real sockets, real processes that freeze and die by real signals."""

from __future__ import annotations

import contextlib
import http.cookiejar
import json
import os
import signal
import socket
import threading
import time
import urllib.error
import urllib.request
from typing import Any

from websockets.exceptions import WebSocketException
from websockets.sync.client import ClientConnection, connect

from e2e.application import Application, wait_for
from spindle_bench.plan import checklist_of
from spindle_bench.states import AT_REST
from spindle_ops.instance import Instance

PROCESS = {
    "web": "web process",
    "agent": "bench agent",
    "stand": "simulated stand",
    "door": "stop door",
    "database": "database",
}
SEATED_S = 0.8
OFF = ["power_w", "speed_rpm", "vibration_g", "voltage_floor_v"]
LIMITS = {
    "current_a": 40,
    "motor_temp_c": 110,
    "thrust_gf": 4000,
    "lost_rpm_s": 0.4,
    **dict.fromkeys(OFF),
}


class RealBench:
    """One person at one page."""

    def __init__(self, demo: Application, username: str = "ilse") -> None:
        self.demo = demo
        jar = http.cookiejar.CookieJar()
        self._web = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(jar))
        self._cookies = jar
        self.children_file = Instance("demo", demo.folder, demo.port, demo=True).children_file
        self.ask("GET", "session/")
        self.ask("POST", "session/", {"username": username, "password": demo.password(username)})
        self.pass_ = self.ask("GET", "bench/door/")
        self._socket: ClientConnection | None = None
        self._stopped: dict[int, float] = {}
        self._number = 0
        self._open = threading.Event()
        self._pinged = -1e9

    # ---- web ----------------------------------------------------------------------------------

    def ask(
        self, method: str, path: str, body: Any = None, *, seconds: float = 15.0
    ) -> dict[str, Any]:
        """One request of the API; an error's body is returned as it is."""
        request = urllib.request.Request(  # noqa: S310 - loopback
            f"{self.demo.address}/api/v1/{path}",
            method=method,
            data=None if body is None else json.dumps(body).encode(),
            headers={"Content-Type": "application/json", "Referer": self.demo.address},
        )
        token = next((c.value for c in self._cookies if c.name == "csrftoken"), None)
        if token:
            request.add_header("X-CSRFToken", token)
        try:
            with self._web.open(request, timeout=seconds) as answer:
                return json.loads(answer.read() or b"{}")
        except urllib.error.HTTPError as error:
            return json.loads(error.read())

    def arm(self, *, dwell_s: float = 20.0) -> dict[str, Any]:
        """Arm a run to 100 %."""
        sample = self.ask("GET", "motors/?search=Ostrel+Drift+2206")["results"][0]["samples"][0]
        first = {
            name: next(row["id"] for row in self.ask("GET", f"{name}/")["results"] if fits(row))
            for name, fits in {
                "propellers": lambda row: row["full_name"] == "Wickett 5.1x4.2x3",
                "supplies": lambda row: row["name"] == "Supply 16 V",
                "stands": lambda row: row["live"],
            }.items()
        }
        return self.ask(
            "POST",
            "bench/arm/",
            {
                "sample": sample["id"],
                "propeller": first["propellers"],
                "supply": first["supplies"],
                "stand": first["stands"],
                "profile": {
                    "levels_pct": [100],
                    "dwell_s": dwell_s,
                    "ramp_pct_per_s": 200,
                    "rest_s": 2,
                },
                "limits": LIMITS,
                "limits_off": OFF,
                "checklist": checklist_of(OFF),
                "rate_hz": 200,
            },
        )

    def start(self, run_id: str) -> dict[str, Any]:
        """Start what is armed."""
        return self.ask("POST", "bench/start/", {"run_id": run_id})

    def frame(self) -> dict[str, Any]:
        """The bench now; empty when nobody answers."""
        with contextlib.suppress(OSError, ValueError):
            answer = self.ask("GET", "bench/", seconds=3)
            return answer if "state" in answer else {}
        return {}

    def end_of(self, run_id: str, seconds: float = 60.0) -> dict[str, Any]:
        """The run on record, once it has its end."""

        def ended() -> dict[str, Any] | None:
            with contextlib.suppress(OSError, ValueError):
                rows = self.ask("GET", f"runs/?uid={run_id}").get("results", [])
                return next((row for row in rows if row["outcome"]), None)
            return None

        return wait_for(ended, seconds, f"the end of run {run_id}")

    # ---- door ---------------------------------------------------------------------------------

    def open_page(self) -> None:
        """Sit at the door and answer its pings until :meth:`close_page`."""
        self._open.set()
        threading.Thread(target=self._sit, daemon=True).start()
        wait_for(lambda: self.seated, 10, "a seat at the door")

    @property
    def seated(self) -> bool:
        """Whether the door has asked just now."""
        return time.monotonic() - self._pinged < SEATED_S

    def close_page(self) -> None:
        """Leave at once, as a killed tab does: no answer and no word goodbye from now on."""
        self._open.clear()
        if self._socket is not None:
            with contextlib.suppress(OSError):
                self._socket.socket.shutdown(socket.SHUT_RDWR)

    def _sit(self) -> None:
        url = f"ws://127.0.0.1:{self.pass_['port']}/"
        while self._open.is_set():
            with (
                contextlib.suppress(OSError, WebSocketException, TimeoutError),
                connect(url, origin=self.demo.address, open_timeout=1) as self._socket,
            ):
                self._socket.send(json.dumps({"type": "token", "token": self.pass_["token"]}))
                self._answer(self._socket)
            time.sleep(0.1)

    def _answer(self, page: ClientConnection) -> None:
        """Answer; a door that is silent for a second and a half is left, as the page does."""
        while self._open.is_set():
            message = json.loads(page.recv(timeout=1.5))
            if not self._open.is_set():
                return
            if message["type"] == "ping":
                page.send(json.dumps({"type": "pong", "n": message["n"]}))
                self._pinged = time.monotonic()
            elif message["type"] == "stopped":
                self._stopped.setdefault(message["id"], time.monotonic())

    def press_stop(self, *, seconds: float = 5.0) -> float | None:
        """Space: by door and ordinary request; seconds until the read-back said zero."""
        self._number += 1
        number, pressed = self._number, time.monotonic()
        with contextlib.suppress(OSError, WebSocketException, AttributeError):
            assert self._socket is not None
            self._socket.send(json.dumps({"type": "stop", "id": number}))
        threading.Thread(target=self._ordinary_stop, daemon=True).start()
        until = pressed + seconds
        while time.monotonic() < until:
            if number in self._stopped:
                return self._stopped[number] - pressed
            time.sleep(0.001)
        return None

    def _ordinary_stop(self) -> None:
        with contextlib.suppress(OSError, ValueError):
            self.ask("POST", "bench/stop/", seconds=5)

    # ---- stand and processes ------------------------------------------------------------------

    def stand(self) -> dict[str, Any]:
        """What the stand says of itself, asked directly."""
        return self.demo.ask_stand()

    def pid(self, name: str) -> int:
        """The process id of one of the application's processes."""
        return json.loads(self.children_file.read_text())[PROCESS[name]][0]

    def freeze(self, name: str, seconds: float) -> None:
        """SIGSTOP, and SIGCONT after a while unless the launcher has ended it meanwhile."""
        pid = self.pid(name)
        os.kill(pid, signal.SIGSTOP)

        def thaw() -> None:
            with contextlib.suppress(ProcessLookupError):
                os.kill(pid, signal.SIGCONT)

        timer = threading.Timer(seconds, thaw)
        timer.daemon = True
        timer.start()

    def kill(self, name: str) -> None:
        """SIGKILL."""
        os.kill(self.pid(name), signal.SIGKILL)

    def at_rest(self, seconds: float = 60.0) -> None:
        """Wait until everything answers and nothing is armed; reset after a fault."""

        def rests() -> bool:
            with contextlib.suppress(OSError, ValueError, KeyError):
                frame = self.frame()
                if frame.get("state") == "faulted":
                    self.ask("POST", "bench/reset/")
                elif frame.get("state") in ("armed", "running", "watching"):
                    self.ask("POST", "bench/stop/")
                calm = frame.get("state") in AT_REST and frame.get("link")
                still = self.stand()["speed_rpm"] < 60
                stored = "results" in self.ask("GET", "stands/")
                return bool(calm and still and stored and self.seated and not frame["waiting_runs"])
            return False

        wait_for(rests, seconds, "the bench to come to rest")
