"""``./spindle proxy``: the demo behind a real nginx with TLS, as people on other machines reach it.

Two web processes, one of which is killed in mid-run; wrong passwords with forged headers; the event
stream and the stop door through the proxy. A line for each thing that is asked; 1 where one is not
so. It installs Debian's nginx where that is missing, as a process of its own on high ports.
"""

from __future__ import annotations

import contextlib
import json
import os
import shutil
import signal
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path

os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")
sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from playwright.sync_api import Page, expect, sync_playwright

from e2e.application import BROWSER, Application, running_demo, wait_for
from e2e.bench_steps import arm_and_start, set_up_run
from e2e.table import Table
from spindle_ops import setup
from spindle_ops.instance import Instance, free_port
from spindle_ops.public import Public, proxy_site
from spindle_ops.reach import Reach

HOST = "bench.localhost"
"""Resolved to loopback by browsers, without asking anybody."""

FRAMES = """() => new Promise((tell) => {
  const gaps = []
  let before = 0
  const stream = new EventSource('/api/v1/bench/stream/')
  stream.onmessage = () => {
    const now = performance.now()
    if (before) gaps.push(now - before)
    before = now
  }
  setTimeout(() => { stream.close(); tell(gaps) }, 3000)
})"""
"""Milliseconds between the frames of the bench's event stream, for three seconds."""

expect.set_options(timeout=20_000)


def certificate(folder: Path) -> tuple[Path, Path, Path]:
    """An authority, and a certificate and key for the host that it signs."""
    ca, ca_key, cert, key = (
        str(folder / name) for name in ("ca.pem", "ca.key", "bench.pem", "bench.key")
    )
    made = ["openssl", "req", "-x509", "-newkey", "rsa:2048", "-nodes", "-days", "2"]
    own = [*made, "-keyout", ca_key, "-out", ca, "-subj", "/CN=Authority of a test"]
    signed = [*made, "-keyout", key, "-out", cert, "-subj", f"/CN={HOST}"]
    signed += ["-CA", ca, "-CAkey", ca_key, "-addext", f"subjectAltName=DNS:{HOST}"]
    for command, is_authority in ((own, "critical,CA:TRUE"), (signed, "critical,CA:FALSE")):
        more = ["-addext", f"basicConstraints={is_authority}"]
        subprocess.run([*command, *more], check=True, capture_output=True)
    return Path(ca), Path(cert), Path(key)


@contextlib.contextmanager
def nginx(site: str, folder: Path) -> Iterator[None]:
    """nginx with one site, in a folder of its own."""
    (folder / "site.nginx").write_text(site)
    (folder / "temp").mkdir()
    temp = "".join(
        f"{name}_temp_path {folder}/temp/{name};\n"
        for name in ("client_body", "proxy", "fastcgi", "uwsgi", "scgi")
    )
    whole = folder / "nginx.conf"
    whole.write_text(
        f"pid {folder}/nginx.pid;\nerror_log {folder}/error.log;\ndaemon off;\n"
        f"events {{}}\nhttp {{\naccess_log off;\n{temp}include {folder}/site.nginx;\n}}\n"
    )
    program = shutil.which("nginx") or "/usr/sbin/nginx"
    process = subprocess.Popen(
        [program, "-c", str(whole), "-p", str(folder)], stderr=subprocess.PIPE, text=True
    )
    try:
        time.sleep(1.0)
        if process.poll() is not None:
            raise SystemExit(f"nginx did not start: {process.stderr and process.stderr.read()}")
        yield
    finally:
        process.send_signal(signal.SIGQUIT)
        process.wait(20)


def guess(reach: Reach, number: int) -> int:
    """One wrong password, with a forged address; the status."""
    _, headers = reach.ask("/api/v1/session/")
    token = headers["set-cookie"][0].partition("=")[2].partition(";")[0]
    forged = f"203.0.113.{number}"
    status, _ = reach.ask(
        "/api/v1/session/",
        body=json.dumps({"username": "ilse", "password": f"wrong-{number}-guess"}).encode(),
        headers={
            "Content-Type": "application/json",
            "Origin": reach.public.origin,
            "Cookie": f"csrftoken={token}",
            "X-CSRFToken": token,
            "X-Forwarded-For": forged,
            "X-Real-IP": forged,
            "Forwarded": f"for={forged}",
        },
    )
    return status


def workers_of(demo: Application) -> list[int]:
    """Ids of the web processes that answer requests."""
    instance = Instance("demo", demo.folder, demo.port, demo=True)
    web = str(json.loads(instance.children_file.read_text())["web process"][0])
    found = []
    for place in Path("/proc").glob("[0-9]*"):
        with contextlib.suppress(OSError):
            parent = (place / "stat").read_text().rpartition(")")[2].split()[1]
            if parent == web and b"spawn_main" in (place / "cmdline").read_bytes():
                found.append(int(place.name))
    return sorted(found)


def at_the_bench(table: Table, demo: Application, public: Public, page: Page) -> None:
    """A person logs in, runs, loses a web process in mid-run, and stops another run."""
    with table.asked("a person logs in, and cookies are marked"):
        page.goto(f"{public.origin}/login")
        page.get_by_label("Name").fill("tomas")
        page.get_by_label("Password", exact=True).fill(demo.password("tomas"))
        page.get_by_role("button", name="Log in").click()
        page.get_by_role("heading", name="Board").wait_for()
        cookies = {one["name"]: one for one in page.context.cookies()}
        assert all(one["secure"] for one in cookies.values()), cookies
    with table.asked("the stop door is open through the proxy"):
        page.goto(f"{public.origin}/bench")
        expect(page.get_by_text("The stop door is shut")).to_have_count(0)
        page.wait_for_timeout(3000)
        expect(page.get_by_text("The stop door is shut")).to_have_count(0)
    with table.asked("a run whose frames arrive as they are made, though a web process dies"):
        set_up_run(page, sample="Ostrel Drift 2206 1900 · A", levels="20, 40, 30")
        arm_and_start(page)
        before = workers_of(demo)
        assert len(before) == 2, before
        gaps = page.evaluate(FRAMES)
        assert len(gaps) > 20, f"only {len(gaps)} frames in 3 s"
        assert max(gaps) < 500, f"no frame for {max(gaps):.0f} ms"
        os.kill(before[0], signal.SIGKILL)
        wait_for(
            lambda: len(workers_of(demo)) == 2 and before[0] not in workers_of(demo),
            20,
            "a new web process",
        )
        result = page.get_by_label("Result of the last run")
        expect(result.get_by_role("link", name="Run ")).to_be_visible(timeout=60_000)
        expect(result.get_by_role("heading")).to_contain_text("Completed")
    with table.asked("STOP cuts through the proxy, confirmed by the stand"):
        set_up_run(page, sample="Ostrel Drift 2206 1900 · A", levels="20, 40")
        arm_and_start(page)
        page.wait_for_timeout(1500)
        page.keyboard.press("Escape")
        begun = time.monotonic()
        wait_for(lambda: demo.ask_stand()["throttle_pct"] == 0, 2, "throttle zero")
        took = time.monotonic() - begun
        assert took < 1.0, f"{took:.2f} s"


def main() -> int:
    """Run it all; 1 where something is not as it should be."""
    setup.debian_packages(("nginx-light", "openssl"))
    table = Table()
    with tempfile.TemporaryDirectory(prefix="spindle-proxy-") as place:
        folder = Path(place)
        folder.chmod(0o755)
        authority, cert, key = certificate(folder)
        first = free_port(12)
        tls, plain = first + 8, first + 9
        public = Public(HOST, tls)
        with running_demo("proxy", "--public", public.origin, "--workers", "2") as demo:
            site = proxy_site(public, demo.port, demo.port + 3, cert, key, plain_port=plain)
            with nginx(site, folder):
                reach = Reach(public, authority, "127.0.0.1", plain)
                for what, problem in reach.checks():
                    table.line(what, problem)
                with table.asked("thirty wrong passwords with thirty forged addresses are locked"):
                    told = [guess(reach, number) for number in range(30)]
                    assert told[0] == 403, told
                    assert set(told[5:]) == {429}, told
                    log = (demo.folder / "log" / "web.log").read_text()
                    assert "203.0.113" not in log
                with sync_playwright() as play:
                    browser = play.chromium.launch(**BROWSER)
                    context = browser.new_context(
                        viewport={"width": 1280, "height": 800}, ignore_https_errors=True
                    )
                    at_the_bench(table, demo, public, context.new_page())
                    context.close()
                    browser.close()
    return table.end()


if __name__ == "__main__":
    sys.exit(main())
