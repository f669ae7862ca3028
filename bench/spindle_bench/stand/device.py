"""The simulated stand as a device: protocol in, samples out, and its own safety.

No sockets and no clock here: :meth:`SimulatedStand.handle` takes messages with the time they
arrived, :meth:`SimulatedStand.advance` moves on to a time. The stand guards itself: when an
armed stand hears nothing from its owner for 300 ms it cuts the throttle and says why.
"""

from __future__ import annotations

from dataclasses import dataclass, field

from spindle_bench.errors import BenchError
from spindle_bench.protocol import HEARTBEAT_LIMIT_S, VERSION, Message, is_number
from spindle_bench.stand import world
from spindle_bench.stand.misbehaviour import Misbehaviour
from spindle_bench.stand.physics import Physics
from spindle_bench.stand.sensors import CHANNEL_NAMES, FAULT_KINDS, RESOLUTION, UNITS, Sensors

HIGHEST_RATE_HZ = 1000.0
OWN_LIMITS = {
    "current_a": 80.0,
    "thrust_gf": 5000.0,
    "power_w": 2500.0,
    "speed_rpm": 60_000.0,
    "motor_temp_c": 125.0,
}
"""What its cells, shunt, guard and thermometer are made for."""

STALL_S = 0.10
LONG_STALL_S = 0.50
LONGEST_NAME = 80

_BARE = {
    "motor": "bench motor",
    "sample": "A",
    "size_code": "2306",
    "kv_rpm_per_v": 1900.0,
    "propeller": "bench propeller",
    "prop_diameter_in": 5.1,
    "prop_pitch_in": 4.2,
    "prop_blades": 3,
    "open_circuit_v": 16.0,
    "supply_resistance_ohm": 0.005,
    "trip_a": 55.0,
}


@dataclass(slots=True)
class SimulatedStand:
    """One stand.

    ``heartbeat_limit_s`` is how long an armed stand waits for its owner [s]; the protocol's 300 ms
    unless the machine it is simulated on is known to stand still for longer. ``hand_pct``: a
    transmitter that somebody plays, as long as nothing is armed.
    """

    seed: int = 1
    heartbeat_limit_s: float = HEARTBEAT_LIMIT_S
    rate_hz: float = 200.0
    armed: bool = False
    owner: int | None = None
    throttle_pct: float = 0.0
    hand_pct: float = 0.0
    time_s: float = 0.0
    last_cut: dict[str, object] | None = None
    _hand_of: int | None = None
    physics: Physics = field(init=False)
    sensors: Sensors = field(init=False)
    _now: float | None = None
    _heard: float = 0.0
    _advanced: float = 0.0
    _last_seq: dict[int, int] = field(default_factory=dict)
    _tare_gf: float = 0.0
    _zero_reading_gf: float = 0.0
    _events: list[Message] = field(default_factory=list)
    _misbehaviour: Misbehaviour = field(init=False)

    def __post_init__(self) -> None:
        self.physics = Physics(world.mounted_from(dict(_BARE)))
        self.sensors = Sensors(self.seed, thrust_zero_gf=14.0)
        self._misbehaviour = Misbehaviour(lambda kind: self.sensors.failing(kind, self.time_s))

    def hello(self) -> Message:
        """What the stand says of itself."""
        return {
            "type": "hello",
            "protocol": VERSION,
            "stand": "simulated stand",
            "simulated": True,
            "channels": [
                {"name": name, "unit": UNITS[name], "resolution": RESOLUTION[name]}
                for name in CHANNEL_NAMES
            ],
            "rate_hz": self.rate_hz,
            "highest_rate_hz": HIGHEST_RATE_HZ,
            "limits": dict(OWN_LIMITS),
            "heartbeat_ms": round(self.heartbeat_limit_s * 1000),
            "capabilities": ["mount", "faults", "hand"],
        }

    def handle(self, message: Message, client: int, now: float) -> list[Message]:
        """Answer one message of one client that arrived at ``now`` [s]."""
        kind = message["type"]
        if kind == "hello":
            if message.get("protocol") != VERSION:
                return [_refused(message, "version", f"This stand speaks {VERSION}.")]
            return [self.hello()]
        handler = _HANDLERS.get(kind)
        if handler is None:
            return [_refused(message, "unknown_type", f"{kind!r} is not a message.")]
        seq = message.get("seq")
        if not isinstance(seq, int) or seq <= self._last_seq.get(client, -1):
            return [_refused(message, "stale", "The sequence number is missing or not newer.")]
        self._last_seq[client] = seq
        if client == self.owner:
            self._heard = now
        try:
            return [handler(self, message, client, now)]
        except BenchError as error:
            return [_refused(message, error.code, error.message)]
        except (TypeError, ValueError, KeyError, OverflowError) as error:
            # Whatever a message says, the link stands and the sender hears why.
            return [_refused(message, "bad_value", f"This cannot be done: {error}.")]

    def disconnected(self, client: int) -> list[Message]:
        """A client is gone; an armed stand whose owner left cuts the throttle."""
        self._last_seq.pop(client, None)
        if client == self._hand_of:
            self.hand_pct = 0.0  # who played the transmitter is gone
        if client == self.owner and self.armed:
            return [
                self._cut("link_lost", "The controller disconnected while the stand was armed.")
            ]
        return []

    def advance(self, now: float) -> list[Message]:
        """Integrate up to ``now`` [s] and return events and samples since the last call."""
        out, self._events = self._events, []
        if self._now is None:
            self._now = now
        # A simulation shares its machine: after a stall of this process, commands that waited in
        # the socket are read before their sender is called silent. A real stand has no such stalls.
        stalled, paused_s = now - self._advanced > STALL_S, now - self._advanced
        self._advanced = now
        if self.armed and paused_s > max(LONG_STALL_S, self.heartbeat_limit_s):
            # It watched nothing meanwhile, and its own time stood still with it.
            out.append(
                self._cut("stand_stalled", f"The stand itself stood still {paused_s:.1f} s.")
            )
            self._now = max(self._now, now - STALL_S)
        if self.armed and not stalled and now - self._heard > self.heartbeat_limit_s:
            silence = round((now - self._heard) * 1000)
            out.append(
                self._cut("link_lost", f"No command for {silence} ms while armed; throttle cut.")
            )
        step = 1.0 / self.rate_hz
        times: list[float] = []
        rows: list[list[float | None]] = []
        while self._now + step <= now + 1e-9:
            self._now += step
            self.time_s += step
            self.physics.advance(step, self.applied_pct)
            row = self.sensors.read(self.physics, self.time_s, self.applied_pct, step)
            thrust = row[1]
            if thrust is not None:
                self._zero_reading_gf += 0.05 * (thrust - self._zero_reading_gf)
                row[1] = round(thrust - self._tare_gf, 6)
            times.append(round(self.time_s, 6))
            rows.append(row)
        if rows:
            samples: Message = {"type": "samples", "t_s": times, "rows": rows}
            faulty = bool(self.sensors.faults)
            out += self._misbehaviour.apply(samples, self.time_s) if faulty else [samples]
        return out

    @property
    def applied_pct(self) -> float:
        """The throttle at the ESC [%], whoever commands it."""
        return self.throttle_pct if self.armed else self.hand_pct

    @property
    def at_rest(self) -> bool:
        """Whether nothing is armed, commanded or turning."""
        return not self.armed and self.hand_pct == 0 and self.physics.omega == 0

    def _cut(self, code: str, message: str, by: str = "") -> Message:
        self.throttle_pct = 0.0
        self.armed = False
        self.owner = None
        self.last_cut = {"code": code, "message": message, "by": by, "t_s": round(self.time_s, 4)}
        return {"type": "event", **self.last_cut}

    def _need_owner(self, client: int) -> None:
        if not self.armed:
            raise BenchError("The stand is not armed.", code="not_armed")
        if client != self.owner:
            raise BenchError("Another controller holds the stand.", code="not_owner")

    def _on_rate(self, message: Message, client: int, now: float) -> Message:
        rate = message.get("rate_hz")
        if not is_number(rate) or not 1 <= rate <= HIGHEST_RATE_HZ:
            raise BenchError(f"A rate is 1 to {HIGHEST_RATE_HZ:g} Hz.", code="bad_value")
        if self.armed:
            raise BenchError("The rate cannot change while armed.", code="armed")
        self.rate_hz = float(rate)
        return _ack(message)

    def _on_mount(self, message: Message, client: int, now: float) -> Message:
        if self.armed or self.physics.speed_rpm > 60.0:
            raise BenchError("Nothing can be mounted while armed or turning.", code="armed")
        facts = message.get("facts")
        if not isinstance(facts, dict):
            raise BenchError("A mount message needs 'facts'.", code="bad_value")
        before, warm = self.physics.mounted.motor, self.physics.case_c
        self.physics = Physics(world.mounted_from(facts))
        if self.physics.mounted.motor == before:
            self.physics.warm_to(warm)
        self.sensors.imbalance = world.imbalance(str(facts["motor"]), str(facts["sample"]))
        return _ack(message)

    def _on_tare(self, message: Message, client: int, now: float) -> Message:
        if self.applied_pct > 0 or self.physics.speed_rpm > 60.0:
            raise BenchError("The stand can be tared only at rest.", code="turning")
        self._tare_gf = self._zero_reading_gf
        return {**_ack(message), "tare_gf": round(self._tare_gf, 3)}

    def _on_arm(self, message: Message, client: int, now: float) -> Message:
        if self.armed and client != self.owner:
            raise BenchError("Another controller holds the stand.", code="not_owner")
        if self.hand_pct > 0:
            raise BenchError("The transmitter is not at zero.", code="by_hand")
        if self.physics.tripped:
            self.physics.tripped = False
        self.armed, self.owner, self._heard = True, client, now
        return _ack(message)

    def _on_throttle(self, message: Message, client: int, now: float) -> Message:
        self._need_owner(client)
        pct = message.get("pct")
        if not is_number(pct) or not 0 <= pct <= 100:
            raise BenchError("A throttle is 0 to 100 %.", code="bad_value")
        self.throttle_pct = float(pct)
        return _ack(message)

    def _on_hand(self, message: Message, client: int, now: float) -> Message:
        """Somebody moves the transmitter: no controller, no heartbeat, and no stop reaches it."""
        pct = message.get("pct")
        if not is_number(pct) or not 0 <= pct <= 100:
            raise BenchError("A throttle is 0 to 100 %.", code="bad_value")
        if self.armed:
            raise BenchError("The stand is armed; the transmitter is unplugged.", code="armed")
        self.hand_pct, self._hand_of = float(pct), client
        return _ack(message)

    def _on_heartbeat(self, message: Message, client: int, now: float) -> Message:
        self._need_owner(client)
        return _ack(message)

    def _on_stop(self, message: Message, client: int, now: float) -> Message:
        """Stopping is for everybody: no ownership asked. An owner hears of another's stop."""
        foreign = self.armed and client != self.owner
        by = str(message.get("by") or "")[:LONGEST_NAME]
        if not self.armed and self.throttle_pct == 0:
            return _ack(message)  # there is nothing to cut, and the last cut is remembered
        event = self._cut("stopped", f"Stopped by {by or 'another controller'}.", by)
        if foreign:
            self._events.append(event)
        return _ack(message)

    def _on_status(self, message: Message, client: int, now: float) -> Message:
        return {
            "type": "status",
            "seq": message["seq"],
            "armed": self.armed,
            "throttle_pct": self.applied_pct,
            "speed_rpm": round(self.physics.speed_rpm, 1),
            "owner": client == self.owner,
            "t_s": round(self.time_s, 4),
            "last_cut": self.last_cut,
            "supply_tripped": self.physics.tripped,
        }

    def _on_fault(self, message: Message, client: int, now: float) -> Message:
        kind, seconds = message.get("kind"), message.get("seconds", 1.0)
        if kind not in FAULT_KINDS:
            raise BenchError(f"A fault is one of {', '.join(FAULT_KINDS)}.", code="bad_value")
        if not is_number(seconds) or not 0 < seconds <= 60:
            raise BenchError("A fault lasts 0 to 60 s.", code="bad_value")
        self.sensors.fail(str(kind), self.time_s, self.time_s + float(seconds))
        return _ack(message)


def _ack(message: Message) -> Message:
    return {"type": "ack", "seq": message["seq"]}


def _refused(message: Message, code: str, text: str) -> Message:
    return {"type": "refused", "seq": message.get("seq"), "code": code, "message": text}


_HANDLERS = {
    "rate": SimulatedStand._on_rate,
    "mount": SimulatedStand._on_mount,
    "tare": SimulatedStand._on_tare,
    "arm": SimulatedStand._on_arm,
    "throttle": SimulatedStand._on_throttle,
    "hand": SimulatedStand._on_hand,
    "heartbeat": SimulatedStand._on_heartbeat,
    "stop": SimulatedStand._on_stop,
    "disarm": SimulatedStand._on_stop,
    "status": SimulatedStand._on_status,
    "fault": SimulatedStand._on_fault,
}
