"""Packs of another bench, made of one of ours: other logs, another name, the same form."""

import json
from dataclasses import replace

from spindle_core.formats.pack.parts import parts_of
from spindle_core.formats.pack.reading import read_pack
from spindle_core.formats.pack.writing import pack_bytes
from spindle_core.formats.result_json import reduction_to_json
from spindle_core.reduction import reduce_trace
from spindle_server.publish.models import EditionPack
from spindle_server.publish.packs import make_waiting, pack_path
from spindle_server.publish.services import publish
from spindle_server.verdict.models import Verdict

from .verdict_steps import ready_verdict

THEIRS = "Lower Quay bench"


def own_pack():
    """The bytes of the newest pack that was published here."""
    make_waiting()
    return pack_path(EditionPack.objects.order_by("-pk")[0].digest).read_bytes()


def as_theirs(data, *, bench=THEIRS, scale=1.0, change=None, praise=1.0, **header):
    """The same pack as another bench would have made it.

    :param scale: what its load cell shows of a gram. :param change: does something to the index.
    :param praise: by what they multiply the thrust that their log gives when they state it.
    """
    pack = read_pack(data)
    index = {key: one for key, one in pack.index.items() if key not in ("format", "files")}
    index = json.loads(json.dumps(index))
    index["bench"] = {"name": bench, "address": "https://lower-quay.example/pages"}
    index["photos"] = []
    if change is not None:
        change(index)
    logs = {}
    for run in index["runs"]:
        log = pack.log(run)
        channels = dict(log.channels)
        if "thrust_gf" in channels:
            channels["thrust_gf"] = scale * channels["thrust_gf"]
        logs[run["number"]] = replace(log, channels=channels, header={**log.header, **header})
    results = {number: reduction_to_json(reduce_trace(log.trace())) for number, log in logs.items()}
    for result in results.values():
        if praise != 1.0:
            result["summary"]["max_thrust_gf"]["value"] *= praise
    return pack_bytes(
        index, parts_of(index, results, logs.__getitem__, verdict={}, verdict_text="As we say.\n")
    )


def keys_of(data):
    """The key of its motor and of its propeller."""
    index = read_pack(data).index
    return index["motors"][0]["key"], index["propellers"][0]["key"]


def packed(house):
    """Our own pack of a motor with two runs on sample A and one on B."""
    row = Verdict.objects.get(pk=ready_verdict(house)["id"])
    publish(actor=house.people["editor"], verdict=row, base=row.version, licence="CC BY 4.0")
    return own_pack()
