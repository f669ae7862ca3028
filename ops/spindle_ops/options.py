"""What can be typed after ``./spindle``: commands and their options."""

from __future__ import annotations

import argparse
from pathlib import Path

DEFAULT_PORT = 8137

HELP = """\
Taut Spindle: test small brushless motors on a thrust stand.

  ./spindle demo    set up what is missing, load the demo bench, run it   (start here)
  ./spindle start   the same without demo data; makes the first administrator
  ./spindle stop    stop what runs from this checkout
  ./spindle test    everything CI runs
  ./spindle shots   make the pictures in docs/screenshots anew
  ./spindle plots   draw the plots of docs/computation.md anew
  ./spindle inbox   drop files into the inbox of what runs: logs that wait on Board and Import
  ./spindle publish write the pages for readers of what runs into a folder, for any web server
  ./spindle seed    fill a folder of its own with 50,000 made-up runs, for measuring
  ./spindle matrix  let every process freeze and die in every state of the bench; prints the table
  ./spindle mutants change the code a little, again and again, and see whether its tests notice
  ./spindle backup  everything on record in one checked file, while it runs; old ones are thinned
  ./spindle restore an installation from such a file, in a folder of its own
  ./spindle fuzz    read thousands of damaged files of every format; none may make a reader stumble
  ./spindle deploy  write what systemd and nginx need to serve it to other machines, with TLS
  ./spindle check   whether such an address is reached as it should be, and in no other way
  ./spindle proxy   the same for real, on this machine: nginx, TLS, workers that die, a run
  ./spindle cluster the database on three nodes behind a balancer; one is killed in mid-run
  ./spindle node-check   tells a balancer whether a node of such a cluster may be asked
  ./spindle build   set up what is missing and build the front end, and start nothing
"""


def build_parser() -> argparse.ArgumentParser:
    """The commands and their options."""
    parser = argparse.ArgumentParser(
        prog="./spindle", description=HELP, formatter_class=argparse.RawDescriptionHelpFormatter
    )
    commands = parser.add_subparsers(dest="command", metavar="COMMAND", required=True)
    for name in ("demo", "start"):
        command = commands.add_parser(name)
        command.add_argument(
            "--port",
            type=int,
            default=DEFAULT_PORT,
            help=f"port of the page; the three after it are used too (default {DEFAULT_PORT})",
        )
        command.add_argument("--folder", type=Path, help="where to keep data (default var/NAME)")
        command.add_argument(
            "--stand",
            action="append",
            help="simulated (the default), serial:/dev/ttyACM0 (with @BAUD where it is not 115200) "
            "or printed:/dev/ttyUSB0,MAPPING.json; again for each further one",
        )
        command.add_argument(
            "--public",
            default="",
            metavar="https://HOST",
            help="where other machines reach it, by a proxy with TLS on this one",
        )
        command.add_argument("--workers", type=int, default=1, help="web processes (default 1)")
        command.add_argument(
            "--database",
            default="",
            metavar="HOST:PORT",
            help="of a MariaDB or a cluster elsewhere, or 'here'; kept (docs/cluster.md)",
        )
        command.add_argument(
            "--reading",
            default="",
            metavar="HOST:PORT",
            help="of a copy of that database, which pages are read by, or 'none'; kept",
        )
        command.add_argument(
            "--zone",
            default="",
            metavar="Europe/Oslo",
            help="time zone of the bench, whose days these are; kept (first the machine's)",
        )
    deploy = commands.add_parser("deploy")
    deploy.add_argument("to", type=Path, help="a folder for what is written")
    deploy.add_argument("--public", required=True, metavar="https://HOST")
    deploy.add_argument("--certificate", type=Path, required=True, help="PEM, with its chain")
    deploy.add_argument("--key", type=Path, required=True, help="PEM")
    deploy.add_argument("--workers", type=int, default=2)
    deploy.add_argument("--port", type=int, default=DEFAULT_PORT)
    deploy.add_argument("--folder", type=Path, help="where to keep data (default var/start)")
    deploy.add_argument("--user", default="spindle", help="who it runs as (default spindle)")
    deploy.add_argument("--stand", action="append", help="again for each further one")
    check = commands.add_parser("check")
    check.add_argument("public", metavar="https://HOST")
    check.add_argument("--authority", type=Path, help="a certificate that signs its own")
    check.add_argument("--connect-to", default="", metavar="ADDRESS", help="instead of the name's")
    check.add_argument("--plain-port", type=int, default=80)
    stop = commands.add_parser("stop")
    stop.add_argument("--folder", type=Path)
    inbox = commands.add_parser("inbox")
    inbox.add_argument("paths", nargs="+", type=Path, help="files, or folders of them")
    inbox.add_argument("--folder", type=Path, help="of the installation (default: what runs)")
    pages = commands.add_parser("publish")
    pages.add_argument("--to", type=Path, required=True, help="an empty folder, or the one before")
    pages.add_argument("--pdf", action="store_true", help="each page as PDF too")
    pages.add_argument("--no-packs", action="store_true", help="without the data packs")
    pages.add_argument("--folder", type=Path, help="of the installation (default: what runs)")
    test = commands.add_parser("test")
    test.add_argument("only", nargs="*", help="names of steps; all when none is named")
    seed = commands.add_parser("seed")
    seed.add_argument("--size", choices=("small", "medium", "large"), default="large")
    seed.add_argument("--time", action="store_true", help="then time every answer; kept beside it")
    seed.add_argument("--folder", type=Path, help="where to keep it (default var/SIZE)")
    commands.add_parser("shots")
    commands.add_parser("plots")
    commands.add_parser("proxy")
    commands.add_parser("cluster")
    node = commands.add_parser("node-check")
    node.add_argument("--socket", required=True, help="of the node's MariaDB")
    node.add_argument("--user", default="node_check", help="may log in there; needs no other right")
    node.add_argument("--bind", default="127.0.0.1", help="address that the balancer asks at")
    node.add_argument("--port", type=int, default=9200)
    mutants = commands.add_parser("mutants", add_help=False)
    mutants.add_argument("rest", nargs=argparse.REMAINDER)
    backed = commands.add_parser("backup")
    backed.add_argument("to", type=Path, help="a folder; backups that lie there are thinned")
    backed.add_argument(
        "--daily", metavar="HH:MM", help="every day at this time, as long as it runs; or 'never'"
    )
    backed.add_argument("--folder", type=Path, help="of the installation (default: what runs)")
    backed.add_argument("--check", action="store_true", help="look at a backup instead")
    back = commands.add_parser("restore")
    back.add_argument("path", type=Path, help="a backup")
    back.add_argument("--folder", type=Path, required=True, help="an empty one, or a new one")
    fuzz = commands.add_parser("fuzz")
    fuzz.add_argument("--each", default="10000", help="files of each format (default 10,000)")
    fuzz.add_argument("--first", default="0", metavar="SEED", help="begin with another seed")
    fuzz.add_argument("--keep", default="", metavar="FOLDER", help="keep what readers stumble over")
    commands.add_parser("build")
    matrix = commands.add_parser("matrix")
    matrix.add_argument("--virtual", action="store_true", help="only what needs no real process")
    matrix.add_argument("--hours", type=float, default=8.0, help="simulated, for false trips")
    return parser
